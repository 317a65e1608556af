package dev.fiesta.oracle;

import dev.fiesta.language.Assign;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Printer;
import java.math.BigDecimal;
import java.text.Collator;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * The specification as a program: clauses run row by row over plain objects, as slowly as may be. It shares the syntax trees
 * with the engine, and nothing else. A row is a map from names to {@code BigDecimal} (integers and decimals), {@code Double},
 * {@code String}, {@code LocalDate}, {@code LocalDateTime}, {@code Boolean} or null.
 */
final class Naive {
    /** By which texts are put in order before they are by code points; null where nothing is told. */
    private static @Nullable Collator alphabet;

    private final Function<String, List<Map<String, Object>>> others;
    private List<Map<String, Object>> rows;
    private @Nullable NaiveGroups groups;
    /** By how many keys totals were asked for; -1 where they were not. */
    private int by = -1;
    /** What was asked for under the name of a figure. */
    private final Map<String, String> given = new LinkedHashMap<>();
    /** The rows in which a figure is hidden, by its name. */
    private final Map<String, Set<Map<String, Object>>> hidden = new LinkedHashMap<>();

    private @Nullable List<String> shown;
    /** The partitions of each call in the column that is worked out. */
    private final Map<Expr.Call, List<List<Map<String, Object>>>> laidOut = new IdentityHashMap<>();

    private Naive(List<Map<String, Object>> rows, Function<String, List<Map<String, Object>>> others) {
        this.rows = rows;
        this.others = others;
    }

    /**
     * What comes of a question.
     *
     * @param totals the total rows in their order, each with the number of rows it stands behind
     * @param hidden the places of the rows in which a figure is hidden, by its name
     * @param shown the fields that are shown, or null where all are
     */
    record Answer(
            List<Map<String, Object>> rows,
            List<Total> totals,
            Map<String, Set<Integer>> hidden,
            @Nullable List<String> shown) {}

    /** Rows know their fields here; of none nobody knows them. */
    static final class Unanswered extends RuntimeException {
        private static final long serialVersionUID = 1L;
    }

    /** A total row. */
    record Total(int after, Map<String, Object> values) {}

    static List<Map<String, Object>> run(List<Map<String, Object>> rows, List<Clause> clauses) {
        return answer(rows, clauses, name -> List.of()).rows();
    }

    /** @param others the rows of other tables by name */
    static Answer answer(
            List<Map<String, Object>> rows, List<Clause> clauses, Function<String, List<Map<String, Object>>> others) {
        Naive naive = new Naive(copies(rows), others);
        clauses.forEach(naive::apply);
        List<Total> totals = naive.by < 0 ? List.of() : naive.totalled();
        return new Answer(naive.rows, totals, naive.places(), naive.shown);
    }

    /** From now on texts are put in order by an alphabet; by code points where it is null. */
    static void collate(@Nullable String locale) {
        alphabet = locale == null ? null : Collator.getInstance(Locale.forLanguageTag(locale));
        if (alphabet != null) {
            alphabet.setDecomposition(Collator.CANONICAL_DECOMPOSITION);
        }
    }

    private Map<String, Set<Integer>> places() {
        Map<String, Set<Integer>> places = new LinkedHashMap<>();
        hidden.forEach((field, rowsHidden) -> {
            for (int i = 0; i < rows.size(); i++) {
                if (rowsHidden.contains(rows.get(i))) {
                    places.computeIfAbsent(field, f -> new HashSet<>()).add(i);
                }
            }
        });
        return places;
    }

    private void hide(Clause.Hide hide) {
        List<Object> met = column(hide.condition());
        Set<String> names = new LinkedHashSet<>();
        hide.figures().forEach(f -> names.addAll(called(f.name())));
        for (String name : names) {
            Set<Map<String, Object>> cells =
                    hidden.computeIfAbsent(name, f -> Collections.newSetFromMap(new IdentityHashMap<>()));
            for (int i = 0; i < rows.size(); i++) {
                if (Boolean.TRUE.equals(met.get(i))) {
                    cells.add(rows.get(i));
                }
            }
        }
    }

    /** What a figure is called: what is asked for twice is one figure of two names. */
    private Set<String> called(String figure) {
        Set<String> names = new LinkedHashSet<>(Set.of(figure));
        given.entrySet().stream()
                .filter(g -> g.getValue().equals(given.get(figure)))
                .forEach(g -> names.add(g.getKey()));
        return names;
    }

