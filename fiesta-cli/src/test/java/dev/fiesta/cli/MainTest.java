package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class MainTest extends CommandTest {

    @BeforeEach
    void data() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), "site,amount\nQuay,3.10\nMeadow,8.40\nQuay,10.00\n");
        Files.writeString(folder.resolve("takings.brief"), """
                parameter least decimal = 0
                input sales from 'sales.csv'
                table takings from sales
                  per site give takings = sum(amount)
                  only takings >= :least
                """);
    }

    @Test
    void demoWritesRunsAndSaysWhereToLook() throws IOException {
        assertThat(fiesta("demo", path("ribera"))).isZero();
        assertThat(out.toString())
                .contains(
                        "Leading stalls of each site", "The page:  " + path("ribera/report.html"), "Change the brief");
        assertThat(Files.readString(folder.resolve("ribera/report.html"))).contains("<svg");
        assertThat(fiesta("demo", folder.toString())).isEqualTo(2);
        assertThat(err.toString()).contains("holds other files. Name another: fiesta demo DIR.");
    }

    @Test
    void runPrintsTables() {
        assertThat(fiesta("run", path("takings.brief"))).isZero();
        assertThat(out.toString()).isEqualTo("""
                takings

                site    takings
                ──────  ───────
                Meadow     8.40
                Quay      13.10

                """);
        assertThat(err.toString()).isEmpty();
    }

    @Test
    void runWritesFilesAndLeavesNothingElse() throws IOException {
        assertThat(fiesta("run", path("takings.brief"), "--out", path("out"), "--as", "csv,html", "--set", "least=10"))
                .isZero();
        assertThat(Files.readString(folder.resolve("out/takings.csv"))).isEqualTo("site,takings\nQuay,13.10\n");
        try (Stream<Path> files = Files.list(folder.resolve("out"))) {
            assertThat(files.map(f -> f.getFileName().toString()).sorted())
                    .containsExactly("report.html", "run", "run.json", "takings.csv");
        }
        assertThat(err.toString()).contains("Written: ");
    }

    @Test
    void runPrintsOneTableAsText() {
        assertThat(fiesta("run", path("takings.brief"), "--as", "csv", "--table", "takings"))
                .isZero();
        assertThat(out.toString()).isEqualTo("site,takings\nMeadow,8.40\nQuay,13.10\n");
        assertThat(fiesta("run", path("takings.brief"), "--table", "takigns")).isEqualTo(2);
        assertThat(err.toString()).isEqualTo("The brief has no table 'takigns'. Did you mean 'takings'?\n");
    }

    @Test
    void askAnswers() {
        assertThat(fiesta(
                        "ask",
                        path("sales.csv"),
                        "per site give takings = sum(amount) sort takings desc",
                        "--as",
                        "csv"))
                .isZero();
        assertThat(out.toString()).isEqualTo("site,takings\nQuay,13.10\nMeadow,8.40\n");
    }

    @Test
    void checkTellsProblemsAndWorksOutNothing() throws IOException {
        assertThat(fiesta("check", path("takings.brief"))).isZero();
        assertThat(out.toString()).isEqualTo("takings.brief: no problems, 1 table (takings)\n");
        Files.writeString(
                folder.resolve("wrong.brief"), "input sales from 'sales.csv'\ntable t from sales only amuont > 1");
        assertThat(fiesta("check", path("wrong.brief"))).isEqualTo(2);
        assertThat(err.toString()).isEqualTo("""
                wrong.brief:2:25: There is no field 'amuont'.
                    2 | table t from sales only amuont > 1
                      |                         ^^^^^^
                  Did you mean 'amount'?
                """);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "only amount > 9 check rows > 5 | 1",
                "only amuont > 9 | 2",
                "match nothing on x | 2",
                "add x = date(site) | 3",
                "first 1 | 0"
            })
    void exitStatusesTellWhoMustAct(String clauses, int status) throws IOException {
        Files.writeString(folder.resolve("t.brief"), "input sales from 'sales.csv'\ntable t from sales " + clauses);
        assertThat(fiesta("run", path("t.brief"), "--as", "csv", "--out", path("out")))
                .isEqualTo(status);
        assertThat(Files.exists(folder.resolve("out/t.csv"))).isEqualTo(status == 0);
    }

    @Test
    void commandsThatAreWrongAreExplained() {
        assertThat(fiesta("run", path("gone.brief"))).isEqualTo(2);
        assertThat(err.toString()).contains("There is no brief '" + path("gone.brief") + "'.");
        assertThat(fiesta("rnu")).isEqualTo(2);
        assertThat(fiesta("run", path("takings.brief"), "--as", "papyrus")).isEqualTo(2);
        assertThat(err.toString()).contains("--as knows");
        assertThat(fiesta("run", path("takings.brief"), "--set", "least=much")).isEqualTo(2);
        assertThat(err.toString()).contains("The parameter 'least' is a decimal, and 'much' is not.");
    }

    @Test
    void helpKnowsCommandsAndFunctions() {
        assertThat(fiesta("help", "dense_rank")).isZero();
        assertThat(out.toString()).isEqualTo("""
                dense_rank()
                    The place; rows that stand level share it and leave no gap.
                    For instance: dense_rank(along takings) gives 1, 2, 2, 4, 3
                """);
        assertThat(fiesta("help", "functions")).isZero();
        assertThat(out.toString()).contains("Gathering functions", "median(x)", "start_of_week(d)");
        assertThat(fiesta("help", "run")).isZero();
        assertThat(out.toString()).contains("--set=NAME=VALUE");
    }

    @Test
    void theReferenceInTheDocumentationIsTheCatalogue() throws IOException {
        assertThat(fiesta("help", "reference")).isZero();
        assertThat(Files.readString(Path.of("..", "docs", "functions.md"))).isEqualTo(out.toString());
    }

    @Test
    void whatEditorsColourByIsTheCatalogue() throws IOException {
        assertThat(fiesta("help", "reference-grammar")).isZero();
        assertThat(Files.readString(Path.of("..", "editors", "extension", "fiesta.tmLanguage.json")))
                .isEqualTo(out.toString());
    }

    @Test
    void theReferenceOfClausesIsTheCatalogue() throws IOException {
        assertThat(dev.fiesta.catalogue.ClauseEntry.all().stream().map(c -> c.name()))
                .containsExactlyInAnyOrderElementsOf(dev.fiesta.language.Keywords.CLAUSES);
        assertThat(fiesta("help", "reference-clauses")).isZero();
        assertThat(Files.readString(Path.of("..", "docs", "language.md"))).contains(out.toString());
    }

    @Test
    void theExamplesOfClausesRun() throws IOException {
        Files.writeString(folder.resolve("sample.csv"), dev.fiesta.catalogue.SampleTable.TEXT);
        for (var clause : dev.fiesta.catalogue.ClauseEntry.all()) {
            if (!clause.example().isEmpty()) {
                int status = fiesta("ask", path("sample.csv"), clause.example(), "--as", "csv");
                assertThat(status).as(clause.name() + ": " + err).isZero();
                assertThat(out.toString()).as(clause.name()).isNotEmpty();
            }
        }
    }

    @Test
    void theRealProcessEndsWithTheStatusAndReadsStandardInput() throws IOException, InterruptedException {
        Process process = process("ask", "-", "per all give n = count(), x = sum(amount)", "--as", "csv")
                .redirectInput(folder.resolve("sales.csv").toFile())
                .redirectError(ProcessBuilder.Redirect.DISCARD)
                .start();
        assertThat(new String(process.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8))
                .isEqualTo("n,x\n3,21.50\n");
        assertThat(process.waitFor(60, TimeUnit.SECONDS)).isTrue();
        assertThat(process.exitValue()).isZero();
    }

    /** What cannot be printed is an error; a reader that has seen enough is none. */
    @Test
    void outputThatCannotBeWrittenIsToldAndReadersMayLeave() throws IOException, InterruptedException {
        Path full = Path.of("/dev/full");
        assumeTrue(Files.exists(full));
        ProcessBuilder fullOutput = process("ask", path("sales.csv"), "first 3", "--as", "csv");
        Path errors = folder.resolve("errors");
        Process writing = fullOutput
                .redirectOutput(full.toFile())
                .redirectError(errors.toFile())
                .start();
        assertThat(writing.waitFor(60, TimeUnit.SECONDS)).isTrue();
        assertThat(writing.exitValue()).isEqualTo(4);
        assertThat(Files.readString(errors)).isNotBlank().doesNotContain("Exception");

        Files.writeString(folder.resolve("long.csv"), "n\n" + "1234567890\n".repeat(200_000));
        Process read = process("ask", path("long.csv"), "only n > 0", "--as", "csv")
                .redirectError(errors.toFile())
                .start();
        assertThat(read.getInputStream().readNBytes(10)).hasSize(10);
        read.getInputStream().close();
        assertThat(read.waitFor(60, TimeUnit.SECONDS)).isTrue();
        assertThat(read.exitValue()).isZero();
        assertThat(Files.readString(errors)).isEmpty();
    }

    private static ProcessBuilder process(String... args) {
        List<String> command = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-cp",
                System.getProperty("java.class.path"),
                "dev.fiesta.cli.Main"));
        command.addAll(List.of(args));
        return new ProcessBuilder(command);
    }
}
