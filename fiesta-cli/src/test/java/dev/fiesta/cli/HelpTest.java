package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.catalogue.ForeignWord;
import dev.fiesta.catalogue.SampleTable;
import dev.fiesta.catalogue.WordEntry;
import dev.fiesta.language.Formats;
import dev.fiesta.language.Keywords;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.dhatim.fastexcel.Workbook;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Help answers every word of the language and every command, and a wrong word gets one sentence. */
class HelpTest extends CommandTest {

    @Test
    void everyWordOfTheLanguageIsExplained() {
        Set<String> words = new TreeSet<>(Keywords.RESERVED);
        words.addAll(Keywords.CLAUSES);
        words.addAll(Keywords.PARTS);
        words.addAll(Formats.NAMES);
        WordEntry.all().forEach(e -> words.addAll(e.words()));
        ForeignWord.all().forEach(f -> words.addAll(List.of(f.word().split(" "))));
        assertThat(words).hasSizeGreaterThan(150);
        for (String word : words) {
            assertThat(fiesta("help", word)).as(word).isZero();
            assertThat(out.toString()).as(word).isNotBlank();
        }
    }

    /** The words that the parser takes are found in its own source, so that none is forgotten. */
    @Test
    void noWordThatTheParserTakesIsForgotten() throws IOException {
        Pattern taken = Pattern.compile("(?:takeWords?|expectWord|word)\\(((?:\"[a-z]+\"(?:, )?)+)");
        Set<String> words = new TreeSet<>();
        Path parser = Path.of("..", "fiesta-core", "src", "main", "java", "dev", "fiesta", "language");
        for (String file : List.of("InputParser", "PartParser", "ReportParser", "ClauseParser")) {
            Matcher word = taken.matcher(Files.readString(parser.resolve(file + ".java")));
            while (word.find()) {
                Matcher each = Pattern.compile("\"([a-z]+)\"").matcher(word.group(1));
                while (each.find()) {
                    words.add(each.group(1));
                }
            }
        }
        words.removeAll(Set.of("as", "of"));
        assertThat(words).hasSizeGreaterThan(40);
        for (String word : words) {
            assertThat(fiesta("help", word)).as(word + ": " + err).isZero();
        }
    }

    /** The files that examples of inputs read. */
    private void otherFiles() throws IOException {
        Files.createDirectories(folder.resolve("year=2026"));
        Files.writeString(folder.resolve("year=2026/sales.csv"), SampleTable.TEXT);
        Files.writeString(
                folder.resolve("orders.json"), "{\"data\":{\"orders\":[{\"no\":1,\"lines\":[{\"item\":\"fig\"}]}]}}");
        try (Workbook book = new Workbook(Files.newOutputStream(folder.resolve("plan.xlsx")), "test", "1.0")) {
            book.newWorksheet("May");
            book.newWorksheet("June").value(0, 0, "site");
        }
    }