    /** A hidden part of a total that stands alone, or alone has a value, could be worked out: the least of those shown goes too. */
    private void protect(List<Map<String, Object>> parts) {
        hidden.forEach((field, cells) -> {
            List<Map<String, Object>> gone =
                    parts.stream().filter(cells::contains).toList();
            boolean alone = gone.size() == 1
                    || gone.stream().filter(r -> r.get(field) != null).count() == 1;
            Map<String, Object> least = null;
            for (Map<String, Object> row : parts) {
                boolean candidate = !cells.contains(row) && row.get(field) != null;
                if (candidate && (least == null || NaiveRow.compare(row.get(field), least.get(field)) < 0)) {
                    least = row;
                }
            }
            if (alone && least != null) {
                cells.add(least);
            }
        });
    }

    /** The rows with those of equal first keys together, and the totals behind them. */
    private List<Total> totalled() {
        List<String> keys = groups.keys().subList(0, by);
        List<Total> totals = new ArrayList<>();
        List<Map<String, Object>> stood = new ArrayList<>();
        total(keys, 0, new LinkedHashMap<>(), List.copyOf(rows), stood, totals);
        rows = stood;
        return totals;
    }

    private void total(
            List<String> keys,
            int level,
            Map<String, Object> known,
            List<Map<String, Object>> part,
            List<Map<String, Object>> stood,
            List<Total> totals) {
        if (level < keys.size()) {
            Map<Object, List<Map<String, Object>>> parts = new LinkedHashMap<>();
            part.forEach(r -> parts.computeIfAbsent(r.get(keys.get(level)), k -> new ArrayList<>())
                    .add(r));
            parts.forEach((key, rowsOfKey) -> {
                Map<String, Object> more = new LinkedHashMap<>(known);
                more.put(keys.get(level), key);
                total(keys, level + 1, more, rowsOfKey, stood, totals);
            });
        } else {
            stood.addAll(part);
            protect(part);
        }
        totals.add(new Total(stood.size(), groups.merged(known, groups.behind(part))));
    }

    private static List<Map<String, Object>> copies(List<Map<String, Object>> rows) {
        List<Map<String, Object>> copies = new ArrayList<>();
        rows.forEach(r -> copies.add(new LinkedHashMap<>(r)));
        return copies;
    }

    private void apply(Clause clause) {
        step(clause);
        boolean later = clause instanceof Clause.Add
                || clause instanceof Clause.Fill
                || clause instanceof Clause.Match
                || clause instanceof Clause.Rename
                || clause instanceof Clause.Drop;
        if (groups != null && later) {
            groups.then(clause);
        }
    }

    private void step(Clause clause) {
        if (clause instanceof Clause.Only only) {
            List<Object> met = column(only.condition());
            List<Map<String, Object>> kept = new ArrayList<>();
            for (int i = 0; i < rows.size(); i++) {
                if (Boolean.TRUE.equals(met.get(i))) {
                    kept.add(rows.get(i));
                }
            }
            rows = kept;
        } else if (clause instanceof Clause.Add add) {
            for (Assign field : add.fields()) {
                List<Object> values = column(field.value());
                for (int i = 0; i < rows.size(); i++) {
                    rows.get(i).put(field.name(), values.get(i));
                }
            }
        } else if (clause instanceof Clause.Per per) {
            groups = new NaiveGroups(per, rows);
            given.clear();
            for (Clause.Figure figure : per.figures()) {
                if (figure instanceof Clause.Single single) {
                    given.put(
                            single.figure().name(),
                            Printer.print(single.figure().value()));
                }
            }
            rows = groups.rows();
        } else if (clause instanceof Clause.Sort sort) {
            rows = sorted(rows, sort.keys());
        } else if (clause instanceof Clause.First first) {
            first(first);
        } else if (clause instanceof Clause.Distinct distinct) {
            Map<List<Object>, Map<String, Object>> met = new LinkedHashMap<>();
            for (Map<String, Object> row : rows) {
                List<Object> key = new ArrayList<>();
                distinct.fields().forEach(f -> key.add(row.get(f.name())));
                met.putIfAbsent(distinct.fields().isEmpty() ? new ArrayList<>(row.values()) : key, row);
            }
            rows = new ArrayList<>(met.values());
            groups = null;
        } else if (clause instanceof Clause.Fill fill) {
            fill(fill);
        } else if (clause instanceof Clause.Turn turn) {
            turn(turn);
        } else if (clause instanceof Clause.Rename rename) {
            rename(rename);
        } else if (clause instanceof Clause.Drop drop) {
            rows.forEach(r -> drop.fields().forEach(f -> r.remove(f.name())));
        } else if (clause instanceof Clause.Gapless gapless) {
            gapless(gapless);
        } else if (clause instanceof Clause.Hide hide) {
            hide(hide);
        } else if (clause instanceof Clause.Columns columns) {
            shown = columns.columns().stream().map(c -> c.field().name().name()).toList();
        } else if (clause instanceof Clause.Totals totals) {
            by = totals.by().size();
        } else if (clause instanceof Clause.Match match) {
            match(match, others.apply(match.table().name()));
        } else if (clause instanceof Clause.CheckRows || clause instanceof Clause.CheckUnique) {
            return; // what holds changes nothing
        } else if (clause instanceof Clause.Append append) {
            append.tables().forEach(t -> append(others.apply(t.name())));
        } else {
            throw new UnsupportedOperationException(clause.toString());
        }
    }

