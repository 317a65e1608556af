package dev.fiesta.report;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import java.io.File;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The page in a real browser, where there is one on the machine: it sorts, filters, folds, opens records, and runs no text. */
class PageInBrowserTest {
    private static final String BRIEF = """
            brief 'Page'
            input sales from 'sales.csv'
            table t from sales
              per site, item give takings = sum(amount), n = count()
              totals by site
            report
              table t 'Takings'
              chart bars t x item y takings
            """;

    @TempDir
    Path folder;

    private Path browser;

    @BeforeEach
    void data() throws IOException {
        browser = List.of("chromium", "chromium-browser").stream()
                .flatMap(name -> Pattern.compile(File.pathSeparator)
                        .splitAsStream(System.getenv("PATH"))
                        .map(p -> Path.of(p, name)))
                .filter(Files::isExecutable)
                .findFirst()
                .orElse(null);
        assumeTrue(browser != null, "no browser on this machine");
        Files.writeString(folder.resolve("sales.csv"), """
                site,item,amount
                Quay,b,10
                Quay,a,9
                Quay,c,100
                Quay,"<img src=x onerror=""document.title='run'"">",1
                Meadow,a,5
                Meadow,d,70
                Meadow,e,
                Meadow,f,2
                Meadow,g,3
                Meadow,g,30
                """);
    }

    private String told(String script) throws IOException, InterruptedException {
        return told(BRIEF, 2, script);
    }