    @Test
    void theExamplesOfWordsRun() throws IOException {
        Path sales = folder.resolve("sales.csv");
        Files.writeString(sales, SampleTable.TEXT);
        otherFiles();
        Path brief = folder.resolve("t.brief");
        for (WordEntry word : WordEntry.all()) {
            if (word.example().isEmpty()) {
                continue;
            }
            boolean part = Keywords.PARTS.contains(word.example().split(" ")[0]);
            int status;
            if (part) {
                String needed = word.example().contains("table ")
                                && word.place() == WordEntry.Place.PART
                                && !word.example().startsWith("report")
                        ? "input sales from 'sales.csv' "
                        : "input sales from 'sales.csv' table t from sales ";
                boolean late =
                        word.example().startsWith("report") || word.example().startsWith("table");
                Files.writeString(brief, late ? needed + word.example() : word.example() + " " + needed);
                status = fiesta(
                        "run",
                        brief.toString(),
                        "--as",
                        "html",
                        "--out",
                        folder.resolve("out").toString());
            } else {
                status = fiesta("ask", sales.toString(), word.example(), "--as", "csv");
            }
            assertThat(status)
                    .as(word.words() + ": " + word.example() + "\n" + err)
                    .isZero();
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "only | only CONDITION | f(args only CONDITION …)",
                "columns | columns FIELD | chart columns TABLE",
                "check | Usage: fiesta check | check CONDITION",
                "first | first N | first(x)",
                "avg | 'avg' is not a word of briefs; here it is 'mean' | mean(x)",
                "group by | here it is 'per' | per KEY",
                "starts with | [not] contains | starts with",
                "decimal comma | decimal comma | 1.234,50",
                "'' | A month's report, step by step | Commands:",
                "words | Parts of a brief | Charts",
            })
    void helpShowsAllThatAWordIs(String word, String first, String second) {
        assertThat(fiesta(word.isEmpty() ? new String[] {"help"} : ("help " + word).split(" ")))
                .isZero();
        assertThat(out.toString()).contains(first, second);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "aks | There is no command 'aks'. Did you mean ask? See: fiesta help",
                "--nope | There is no option --nope. See: fiesta help",
                "ask j.csv | What is to be asked is missing. It stands last, in quotes: fiesta ask j.csv 'per FIELD give n = count()'. The fields are told by: fiesta survey j.csv",
                "ask --thread 1 j.csv first | There is no option --thread of 'ask'. Did you mean --threads? See: fiesta help ask",
                "ask --threads x j.csv first | 'x' does not fit --threads, which takes a whole number. See: fiesta help ask",
                "ask --memory lots j.csv first | 'lots' is no size; write for instance 512m or 2g. See: fiesta help ask",
                "run t.brief --set ym | 'ym' says nothing to --set: it is written --set NAME=VALUE. See: fiesta help run",
                "run t.brief --as xls | 'xls' is nothing that --as knows. Did you mean xlsx? It takes terminal, html, pdf, xlsx, markdown, csv, tsv, json, jsonl, parquet, svg, png. See: fiesta help run",
                "run t.brief --as csv,htm | 'htm' is nothing that --as knows. Did you mean html? It takes terminal, html, pdf, xlsx, markdown, csv, tsv, json, jsonl, parquet, svg, png. See: fiesta help run",
                "run t.brief --colour red | 'red' is nothing that --colour knows. It takes auto, always, never. See: fiesta help run",
                "run t.brief --out | After --out a value is expected: --out DIR. See: fiesta help run",
                "run t.brief more | 'more' is one word too many for 'run'. See: fiesta help run",
                "compare a | B is missing: fiesta compare A B. See: fiesta help compare",
                "completion cmd | 'cmd' is nothing that SHELL knows. It takes bash, zsh, fish. See: fiesta help completion",
                "run t.brief --quiet=maybe | --quiet takes no value. See: fiesta help run",
                "run t.brief --threads 1 --threads 2 | --threads stands twice. See: fiesta help run",
                "run t.brief -x | There is no option -x of 'run'. See: fiesta help run",
                "ask j.csv per site give n = count() | The clauses stand in one pair of quotes: fiesta ask j.csv 'per site give n = count()'",
                "run | BRIEF is missing: fiesta run BRIEF. See: fiesta help run",
                "survey | FILE is missing: fiesta survey FILE. See: fiesta help survey",
                "help dens_rank | There is no command and no word 'dens_rank'. Did you mean dense_rank?",
            })
    void aWrongWordGetsOneSentence(String words, String message) {
        assertThat(fiesta(words.split(" "))).isEqualTo(2);
        assertThat(err.toString().strip()).isEqualTo(message);
        assertThat(out.toString()).isEmpty();
    }

    @ParameterizedTest
    @CsvSource({"bash,--spreadsheet-safe", "zsh,--spreadsheet-safe", "fish,-l spreadsheet-safe"})
    void completionKnowsCommandsAndOptions(String shell, String option) {
        assertThat(fiesta("completion", shell)).isZero();
        assertThat(out.toString()).contains("survey", "repeat", option).containsIgnoringCase("markdown");
        assertThat(fiesta("completion", "cmd")).isEqualTo(2);
    }

    /** The shell itself is asked what it would offer. */
    @Test
    void bashCompletes() throws IOException, InterruptedException {
        assertThat(fiesta("completion", "bash")).isZero();
        Path script = folder.resolve("completion");
        Files.writeString(script, out.toString() + """
                COMP_WORDS=(fiesta s) COMP_CWORD=1 COMP_LINE='fiesta s' COMP_POINT=8
                _complete_fiesta
                echo "command: ${COMPREPLY[*]}"
                COMP_WORDS=(fiesta run --th) COMP_CWORD=2 COMP_LINE='fiesta run --th' COMP_POINT=15
                COMPREPLY=()
                _complete_fiesta
                echo "option: ${COMPREPLY[*]}"
                """);
        Process bash = new ProcessBuilder("bash", script.toString())
                .redirectErrorStream(true)
                .start();
        assertThat(new String(bash.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8))
                .contains("command: survey", "option: --threads");
        assertThat(bash.waitFor()).isZero();
    }

    @Test
    void optionsStandAnywhere() throws IOException {
        Path sales = folder.resolve("sales.csv");
        Files.writeString(sales, SampleTable.TEXT);
        String file = sales.toString();
        assertThat(fiesta("--quiet", "ask", file, "per site", "--as", "csv")).isZero();
        String answer = out.toString();
        assertThat(answer).startsWith("site,count");
        assertThat(fiesta("ask", "--as", "csv", file, "--quiet", "per site")).isZero();
        assertThat(out.toString()).isEqualTo(answer);
        assertThat(fiesta("--as=csv", "--quiet", "ask", file, "per site")).isZero();
        assertThat(out.toString()).isEqualTo(answer);
    }
}
