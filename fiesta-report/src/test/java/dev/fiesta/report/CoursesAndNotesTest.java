package dev.fiesta.report;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.problem.BriefException;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Collections;
import java.util.List;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Small lines and notes in the cells of tables, and what stands under them. */
class CoursesAndNotesTest {
    private static final String TABLES = "input sales from 'sales.csv'\n"
            + "table weekly from sales per site, week give takings = sum(amount)\n"
            + "table kinds from sales per site, kind give takings = sum(amount), n = count() totals by site ";

    @TempDir
    Path folder;

    @BeforeEach
    void data() throws IOException {
        Files.writeString(
                folder.resolve("sales.csv"),
                "site,kind,week,amount\nQuay,ices,2026-05-04,10.00\nQuay,ices,2026-05-11,\nQuay,grill,2026-05-18,-5.50\n"
                        + "Meadow,ices,2026-05-11,7.00\n,grill,,3.00\n");
    }

    private Report report(String rest) {
        try (Fiesta fiesta = Fiesta.open()) {
            return Report.of(Brief.of("t.brief", TABLES + rest, folder), fiesta);
        }
    }

    private String terminal(Report report) {
        StringWriter text = new StringWriter();
        report.print(new Terminal("en-IE", 100, 0, false), new PrintWriter(text, true));
        return text.toString();
    }

    @Test
    void aCourseIsTheOtherTablesFigureAlongItsPeriods() throws IOException {
        Report report = report("columns site, course(weekly.takings along week on site) 'So far', kind, takings\n"
                + "report table kinds");
        String html = report.text(Format.HTML);
        assertThat(html).contains("<th scope=\"col\">So far</th>");
        List<String> lines = Pattern.compile(
                        "<svg[^>]*class=\"course\"[^>]*aria-label=\"([^\"]*)\"><path d=\"([^\"]*)\"")
                .matcher(html)
                .results()
                .map(m -> m.group(1) + ": " + m.group(2))
                .toList();
        assertThat(lines)
                .as("none beside totals, none where all values are missing, a gap where one is")
                .containsExactly(
                        "7.00 … 7.00 … 7.00: M48.0 17.0",
                        "-5.50 … -5.50 … 10.00: M3.0 3.0M93.0 17.0",
                        "-5.50 … -5.50 … 10.00: M3.0 3.0M93.0 17.0");
        assertThat(terminal(report)).containsPattern("Quay +-5\\.50 … -5\\.50 … 10\\.00 +grill +-5\\.50");
        assertThat(report.text(Format.MARKDOWN)).contains("| Quay | -5.50 … -5.50 … 10.00 | grill | -5.50 |");
        assertThat(report.writeTo(folder.resolve("out"), Format.PDF, Format.XLSX))
                .hasSize(2);
        StringBuilder book = new StringBuilder();
        try (ZipFile zip = new ZipFile(folder.resolve("out/report.xlsx").toFile())) {
            for (ZipEntry entry : Collections.list(zip.entries())) {
                book.append(new String(zip.getInputStream(entry).readAllBytes(), StandardCharsets.UTF_8));
            }
        }
        assertThat(book.toString().replace("&#x2026;", "…"))
                .as("a workbook has the course as text, and says what its three values are")
                .contains("So far", "-5.50 … -5.50 … 10.00", "least … latest … greatest");
    }

    @Test
    void textsBreakAtBlanksToFitTheWindow() {
        Terminal narrow = new Terminal("en-IE", 20, 0, false);
        assertThat(broken(narrow, "  12  only site is not missing and amount > 0", 6))
                .isEqualTo("  12  only site is\n      not missing\n      and amount > 0\n");
        assertThat(broken(narrow, "https://ribera.example/sales are here", 2))
                .as("a long word stays whole")
                .isEqualTo("https://ribera.example/sales\n  are here\n");
        assertThat(broken(narrow, "exactly twenty chars", 2)).isEqualTo("exactly twenty chars\n");
        assertThat(broken(narrow, "a_word_of_more_than_twenty", 2)).isEqualTo("a_word_of_more_than_twenty\n");
        StringWriter text = new StringWriter();
        report(
                        "report say 'Sales of all sites and of all kinds' table kinds note 'Net of fees, and of what was paid back'")
                .print(narrow, new PrintWriter(text, true));
        assertThat(text.toString())
                .contains("Sales of all sites\nand of all kinds\n")
                .contains("Net of fees, and of\nwhat was paid back\n");
    }