    private void fill(Clause.Fill fill) {
        List<Map<String, Object>> before = copies(rows);
        for (int i = 0; i < rows.size(); i++) {
            for (dev.fiesta.language.Ref field : fill.fields()) {
                if (rows.get(i).get(field.name()) == null) {
                    rows.get(i).put(field.name(), known(fill, field.name(), before, before.get(i)));
                }
            }
        }
    }

    /** The nearest value that is known, walking away from a row through its partition. */
    private static @Nullable Object known(
            Clause.Fill fill, String field, List<Map<String, Object>> all, Map<String, Object> row) {
        List<Map<String, Object>> part = new ArrayList<>();
        for (Map<String, Object> other : all) {
            if (fill.within().stream().allMatch(k -> compare(eval(k, row), eval(k, other), false) == 0)) {
                part.add(other);
            }
        }
        part = sorted(part, fill.along());
        int at = 0;
        while (part.get(at) != row) {
            at++;
        }
        int step = fill.fromAfter() ? 1 : -1;
        Object most = fill.atMost() instanceof Expr.Literal literal ? literal.value() : null;
        for (int i = at + step; i >= 0 && i < part.size(); i += step) {
            if (most != null && Math.abs(i - at) > (Long) most) {
                return null;
            }
            Object value = part.get(i).get(field);
            if (value != null) {
                return fill.atMost() instanceof Expr.Period span && !isNear(fill, span, part.get(i), row)
                        ? null
                        : value;
            }
        }
        return null;
    }

    private static boolean isNear(
            Clause.Fill fill, Expr.Period span, Map<String, Object> known, Map<String, Object> row) {
        Object a = eval(fill.along().get(0).key(), known);
        Object b = eval(fill.along().get(0).key(), row);
        if (a == null || b == null) {
            return false;
        }
        boolean ahead = NaiveRow.compare(a, b) > 0;
        Expr reach = new Expr.Binary(
                ahead ? dev.fiesta.language.Op.MINUS : dev.fiesta.language.Op.PLUS,
                fill.along().get(0).key(),
                span,
                fill.at());
        Object limit = eval(reach, known);
        return ahead ? NaiveRow.compare(b, limit) >= 0 : NaiveRow.compare(b, limit) <= 0;
    }

    /** The value of an expression for each row; calls that look at many rows see them all. */
    private List<Object> column(Expr expr) {
        laidOut.clear();
        List<Object> values = new ArrayList<>();
        for (Map<String, Object> row : rows) {
            values.add(new NaiveRow(row, call -> walk(call, row)).eval(expr));
        }
        return values;
    }

    static Object eval(Expr expr, Map<String, Object> row) {
        return new NaiveRow(row, call -> {
                    throw new UnsupportedOperationException(call.name());
                })
                .eval(expr);
    }

    static List<Map<String, Object>> sorted(List<Map<String, Object>> rows, List<Expr.SortKey> keys) {
        Comparator<Map<String, Object>> order = (a, b) -> 0;
        for (Expr.SortKey key : keys) {
            order = order.thenComparing((a, b) -> compare(eval(key.key(), a), eval(key.key(), b), key.descending()));
        }
        List<Map<String, Object>> sorted = new ArrayList<>(rows);
        sorted.sort(order);
        return sorted;
    }

