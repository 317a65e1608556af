package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.DataException;
import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Lines whose fields stand at fixed characters, and fields that stand in paths. */
class FixedWidthTest {
    private static final String FIXED = "input s from 's.txt' as fixed day 1 to 10, amount 11 to 18, note from 19 ";

    @TempDir
    Path folder;

    private Result run(String brief) {
        try (Fiesta fiesta = Fiesta.with().threads(2).open()) {
            return fiesta.tables(Parser.brief(new BriefText("t.brief", brief)), folder, Map.of())
                    .run(List.of("t"))
                    .get("t");
        }
    }

    private void file(String path, String text) throws IOException {
        file(path, text, StandardCharsets.UTF_8);
    }

    private void file(String path, String text, Charset charset) throws IOException {
        Files.createDirectories(folder.resolve(path).getParent());
        Files.write(folder.resolve(path), text.getBytes(charset));
    }

    private static List<String> rows(Result result) {
        return IntStream.range(0, result.rows())
                .mapToObj(i -> result.schema().names().stream()
                        .map(f -> String.valueOf(result.row(i).get(f)))
                        .toList()
                        .toString())
                .toList();
    }

    @Test
    void fieldsStandAtCharacters() throws IOException {
        file("s.txt", "2026-05-01    12.5x \"ü\"\r\n\n2026-05-02   1    é\"\n                  tail\n");
        Result t = run(FIXED + "table t from s");
        assertThat(Asking.types(t)).containsExactly("day date", "amount decimal(1)", "note text");
        assertThat(rows(t))
                .containsExactly("[2026-05-01, 12.5, x \"ü\"]", "[2026-05-02, 1.0, é\"]", "[null, null, tail]");
    }

    @Test
    void linesMayBeSkippedAndCommented() throws IOException {
        file("s.txt", "\uFEFFheader\nunder\n2026-05-01   1.234,5-\n#x\n", StandardCharsets.UTF_16LE);
        Result t = run(FIXED.replace("to 18, note from 19", "to 21")
                + "skip 2 comment '#' decimal comma brackets negative fields amount decimal(2) table t from s");
        assertThat(rows(t)).containsExactly("[2026-05-01, -1234.50]");
    }

    @Test
    void shortLinesAreRaggedUnlessTold() throws IOException {
        file("s.txt", "2026-05-01    12.5x\n2026-05-02  1\n");
        assertThatThrownBy(() -> run(FIXED + "table t from s"))
                .isInstanceOf(DataException.class)
                .hasMessage("s.txt, line 2: the line has 13 characters, 'amount' stands at 11 to 18; "
                        + "add 'short rows as missing' where lines may end early.");
        assertThat(rows(run(FIXED + "short rows as missing table t from s")))
                .containsExactly("[2026-05-01, 12.5, x]", "[2026-05-02, 1.0, null]");
        assertThat(rows(run(FIXED
                        + "unreadable aside at most 1 fields amount decimal(1), day date, note text table t from s")))
                .containsExactly("[2026-05-01, 12.5, x]");
    }

    @Test
    void slicesMustHoldSomething() {
        assertThatThrownBy(() -> run("input s from 's.txt' as fixed day 8 to 3 table t from s"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("'day' would stand at no characters");
    }

    @Test
    void foldersTellFields() throws IOException {
        file("year=2026/month=05/a.csv", "x\n1\n2\n");
        file("year=2026/month=06/a.csv", "x\n3\n");
        file("year=2025/month=a%20b%/a.csv", "x\n\n");
        String input = "input s from 'year=*/month=*/*.csv' fields from path ";
        Result t = run(input + "table t from s add f = file_name");
        assertThat(Asking.types(t)).containsExactly("x integer", "year integer", "month text", "f text");
        assertThat(rows(t))
                .containsExactly(
                        "[null, 2025, a b%, year=2025/month=a%20b%/a.csv]",
                        "[1, 2026, 05, year=2026/month=05/a.csv]",
                        "[2, 2026, 05, year=2026/month=05/a.csv]",
                        "[3, 2026, 06, year=2026/month=06/a.csv]");
        assertThat(rows(run(input + "fields m integer from month bad as missing table t from s only x >= 2 per m")))
                .containsExactly("[5, 1]", "[6, 1]");
    }

    @Test
    void widerTypesAndRowsReadLateKeepTheirFolders() throws IOException {
        StringBuilder many = new StringBuilder("x,y\n");
        for (int i = 0; i < 60_000; i++) {
            many.append(i).append(',').append(i == 59_000 ? "0.5" : "1").append('\n');
        }
        file("k=a/a.csv", many.toString());
        file("k=b/a.csv", "x,y\n70000,7\n");
        assertThat(rows(run("input s from 'k=*/*.csv' fields from path table t from s sort x desc first 2")))
                .containsExactly("[70000, 7.0, b]", "[59999, 1.0, a]");
        assertThat(rows(run("input s from 'k=*/*.csv' fields from path table t from s per k give y = sum(y)")))
                .containsExactly("[a, 59999.5]", "[b, 7.0]");
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "'a.csv' fields from path | The path 'a.csv' tells no fields; folders like 'year=2026' do.",
                "'k=1/*.csv' 'j=2/*.csv' fields from path | The path 'j=2/a.csv' tells j, 'k=1/a.csv' k.",
                "'k=1/*.csv' fields from path fields k date | The path 'k=1/a.csv' tells k '1', which is not a date.",
                "'x=1/*.csv' fields from path | 'x' is told by the path and stands in 'x=1/a.csv' too.",
            })
    void pathsThatTellNothingAreRefused(String input, String message) throws IOException {
        for (String path : List.of("a.csv", "k=1/a.csv", "j=2/a.csv", "x=1/a.csv")) {
            if (path.equals("a.csv")) {
                Files.writeString(folder.resolve(path), "x\n1\n");
            } else {
                file(path, "x\n1\n");
            }
        }
        assertThatThrownBy(() -> run("input s from " + input + " table t from s"))
                .isInstanceOf(DataException.class)
                .hasMessageStartingWith(message);
    }
}