    private static String broken(Terminal terminal, String text, int indent) {
        StringWriter out = new StringWriter();
        terminal.text(text, indent, new PrintWriter(out, true));
        return out.toString();
    }

    @Test
    void tablesOfCoursesAreWorkedOutThoughNothingElseShowsThem() {
        Report report = report("columns site, kind, course(weekly.takings along week on site)\nreport table kinds");
        assertThat(report.results()).containsKeys("weekly", "kinds");
        assertThat(terminal(report)).contains("takings").doesNotContain("weekly");
    }

    @Test
    void hiddenFiguresHaveNoCourse() {
        String hidden = TABLES.replace(
                "give takings = sum(amount)\ntable kinds",
                "give takings = sum(amount) hide takings where takings < 0\ntable kinds");
        try (Fiesta fiesta = Fiesta.open()) {
            String html = Report.of(
                            Brief.of(
                                    "t.brief",
                                    hidden
                                            + "columns site, kind, course(weekly.takings along week on site)\nreport table kinds",
                                    folder),
                            fiesta)
                    .text(Format.HTML);
            assertThat(html).contains("class=\"course\"").doesNotContain("-5.50");
        }
    }

    @Test
    void whatCannotBeACourseIsExplained() {
        wrong(
                "course(weekly.takings along week)",
                "The rows of 'weekly' are those of 'site', not of 'site', 'kind'.",
                "on site");
        wrong("course(weekly.tkaings along week on site)", "'weekly' has no field 'tkaings'.", "takings");
        wrong("course(sales.amount along week on site)", "A course runs along a key of groups, beside groups.", "per");
        wrong("course(weekly.site along week on site)", "A course is drawn of numbers, and 'site' is a text.", "");
        wrong(
                "course(weekly.takings along takings on site)",
                "A course runs along a key of groups, beside groups.",
                "");
        wrong("course(weekly.takings along week on kind)", "The rows of 'weekly' are those of 'site'", "");
        assertThatThrownBy(() -> report("columns site, kind\n"
                        + "table sites from sales per site give n = count() columns site, course(kinds.n along kind)\n"
                        + "table all_of from sales per all give n = count() columns n, course(kinds.n along kind)"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining(
                        "Rows of 'kinds' are told apart by 'site' too, which is no key here, so there is no one course");
    }

    private void wrong(String course, String said, String suggested) {
        assertThatThrownBy(() -> report("columns site, kind, " + course))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining(said)
                .hasMessageContaining(suggested);
    }

    @Test
    void notesStandAtTheirCellsAndUnderTheTable() {
        Report report = report(
                "columns site note 'All sites.', kind, takings note 'Paid back.' where takings < 0 note 'Net.' where n > 1, n\n"
                        + "report table kinds 'Kinds' note 'Made up for {kinds.rows} groups.'");
        String text = terminal(report);
        assertThat(text)
                .containsPattern("Quay¹ +grill +-5\\.50² +1")
                .containsPattern("ices +10\\.00³ +2")
                .contains("\n¹ All sites.\n² Paid back.\n³ Net.\n", "\nMade up for 4 groups.\n");
        String html = report.text(Format.HTML);
        assertThat(html)
                .contains("<span class=\"signs\">²</span>", "<p class=\"note\">² Paid back.</p>")
                .contains("<p class=\"note\">Made up for 4 groups.</p>");
        assertThat(report.text(Format.MARKDOWN))
                .contains("| -5.50² |", "\n² Paid back.\n", "\nMade up for 4 groups.\n");
        List<String> signs = Pattern.compile("¹")
                .matcher(html)
                .results()
                .map(MatchResult::group)
                .toList();
        assertThat(signs).as("four rows, and the note itself; totals have none").hasSize(5);
    }

    @Test
    void cellsLaidOutHaveNoNotes() {
        assertThatThrownBy(() -> report("columns site\ntable crossed from sales per site against kind give n = count() "
                        + "columns site note 'x', others"))
                .hasMessageContaining("Cells that are laid out by 'against' have no notes.");
    }
}