    /** Missing last, either way. */
    static int compare(@Nullable Object a, @Nullable Object b, boolean descending) {
        if (a == null || b == null) {
            return a == null ? (b == null ? 0 : 1) : -1;
        }
        int sign = a instanceof String left && b instanceof String right && alphabet != null
                ? alphabet.compare(left, right)
                : 0;
        sign = sign != 0 ? sign : NaiveRow.compare(a, b);
        return descending ? -sign : sign;
    }

    /** The rows with the same keys, in the order of the call; laid out once for all rows of a column. */
    private List<Map<String, Object>> partition(Expr.Call call, Map<String, Object> row) {
        List<Expr> within =
                call.modifiers().within() == null ? List.of() : call.modifiers().within();
        List<List<Map<String, Object>>> known = laidOut.computeIfAbsent(call, c -> new ArrayList<>());
        for (List<Map<String, Object>> part : known) {
            if (isSame(within, row, part.get(0))) {
                return new ArrayList<>(part);
            }
        }
        List<Map<String, Object>> part = new ArrayList<>(rows);
        part.removeIf(other -> !isSame(within, row, other));
        known.add(sorted(part, call.modifiers().along()));
        return partition(call, row);
    }

    private static boolean isSame(List<Expr> keys, Map<String, Object> row, Map<String, Object> other) {
        return keys.stream().allMatch(k -> compare(eval(k, row), eval(k, other), false) == 0);
    }

    private @Nullable Object walk(Expr.Call call, Map<String, Object> row) {
        List<Map<String, Object>> part = partition(call, row);
        Expr only = call.modifiers().only();
        boolean walking = NaiveWalks.NAMES.contains(call.name());
        if (walking && only != null) {
            part.removeIf(r -> !Boolean.TRUE.equals(eval(only, r)));
        }
        int at = -1;
        for (int i = 0; i < part.size(); i++) {
            at = part.get(i) == row ? i : at;
        }
        if (walking) {
            return at < 0 ? null : NaiveWalks.value(call, part, at, Naive::eval);
        }
        if (call.name().equals("share") && call.modifiers().frame() == null) {
            if (only != null && !Boolean.TRUE.equals(eval(only, row))) {
                return null; // a row that is not among those summed has no part of them
            }
            return NaiveRow.divide(eval(call.args().get(0), row), NaiveFigures.unrounded(values(call, part, only)));
        }
        Expr.Frame frame = call.modifiers().frame();
        int from = 0;
        int to = part.size();
        boolean inside = true;
        if (frame != null) {
            long first = frame.from() == Expr.Frame.START
                    ? 0
                    : frame.from() == Expr.Frame.END ? to : (long) at + frame.from();
            long behind =
                    frame.to() == Expr.Frame.END ? to : frame.to() == Expr.Frame.START ? 0 : (long) at + frame.to() + 1;
            inside = first >= 0 && behind <= to;
            from = (int) Math.max(0, Math.min(first, to));
            to = (int) Math.max(from, Math.min(behind, to));
        }
        List<Map<String, Object>> framed = part.subList(from, to);
        if (frame != null && frame.span() instanceof Expr.Period span) {
            framed = NaiveWalks.within(call, span, frame.forward(), part, row);
            inside = NaiveWalks.isInside(call, span, frame.forward(), part, row);
        }
        List<List<Object>> values = values(call, framed, only);
        boolean shown = frame == null
                || ((!frame.full() || inside)
                        && values.stream()
                                        .filter(v -> v.isEmpty() || v.get(0) != null)
                                        .count()
                                >= frame.atLeast());
        if (shown && call.name().equals("share")) {
            Object own = only == null || Boolean.TRUE.equals(eval(only, row))
                    ? eval(call.args().get(0), row)
                    : null;
            return NaiveRow.divide(own, NaiveFigures.unrounded(values));
        }
        return shown ? NaiveFigures.figure(call.name(), values) : null;
    }

    static List<List<Object>> values(Expr.Call call, List<Map<String, Object>> part, @Nullable Expr only) {
        List<List<Object>> values = new ArrayList<>();
        for (Map<String, Object> row : part) {
            if (only == null || Boolean.TRUE.equals(eval(only, row))) {
                List<Object> args = new ArrayList<>();
                call.args().forEach(a -> args.add(eval(a, row)));
                values.add(args);
            }
        }
        return values;
    }

