package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What the options of the commands do, and what they say when they are wrong. */
class OptionsTest extends CommandTest {

    @BeforeEach
    void data() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), "site,amount\nQuay,3.10\n,8.40\nQuay,\n");
        Files.writeString(
                folder.resolve("t.brief"),
                "parameter sites text list optional input s from 'sales.csv' "
                        + "table t from s only amount > 0 and (:sites is missing or site in :sites) table u from t per site give x = sum(amount)");
    }

    @Test
    void noticesGoToStandardErrorUnlessQuiet() {
        assertThat(fiesta("run", path("t.brief"))).isZero();
        assertThat(err.toString())
                .contains("Note: only amount > 0 and")
                .contains("1 of 3 rows was dropped because the condition was missing, not false.");
        assertThat(fiesta("run", path("t.brief"), "--quiet")).isZero();
        assertThat(err.toString()).isEmpty();
        assertThat(fiesta("run", path("t.brief"), "--quiet", "--out", path("out")))
                .isZero();
        assertThat(err.toString()).isEmpty();
        assertThat(folder.resolve("out/report.html")).exists();
    }

    @Test
    void listsAreGivenWithCommas() {
        assertThat(fiesta("run", path("t.brief"), "--set", "sites=Quay,Meadow", "--as", "csv", "--table", "u"))
                .isZero();
        assertThat(out.toString()).isEqualTo("site,x\nQuay,3.10\n");
    }

    @Test
    void coloursAreUsedWhenAskedFor() {
        assertThat(fiesta("ask", path("sales.csv"), "per site totals", "--colour", "always"))
                .isZero();
        assertThat(out.toString()).contains("\033[1msite");
        assertThat(fiesta("ask", path("sales.csv"), "per site totals", "--colour", "never"))
                .isZero();
        assertThat(out.toString()).doesNotContain("\033");
    }

    @Test
    void threadsDoNotChangeTheAnswer() {
        fiesta("ask", path("sales.csv"), "per site give x = sum(amount)", "--as", "csv", "--threads", "1");
        String one = out.toString();
        fiesta("ask", path("sales.csv"), "per site give x = sum(amount)", "--as", "csv", "--threads", "5");
        assertThat(out.toString()).isEqualTo(one).isEqualTo("site,x\nQuay,3.10\n,8.40\n");
        assertThat(fiesta("ask", path("sales.csv"), "first 1", "--threads", "0"))
                .isEqualTo(2);
        assertThat(err.toString()).isEqualTo("threads: 0, at least 1 is needed\n");
    }

    @Test
    void longAnswersAreCutOnTheTerminalOnly() throws IOException {
        Files.writeString(folder.resolve("long.csv"), "n\n" + "1\n".repeat(100));
        assertThat(fiesta("ask", path("long.csv"), "first 100")).isZero();
        assertThat(out.toString().lines().count()).isEqualTo(102);
        assertThat(fiesta("ask", path("long.csv"), "first 100", "--rows", "40")).isZero();
        assertThat(out.toString().lines().count()).isEqualTo(43);
        assertThat(out.toString()).endsWith("Rows 1 to 40 of 100.\n");
        assertThat(fiesta("ask", path("long.csv"), "first 100", "--rows", "0")).isZero();
        assertThat(out.toString().lines().count()).isEqualTo(102);
        assertThat(fiesta("ask", path("long.csv"), "first 100", "--as", "csv")).isZero();
        assertThat(out.toString().lines().count()).isEqualTo(101);
    }

    @Test
    void severalFilesAreAskedTogether() throws IOException {
        Files.writeString(folder.resolve("more.csv"), "site,amount\nMeadow,1.00\n");
        assertThat(fiesta("ask", path("sales.csv"), path("more.csv"), "per all give n = count()", "--as", "csv"))
                .isZero();
        assertThat(out.toString()).isEqualTo("n\n4\n");
        assertThat(fiesta("ask", path("*.csv"), "per file = file_name give n = count()", "--as", "csv"))
                .isZero();
        assertThat(out.toString().lines().count()).isEqualTo(3);
        assertThat(fiesta("ask", path("sales.csv"), "first 1", "--as", "html")).isEqualTo(2);
        assertThat(err.toString()).contains("for a document write a brief");
    }

    @Test
    void formatsThatDoNotGoTogetherAreExplained() {
        assertThat(fiesta("run", path("t.brief"), "--as", "html")).isEqualTo(2);
        assertThat(err.toString()).contains("Files need a folder: add --out DIR.");
        Path two = folder.resolve("two.brief");
        try {
            Files.writeString(two, "input s from 'sales.csv' table a from s table b from s per site");
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
        assertThat(fiesta("run", two.toString(), "--as", "csv")).isEqualTo(2);
        assertThat(err.toString()).contains("Standard output takes one table, the brief shows a, b.");
    }

    @ParameterizedTest
    @ValueSource(strings = {"demo", "run", "ask", "check", "plan"})
    void everyCommandExplainsItself(String command) {
        assertThat(fiesta(command, "--help")).isZero();
        String own = out.toString();
        assertThat(own).startsWith("Usage: fiesta " + command).contains("--quiet");
        boolean calculates = !command.equals("check") && !command.equals("plan");
        assertThat(own.contains("--threads")).isEqualTo(calculates);
        assertThat(own.contains("--memory")).isEqualTo(calculates);
        assertThat(own.contains("--timing")).isEqualTo(calculates);
        assertThat(fiesta("help", command)).isZero();
        assertThat(out.toString()).startsWith(own);
    }

    @Test
    void theToolsOwnTextsAreInItsStandardLayout() throws IOException {
        Path ribera = folder.resolve("ribera");
        dev.fiesta.examples.Ribera.unpack(ribera);
        assertThat(fiesta("draft", ribera + "/sales-*.csv")).isZero();
        Files.writeString(ribera.resolve("draft.brief"), out.toString());
        for (String brief : List.of("takings.brief", "season.brief", "draft.brief")) {
            assertThat(fiesta("format", "--check", ribera.resolve(brief).toString()))
                    .as(brief + ": " + err)
                    .isZero();
        }
    }

    @Test
    void theCommandItselfExplainsItself() {
        assertThat(fiesta("--version")).isZero();
        assertThat(out.toString().strip())
                .isEqualTo("fiesta " + dev.fiesta.Fiesta.version())
                .matches("fiesta \\d+\\.\\d+\\.\\d+.*");
        assertThat(fiesta("help")).isZero();
        assertThat(out.toString())
                .contains(List.of("demo", "run", "ask", "check", "help"))
                .contains("Made-up data to try it on: fiesta demo");
    }

    @Test
    void surveysGoWhereTheyAreWanted() {
        assertThat(fiesta("survey", path("sales.csv"))).isZero();
        assertThat(out.toString()).contains("3 records, 2 fields", "site    text", "1 (33.3%) missing");
        assertThat(fiesta("survey", path("sales.csv"), "--fields")).isZero();
        assertThat(out.toString()).isEqualTo("  fields site   text,\n         amount decimal(2)\n");
        assertThat(fiesta("survey", path("sales.csv"), "--fields", "--input-options", "fields amount real"))
                .isZero();
        assertThat(out.toString()).endsWith("amount real\n");
        assertThat(fiesta("survey", path("sales.csv"), "--as", "json")).isZero();
        assertThat(out.toString()).startsWith("{\n  \"records\" : 3,");
        assertThat(fiesta("survey", path("sales.csv"), "--as", "html", "--out", path("look")))
                .isZero();
        assertThat(folder.resolve("look/survey.html")).content().contains("<h2>site</h2>", "3 records, 2 fields");
        assertThat(err.toString()).isEqualTo("Written: " + path("look/survey.html") + "\n");
        assertThat(fiesta("survey", path("nowhere.csv"))).isEqualTo(3);
        assertThat(err.toString()).startsWith("There is no file '");
        assertThat(fiesta("survey", path("sales.csv"), "--input-options", "skip"))
                .isEqualTo(2);
    }

    @Test
    void draftsAreBriefs() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), "site,amount\nQuay,3\nMeadow,8.40\nQuay,1\n,1\nMeadow,1\n");
        assertThat(fiesta("draft", path("sales.csv"))).isZero();
        assertThat(out.toString()).startsWith("brief 'Sales by site'");
        Files.writeString(folder.resolve("draft.brief"), out.toString());
        assertThat(fiesta("run", path("draft.brief"), "--as", "csv")).isZero();
        assertThat(out.toString())
                .isEqualTo(
                        "site,records,total,typical\nMeadow,2,9.40,4.7\nQuay,2,4.00,2\n,1,1.00,1\nTotal,5,14.40,1\n");
    }

    @Test
    void questionsMayTellHowToRead() throws IOException {
        Files.writeString(folder.resolve("odd.csv"), "Sales of May\nsite~n\nQuay~1,5\n");
        assertThat(fiesta(
                        "ask",
                        path("odd.csv"),
                        "add m = n * 2",
                        "--input-options",
                        "skip 1 delimiter '~' decimal comma",
                        "--as",
                        "csv"))
                .isZero();
        assertThat(out.toString()).isEqualTo("site,n,m\nQuay,1.5,3.0\n");
    }

    @Test
    void memoryAndTimingCanBeTold() {
        String question = "only amount > 0 sort amount desc";
        assertThat(fiesta("ask", path("sales.csv"), question, "--as", "csv")).isZero();
        String usual = out.toString();
        assertThat(fiesta("ask", path("sales.csv"), question, "--as", "csv", "--memory", "1", "--timing", "--quiet"))
                .isZero();
        assertThat(out.toString()).isEqualTo(usual);
        assertThat(err.toString().lines().map(l -> l.replaceAll(" +", " ").strip()))
                .first()
                .isEqualTo("table step rows in rows left seconds MB held MB on disk");
        assertThat(err.toString()).containsPattern("records +read +3 +3 +[0-9.]+ +0.0 +0.0\n");
        assertThat(err.toString()).containsPattern("records +only +3 +2 *\n").containsPattern("records +sort +2 +2 ");
        assertThat(fiesta("ask", path("sales.csv"), question, "--memory", "much"))
                .isEqualTo(2);
        assertThat(err.toString()).contains("'much' is no size; write for instance 512m or 2g");
    }
}
