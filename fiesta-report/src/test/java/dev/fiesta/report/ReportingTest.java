package dev.fiesta.report;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.CheckException;
import dev.fiesta.problem.MachineException;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Briefs from Java: read, given parameters, checked, run for a report or for data. */
class ReportingTest {
    @TempDir
    Path folder;

    private final Fiesta fiesta = Fiesta.open();

    @BeforeEach
    void data() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), "site,amount\nQuay,3.10\nMeadow,8.40\nQuay,10.00\n");
        Files.writeString(folder.resolve("takings.brief"), """
                settings locale 'pt-PT'
                parameter least decimal = 5
                input sales from 'sales.csv'
                table big from sales only amount >= :least
                table by_site from big per site give takings = sum(amount) * 1000 totals
                table all_of_it from sales per all give n = count()
                """);
    }

    private Brief brief() {
        return Brief.read(folder.resolve("takings.brief"));
    }

    @Test
    void withoutAReportTheTablesThatNobodyUsesAreShown() {
        assertThat(Report.of(brief(), fiesta).results().keySet()).containsExactly("by_site", "all_of_it");
        assertThat(Reporting.of(brief()).runAll(fiesta).results().keySet()).containsExactly("by_site", "all_of_it");
        assertThat(Reporting.of(brief())
                        .run(fiesta, List.of("big"))
                        .results()
                        .get("big")
                        .rows())
                .isEqualTo(2);
        assertThat(brief().title()).isEqualTo("takings");
        assertThatThrownBy(() -> Reporting.of(brief()).run(fiesta, List.of("bgi")))
                .hasMessage("The brief has no table 'bgi'. Did you mean 'big'?");
    }

    @Test
    void parametersDoNotChangeTheBriefTheyAreSetOn() {
        Brief brief = brief();
        assertThat(Reporting.of(brief.set("least", 9))
                        .run(fiesta, List.of("big"))
                        .results()
                        .get("big")
                        .rows())
                .isEqualTo(1);
        assertThat(Reporting.of(brief)
                        .run(fiesta, List.of("big"))
                        .results()
                        .get("big")
                        .rows())
                .isEqualTo(2);
        assertThatThrownBy(() -> Report.of(brief.set("least", "much"), fiesta)).isInstanceOf(BriefException.class);
    }

    @Test
    void theLocaleOfTheBriefWritesItsNumbers() {
        StringWriter text = new StringWriter();
        PrintWriter out = new PrintWriter(text);
        Report.of(brief(), fiesta).print(new Terminal(brief().locale(), 80, 0, true), out);
        out.flush();
        assertThat(text.toString()).contains("Meadow   8.400,00").contains("\033[1mTotal   18.400,00\033[0m");
    }

    @Test
    void resultsPrintWithoutABrief() {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        Terminal.print(
                fiesta.read(folder.resolve("sales.csv")).sort("amount desc").run(),
                new PrintStream(bytes, true, StandardCharsets.UTF_8));
        assertThat(bytes.toString(StandardCharsets.UTF_8)).isEqualTo("""
                site    amount
                ──────  ──────
                Quay     10.00
                Meadow    8.40
                Quay      3.10
                """);
    }

    @Test
    void dataFilesTakeTheFiguresUnformatted() throws IOException {
        List<Path> files = Reporting.of(brief()).runAll(fiesta).writeTo(folder.resolve("out"), Format.CSV);
        assertThat(files).extracting(f -> f.getFileName().toString()).containsExactly("by_site.csv", "all_of_it.csv");
        assertThat(Files.readString(files.get(0)))
                .isEqualTo("site,takings\nMeadow,8400.00\nQuay,10000.00\nTotal,18400.00\n");
    }

    @Test
    void aCheckThatFailsLeavesNoFile() throws IOException {
        Files.writeString(
                folder.resolve("checked.brief"), "input sales from 'sales.csv' table t from sales check amount > 5");
        assertThatThrownBy(() -> Reporting.of(Brief.read(folder.resolve("checked.brief")))
                        .runAll(fiesta))
                .isInstanceOf(CheckException.class);
        assertThat(folder.resolve("out")).doesNotExist();
    }

    @Test
    void filesThatAreNoBriefsAreRefused() throws IOException {
        assertThatThrownBy(() -> Brief.read(folder.resolve("gone.brief")))
                .isInstanceOf(dev.fiesta.problem.RequestException.class)
                .hasMessageContaining("There is no brief");
        Files.write(folder.resolve("binary.brief"), new byte[] {(byte) 0xFF, (byte) 0xFE, 0});
        assertThatThrownBy(() -> Brief.read(folder.resolve("binary.brief")))
                .isInstanceOf(MachineException.class)
                .hasMessageContaining("is not UTF-8");
        Files.writeString(folder.resolve("wrong.brief"), "table t from nowhere");
        assertThatThrownBy(() ->
                        Reporting.of(Brief.read(folder.resolve("wrong.brief"))).check(fiesta))
                .hasMessageContaining("wrong.brief:1:14: There is no input or table 'nowhere' above.");
    }
}