    /** Other names for the fields of a row, which stay where they are. */
    static Map<String, Object> renamed(Clause.Rename rename, Map<String, Object> row) {
        Map<String, Object> renamed = new LinkedHashMap<>();
        row.forEach((name, value) -> renamed.put(
                rename.names().stream()
                        .filter(p -> p.field().name().equals(name))
                        .map(Clause.Brought::as)
                        .findFirst()
                        .orElse(name),
                value));
        return renamed;
    }

    private void rename(Clause.Rename rename) {
        for (Map<String, Object> row : rows) {
            Map<String, Object> renamed = renamed(rename, row);
            row.clear();
            row.putAll(renamed);
        }
    }

    private void turn(Clause.Turn turn) {
        List<String> names = turn.fields().stream().map(f -> f.name()).toList();
        List<Map<String, Object>> turned = new ArrayList<>();
        for (Map<String, Object> row : rows) {
            for (String name : names) {
                Map<String, Object> one = new LinkedHashMap<>(row);
                one.keySet().removeAll(names);
                one.put(turn.name().name(), name);
                one.put(turn.value().name(), row.get(name));
                turned.add(one);
            }
        }
        rows = turned;
        groups = null;
    }

    private void first(Clause.First first) {
        int count = ((BigDecimal) eval(first.count(), Map.of())).intValue();
        if (first.within().isEmpty() && first.along().isEmpty()) {
            rows = new ArrayList<>(rows.subList(0, Math.min(count, rows.size())));
            return;
        }
        TreeMap<List<Object>, List<Map<String, Object>>> parts = new TreeMap<>(NaiveGroups::compareKeys);
        for (Map<String, Object> row : rows) {
            List<Object> key = new ArrayList<>();
            first.within().forEach(k -> key.add(eval(k, row)));
            parts.computeIfAbsent(key, k -> new ArrayList<>()).add(row);
        }
        List<Map<String, Object>> kept = new ArrayList<>();
        parts.forEach((key, members) -> {
            List<Map<String, Object>> order = sorted(members, first.along());
            int most = Math.min(count, order.size());
            kept.addAll(order.subList(0, most));
            if (first.rest() != null && most < order.size()) {
                kept.add(rest(first, key, order.subList(most, order.size())));
            }
        });
        if (first.along().isEmpty()) {
            rows.removeIf(r -> kept.stream().noneMatch(k -> k == r)); // rows stay where they are
        } else {
            rows = kept;
        }
    }

    private Map<String, Object> rest(Clause.First first, List<Object> key, List<Map<String, Object>> others) {
        Map<String, Object> known = new LinkedHashMap<>();
        for (int i = 0; i < key.size(); i++) {
            known.put(((Expr.Name) first.within().get(i)).name(), key.get(i));
        }
        List<Map<String, Object>> members = groups.behind(others);
        Map<String, Object> row = groups.merged(known, members);
        String label = groups.keys().stream()
                .filter(k -> !known.containsKey(k))
                .findFirst()
                .orElseThrow();
        row.put(label, first.rest());
        groups.stand(row, members);
        return row;
    }

    private void gapless(Clause.Gapless gapless) {
        String field = gapless.field().name();
        List<String> within = gapless.within() == null
                ? groups.keys().stream().filter(k -> !k.equals(field)).toList()
                : gapless.within().stream().map(f -> f.name()).toList();
        TreeMap<List<Object>, List<Map<String, Object>>> parts = new TreeMap<>(NaiveGroups::compareKeys);
        LocalDate least = null;
        LocalDate greatest = null;
        for (Map<String, Object> row : rows) {
            List<Object> key = new ArrayList<>();
            within.forEach(k -> key.add(row.get(k)));
            parts.computeIfAbsent(key, k -> new ArrayList<>()).add(row);
            LocalDate day = (LocalDate) row.get(field);
            least = day != null && (least == null || day.isBefore(least)) ? day : least;
            greatest = day != null && (greatest == null || day.isAfter(greatest)) ? day : greatest;
        }
        List<Map<String, Object>> whole = new ArrayList<>();
        for (Map.Entry<List<Object>, List<Map<String, Object>>> part : parts.entrySet()) {
            List<Map<String, Object>> members = part.getValue();
            for (LocalDate day = least; day != null && !day.isAfter(greatest); day = day.plusWeeks(1)) {
                LocalDate wanted = day;
                if (members.stream().noneMatch(r -> wanted.equals(r.get(field)))) {
                    members.add(gap(gapless, within, part.getKey(), day));
                }
            }
            members.sort((a, b) -> compare(a.get(field), b.get(field), false));
            whole.addAll(members);
        }
        rows = whole;
        groups.then(gapless);
    }

