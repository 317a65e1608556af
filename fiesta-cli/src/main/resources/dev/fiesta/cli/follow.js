(function () {
  "use strict";
  // Put into a page that follows its brief: waits for the next run, and comes back where it stood.
  var version = "@version@";
  var store = "fiesta" + location.pathname;

  function tables() {
    return Array.prototype.slice.call(document.querySelectorAll("figure.table"));
  }
  function rows(figure) {
    return Array.prototype.filter.call(figure.querySelectorAll("tbody > tr"), function (row) {
      return !row.classList.contains("behind") && !row.closest(".behind");
    });
  }
  function said(cell) {
    var copy = cell.cloneNode(true);
    Array.prototype.forEach.call(copy.querySelectorAll("button, .bar, .signs, sup"), function (part) { part.remove(); });
    return copy.textContent.trim();
  }
  // What tells a row: its cells that are no figures; the second of two alike has a number.
  function named(figure) {
    var met = {};
    return rows(figure).map(function (row) {
      var key = Array.prototype.filter.call(row.cells, function (c) { return !c.classList.contains("right"); }).map(said).join("\u0001");
      met[key] = (met[key] || 0) + 1;
      return { key: key + "\u0001" + met[key], row: row };
    });
  }
  function figures() {
    var all = {};
    tables().forEach(function (figure) {
      var list = named(figure);
      if (list.length > 2000) { return; }
      var heads = Array.prototype.map.call(figure.querySelectorAll("thead th"), function (h) { return h.textContent.trim(); });
      all[figure.id] = { heads: heads, rows: {} };
      list.forEach(function (one) {
        all[figure.id].rows[one.key] = Array.prototype.map.call(one.row.cells, function (c) { return c.classList.contains("right") ? said(c) : null; });
      });
    });
    Array.prototype.forEach.call(document.querySelectorAll("dl.facts > div"), function (fact, i) {
      all["fact" + i] = { heads: [], rows: { one: [fact.lastElementChild.textContent.trim()] } };
    });
    return all;
  }
  function looks() {
    return tables().map(function (figure) {
      var wide = figure.querySelector(".wide");
      var filter = figure.querySelector("input[type=search]");
      return {
        id: figure.id,
        sorted: Array.prototype.map.call(figure.querySelectorAll("thead th"), function (h) { return h.getAttribute("aria-sort"); }),
        filter: filter ? filter.value : "",
        folded: Array.prototype.filter.call(figure.querySelectorAll("button.fold"), function (b) { return b.getAttribute("aria-expanded") === "false"; })
          .map(function (b) { return b.getAttribute("aria-label"); }),
        x: wide.scrollLeft, y: wide.scrollTop
      };
    });
  }
  function remember() {
    try {
      sessionStorage.setItem(store, JSON.stringify({ x: scrollX, y: scrollY, looks: looks(), figures: figures() }));
    } catch (tooMuch) {
      sessionStorage.removeItem(store);
    }
  }
  function comeBack(state) {
    state.looks.forEach(function (look) {
      var figure = document.getElementById(look.id);
      if (!figure) { return; }
      look.sorted.forEach(function (wanted, column) {
        var head = figure.querySelectorAll("thead th")[column];
        var button = head && head.querySelector("button");
        for (var i = 0; button && wanted && i < 3 && head.getAttribute("aria-sort") !== wanted && wanted !== "none"; i++) { button.click(); }
      });
      var filter = figure.querySelector("input[type=search]");
      if (filter && look.filter) { filter.value = look.filter; filter.dispatchEvent(new Event("input")); }
      Array.prototype.forEach.call(figure.querySelectorAll("button.fold"), function (button) {
        if (look.folded.indexOf(button.getAttribute("aria-label")) >= 0) { button.click(); }
      });
      figure.querySelector(".wide").scrollTo(look.x, look.y);
    });
    scrollTo(state.x, state.y);
  }
  function mark(cell, before) {
    cell.classList.add("moved");
    cell.title = before === undefined || before === null ? "+" : "\u2190 " + before;
  }
  function marks(before) {
    tables().forEach(function (figure) {
      var old = before[figure.id];
      if (!old) { return; }
      var heads = Array.prototype.map.call(figure.querySelectorAll("thead th"), function (h) { return h.textContent.trim(); });
      named(figure).forEach(function (one) {
        var values = old.rows[one.key];
        Array.prototype.forEach.call(one.row.cells, function (cell, column) {
          var was = old.heads.indexOf(heads[column]);
          if (!cell.classList.contains("right") || was < 0) { return; }
          if (!values) { mark(cell); } else if (values[was] !== null && values[was] !== said(cell)) { mark(cell, values[was]); }
        });
      });
    });
    Array.prototype.forEach.call(document.querySelectorAll("dl.facts > div"), function (fact, i) {
      var old = before["fact" + i];
      if (old && old.rows.one[0] !== fact.lastElementChild.textContent.trim()) { mark(fact.lastElementChild, old.rows.one[0]); }
    });
  }
  function problem(text) {
    var banner = document.getElementById("problem");
    if (!text) { if (banner) { banner.remove(); } return; }
    if (!banner) {
      banner = document.createElement("pre");
      banner.id = "problem";
      banner.setAttribute("role", "alert");
      document.body.insertBefore(banner, document.body.firstChild);
    }
    banner.textContent = text;
  }
  function wait(known) {
    fetch("state?known=" + encodeURIComponent(known), { cache: "no-store" }).then(function (answer) {
      if (!answer.ok) { throw new Error(answer.status); }
      return answer.json();
    }).then(function (state) {
      document.documentElement.classList.remove("alone");
      if (state.version !== version) { remember(); location.reload(); return; }
      problem(state.problem);
      wait(state.known);
    }).catch(function () {
      document.documentElement.classList.add("alone");
      setTimeout(function () { wait(""); }, 2000);
    });
  }
  var state = null;
  try { state = JSON.parse(sessionStorage.getItem(store)); } catch (none) { state = null; }
  if (state) { sessionStorage.removeItem(store); marks(state.figures); comeBack(state); }
  wait("");
})();