    /** What a script says after it has worked on the page. */
    private String told(String brief, int behind, String script) throws IOException, InterruptedException {
        try (Fiesta fiesta = Fiesta.open()) {
            Report.of(Brief.of("p.brief", brief, folder), fiesta)
                    .withBehind(behind)
                    .writeTo(folder, Format.HTML);
        }
        Path page = folder.resolve("driven.html");
        String html = Files.readString(folder.resolve("report.html"));
        String driver = "<script>var said=[];" + script
                + ";document.body.innerHTML='';var p=document.createElement('pre');p.id='said';p.textContent=said.join('|');"
                + "document.body.appendChild(p);</script></body>";
        Files.writeString(page, html.replace("</body>", driver));
        Process process = new ProcessBuilder(
                        browser.toString(),
                        "--headless",
                        "--no-sandbox",
                        "--disable-gpu",
                        "--user-data-dir=" + folder.resolve("profile"),
                        "--dump-dom",
                        page.toUri().toString())
                .redirectError(ProcessBuilder.Redirect.DISCARD)
                .start();
        String dom = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor(60, TimeUnit.SECONDS)).isTrue();
        Matcher said =
                Pattern.compile("<pre id=\"said\">(.*?)</pre>", Pattern.DOTALL).matcher(dom);
        assertThat(said.find()).as(dom).isTrue();
        return said.group(1);
    }

    private static final String ROWS =
            "function rows(){return Array.from(document.querySelectorAll('tbody > tr:not(.behind)')).filter(function(r){"
                    + "return !r.hidden && r.closest('figure.table') && !r.closest('.behind')}).map(function(r){"
                    + "return r.cells[1].textContent+':'+r.cells[2].textContent})}";

    @Test
    void columnsSortInsideTheirGroups() throws IOException, InterruptedException {
        String told = told(ROWS + "var b=document.querySelectorAll('th button');"
                + "b[2].click();said.push(rows().join(' '));b[2].click();said.push(rows().join(' '));"
                + "said.push(b[2].parentNode.getAttribute('aria-sort'));b[2].click();said.push(rows()[0])");
        assertThat(told.split("\\|"))
                .containsExactly(
                        "f:2 a:5 g:33 d:70 e:– Total:110 &lt;img src=x onerror=\"document.title='run'\"&gt;:1 a:9 b:10 c:100 Total:120 :230",
                        "d:70 g:33 a:5 f:2 e:– Total:110 c:100 b:10 a:9 &lt;img src=x onerror=\"document.title='run'\"&gt;:1 Total:120 :230",
                        "descending",
                        "a:5");
    }

    @Test
    void rowsAreFilteredAndGroupsFold() throws IOException, InterruptedException {
        String told = told(ROWS + "var i=document.querySelector('input[type=search]');i.value='meadow';"
                + "i.dispatchEvent(new Event('input'));said.push(rows().join(' '));"
                + "said.push(document.querySelector('[role=status]').textContent);"
                + "i.value='';i.dispatchEvent(new Event('input'));document.querySelector('.fold').click();"
                + "said.push(rows().length);said.push(document.querySelector('.fold').getAttribute('aria-expanded'));"
                + "document.querySelector('.foldall').click();said.push(rows().join(' '))");
        assertThat(told.split("\\|"))
                .containsExactly(
                        "a:5 d:70 e:– f:2 g:33",
                        "5 of 9 rows; totals are left out",
                        "7",
                        "false",
                        "Total:110 Total:120 :230");
    }

    @Test
    void rowsOfALongTableComeAsTheyAreAskedFor() throws IOException, InterruptedException {
        StringBuilder many = new StringBuilder("site,item,amount\n");
        for (int i = 0; i < 5_000; i++) {
            many.append("S")
                    .append(i / 2_500)
                    .append(",i")
                    .append(i)
                    .append(',')
                    .append(i)
                    .append('\n');
        }
        Files.writeString(folder.resolve("sales.csv"), many);
        String told = told(
                BRIEF.replace("'Takings'", "'Takings' rows 5000").replace("  chart bars t x item y takings\n", ""),
                1,
                "function seen(){return Array.from(document.querySelectorAll('tbody > tr:not(.behind)')).filter(function(r){"
                        + "return r.closest('figure.table') && !r.closest('.behind') && r.getClientRects().length}).length}"
                        + "function tell(){said.push(seen()+' '+document.querySelector('p.note.shown').textContent.trim())}"
                        + "tell();document.querySelectorAll('th button')[2].click();"
                        + "said.push(document.querySelectorAll('tbody > tr')[0].cells[1].textContent);tell();"
                        + "var i=document.querySelector('input[type=search]');i.value='i49';i.dispatchEvent(new Event('input'));"
                        + "said.push(seen());said.push(document.querySelector('p.note.shown').hidden);"
                        + "i.value='';i.dispatchEvent(new Event('input'));tell();"
                        + "document.querySelector('.foldall').click();said.push(seen());document.querySelector('.foldall').click();"
                        + "window.dispatchEvent(new Event('beforeprint'));said.push(document.querySelectorAll('tbody > tr').length);" // with the records behind them
                        + "window.dispatchEvent(new Event('afterprint'));said.push(document.querySelectorAll('tbody > tr').length);"
                        + "document.querySelector('p.note.shown button').click();said.push(seen())");
        assertThat(told.split("\\|"))
                .containsExactly(
                        "2000 Rows 1 to 2,000 of 5,003 Show all rows",
                        "i0",
                        "2000 Rows 1 to 2,000 of 5,003 Show all rows",
                        "111",
                        "true",
                        "2000 Rows 1 to 2,000 of 5,003 Show all rows",
                        "3",
                        "6000",
                        "15003",
                        "5003");
    }

    @Test
    void everythingIsReachedByKeyboardAndHasAName() throws IOException, InterruptedException {
        String told = told(
                BRIEF.replace("report\n", "report\n  heading 'First'\n  heading 'Second'\n"),
                0,
                "var all=Array.from(document.querySelectorAll('a[href],button,input,summary,select,[tabindex]'));"
                        + "all.forEach(function(e){e.focus();said.push((document.activeElement===e?'':'not reached: ')+e.localName+' '"
                        + "+(e.getAttribute('aria-label')||e.textContent.trim()||'no name'))});"
                        + "said.push('pictures '+Array.from(document.querySelectorAll('svg[role=img]')).filter(function(s){"
                        + "return !s.getAttribute('aria-label')}).length);"
                        + "said.push('heads '+document.querySelectorAll('th:not([scope])').length);"
                        + "said.push('order '+document.querySelectorAll('[tabindex]:not([tabindex=\"0\"])').length);"
                        + "said.push(Array.from(document.querySelectorAll('h1,h2')).map(function(h){return h.localName+' '+h.textContent}).join(', '));"
                        + "said.push(Array.from(document.querySelectorAll('a[href^=\"#\"]')).every(function(a){"
                        + "return document.getElementById(a.getAttribute('href').slice(1))}));"
                        + "said.push(document.documentElement.lang)");
        assertThat(told.split("\\|"))
                .containsExactly(
                        "a First",
                        "a Second",
                        "input Filter rows",
                        "button Fold all groups",
                        "div Takings",
                        "button site",
                        "button item",
                        "button takings",
                        "button n",
                        "button Fold the rows of this group: Meadow",
                        "button Fold the rows of this group: Quay",
                        "pictures 0",
                        "heads 0",
                        "order 0",
                        "h1 Page, h2 First, h2 Second, h2 What this rests on",
                        "true",
                        "en");
    }

    @Test
    void aFoldedGroupKeepsTheFocusAndSaysThatItIsFolded() throws IOException, InterruptedException {
        String told = told("var f=document.querySelector('.fold');f.focus();f.click();"
                + "said.push(document.activeElement===f);said.push(f.getAttribute('aria-expanded'));"
                + "said.push(f.closest('tr').className);f.click();said.push(document.activeElement===f);"
                + "said.push(f.getAttribute('aria-expanded'));said.push(f.closest('tr').className===''?'row':'other')");
        assertThat(told.split("\\|")).containsExactly("true", "false", "subtotal", "true", "true", "row");
    }

    @Test
    void recordsOpenAndNoTextIsRun() throws IOException, InterruptedException {
        String told = told("var d=document.querySelectorAll('.behind details');said.push(d.length);"
                + "said.push(d[4].querySelector('summary').textContent);"
                + "said.push(Array.from(d[4].querySelectorAll('tbody td')).map(function(c){return c.textContent}).join(' '));"
                + "said.push(document.title);said.push(document.images.length);"
                + "said.push(document.querySelector('.spots title').textContent)");
        assertThat(told.split("\\|"))
                .containsExactly("9", "The first 2 records behind this row", "3 30", "Page", "0", "a: 9");
    }

    private String shownBy(Path page, String... options) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(List.of(
                browser.toString(),
                "--headless",
                "--no-sandbox",
                "--disable-gpu",
                "--user-data-dir=" + folder.resolve("profile")));
        command.addAll(List.of(options));
        command.add(page.toUri().toString());
        Process process = new ProcessBuilder(command)
                .redirectError(ProcessBuilder.Redirect.DISCARD)
                .start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor(60, TimeUnit.SECONDS)).isTrue();
        return said;
    }

    @Test
    void darkScreensGetADarkPageAndPaperNoTools() throws IOException, InterruptedException {
        String script = "said.push(getComputedStyle(document.body).backgroundColor)";
        assertThat(told(script)).isEqualTo("rgb(251, 249, 244)");
        String dark = shownBy(folder.resolve("driven.html"), "--blink-settings=preferredColorScheme=0", "--dump-dom");
        assertThat(dark).contains("rgb(27, 26, 24)");
        Path pdf = folder.resolve("printed.pdf");
        shownBy(folder.resolve("report.html"), "--print-to-pdf=" + pdf);
        try (var printed = org.apache.pdfbox.Loader.loadPDF(pdf.toFile())) {
            assertThat(new org.apache.pdfbox.text.PDFTextStripper().getText(printed))
                    .contains("Takings", "What this rests on")
                    .doesNotContain("Fold all groups", "records behind this row");
        }
    }

    @Test
    void tenThousandRowsStayUsable() throws IOException, InterruptedException {
        StringBuilder sales = new StringBuilder("site,item,amount\n");
        for (int i = 0; i < 10_000; i++) {
            sales.append("site ")
                    .append(i % 40)
                    .append(",item ")
                    .append(i)
                    .append(',')
                    .append(i * 7919L % 10_007)
                    .append('\n');
        }
        Files.writeString(folder.resolve("sales.csv"), sales);
        String told = told(
                ROWS + "document.querySelectorAll('th button')[2].click();said.push(rows()[0]);"
                        + "var i=document.querySelector('input[type=search]');i.value='item 9999';i.dispatchEvent(new Event('input'));"
                        + "said.push(document.querySelector('[role=status]').textContent);said.push(document.querySelectorAll('tbody > tr').length > 10000)");
        assertThat(told).matches("item \\d+:\\d+\\|1 of 10,000 rows; totals are left out\\|true");
    }
}