    private Map<String, Object> gap(Clause.Gapless gapless, List<String> within, List<Object> key, LocalDate day) {
        Map<String, Object> row = new LinkedHashMap<>();
        rows.get(0).keySet().forEach(name -> row.put(name, null));
        if (gapless.with() != null) {
            groups.additive().stream().filter(row::containsKey).forEach(n -> row.put(n, BigDecimal.ZERO));
        }
        for (int i = 0; i < within.size(); i++) {
            row.put(within.get(i), key.get(i));
        }
        row.put(gapless.field().name(), day);
        return row;
    }

    /**
     * Looks fields up in another table.
     *
     * @param theirs its rows
     */
    private void match(Clause.Match match, List<Map<String, Object>> theirs) {
        List<Map<String, Object>> found = new ArrayList<>();
        Set<Map<String, Object>> met = Collections.newSetFromMap(new IdentityHashMap<>());
        List<String> fields =
                rows.isEmpty() ? List.of() : List.copyOf(rows.get(0).keySet());
        for (Map<String, Object> row : rows) {
            List<Map<String, Object>> partners = theirs.stream()
                    .filter(t -> match.keys().stream().allMatch(k -> {
                        Object ours = row.get(k.ours().name());
                        return ours != null
                                && t.get(k.theirs().name()) != null
                                && NaiveRow.compare(ours, t.get(k.theirs().name())) == 0;
                    }))
                    .filter(t -> match.latest() == null || isBefore(match.latest(), t, row))
                    .toList();
            if (match.latest() != null && !partners.isEmpty()) {
                String since = match.latest().theirs().name();
                partners = List.of(Collections.max(partners, (a, b) -> NaiveRow.compare(a.get(since), b.get(since))));
            }
            met.addAll(partners);
            boolean kept = switch (match.unmatched()) {
                case MATCHED_ONLY -> !partners.isEmpty();
                case UNMATCHED_ONLY -> partners.isEmpty();
                default -> true;
            };
            int copies = !kept ? 0 : match.each() ? Math.max(1, partners.size()) : 1;
            for (int i = 0; i < copies; i++) {
                Map<String, Object> one = match.each() ? new LinkedHashMap<>(row) : row;
                for (Clause.Brought brought : match.bring()) {
                    one.put(
                            brought.as(),
                            partners.isEmpty()
                                    ? null
                                    : partners.get(i).get(brought.field().name()));
                }
                if (groups != null && one != row) {
                    groups.stand(one, groups.behind(List.of(row)));
                }
                found.add(one);
            }
        }
        if (match.unmatched() == Clause.Unmatched.ALSO_UNMATCHED) {
            if (rows.isEmpty() || groups != null) {
                throw new Unanswered();
            }
            theirs.stream().filter(t -> !met.contains(t)).forEach(t -> found.add(theirsOnly(match, fields, t)));
        }
        rows = found;
    }

    private static Map<String, Object> theirsOnly(Clause.Match match, List<String> fields, Map<String, Object> theirs) {
        Map<String, Object> row = new LinkedHashMap<>();
        fields.forEach(f -> row.put(f, null));
        match.keys().forEach(k -> row.put(k.ours().name(), theirs.get(k.theirs().name())));
        match.bring().forEach(b -> row.put(b.as(), theirs.get(b.field().name())));
        return row;
    }

    private static boolean isBefore(Clause.Latest latest, Map<String, Object> theirs, Map<String, Object> ours) {
        Object since = theirs.get(latest.theirs().name());
        Object day = ours.get(latest.ours().name());
        return since != null && day != null && NaiveRow.compare(since, day) <= 0;
    }

    private void append(List<Map<String, Object>> theirs) {
        if (rows.isEmpty()) {
            throw new Unanswered();
        }
        List<String> ours = List.copyOf(rows.get(0).keySet());
        List<String> their =
                theirs.isEmpty() ? List.of() : List.copyOf(theirs.get(0).keySet());
        for (Map<String, Object> row : rows) {
            their.forEach(n -> row.putIfAbsent(n, null));
        }
        for (Map<String, Object> row : theirs) {
            Map<String, Object> one = new LinkedHashMap<>();
            ours.forEach(n -> one.put(n, row.get(n)));
            their.forEach(n -> one.put(n, row.get(n)));
            rows.add(one);
        }
        groups = null;
    }
}
