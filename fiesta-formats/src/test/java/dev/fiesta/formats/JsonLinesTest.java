package dev.fiesta.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import java.io.File;
import java.io.IOException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** A JSON object a line: its fields, their types, and what is wrong with a line. */
class JsonLinesTest {
    @TempDir
    Path folder;

    private Result read(String text, String options) throws IOException {
        return read(text, options, 2);
    }

    private Result read(String text, String options, int threads) throws IOException {
        Files.writeString(folder.resolve("sales.jsonl"), text);
        String brief = "input s from 'sales.jsonl' " + options + " table t from s";
        try (Fiesta fiesta =
                Fiesta.with().threads(threads).reads(JsonLines.FORMAT).open()) {
            return fiesta.tables(Parser.brief(new BriefText("t.brief", brief)), folder, Map.of())
                    .run(List.of("t"))
                    .get("t");
        }
    }

    @Test
    void fieldsComeFromAllLines() throws IOException {
        Result result = read("""
                {"site":"Quay","amount":12.5,"day":"2026-05-01","code":"007","paid":true,"stall":{"no":3,"name":"é\\n\\"x\\""}}

                {"amount":3,"site":null,"tags":["a",{"b":[1,2.50,null,true]},"c\\"d"]}
                """, "");
        assertThat(Reading.types(result))
                .containsExactly(
                        "site text",
                        "amount decimal(1)",
                        "day date",
                        "code text",
                        "paid truth",
                        "stall.no integer",
                        "stall.name text",
                        "tags text");
        assertThat(result.texts("site")).containsExactly("Quay", null);
        assertThat(result.texts("stall.name")).containsExactly("é\n\"x\"", null);
        assertThat(result.texts("tags")).containsExactly(null, "[\"a\",{\"b\":[1,2.50,null,true]},\"c\\\"d\"]");
        assertThat(result.row(1).get("amount")).isEqualTo(new java.math.BigDecimal("3.0"));
    }

    @ParameterizedTest(name = "{0} and {1}: {2}")
    @CsvSource({
        "1, 2, integer",
        "1, 2.50, decimal(2)",
        "1, 2e3, real",
        "\"1\", 2, text",
        "\"2026-05-01\", \"2026-05-02\", date",
        "\"2026-05-01T10:00\", null, datetime",
        "null, null, empty",
        "true, false, truth",
        "'', '', text"
    })
    void typesAreThoseOfTheValues(String one, String two, String type) throws IOException {
        String first = one.isEmpty() ? "\"a\"" : one;
        Result result = read("{\"x\":" + first + "}\n{\"x\":" + (two.isEmpty() ? "\"\"" : two) + "}\n", "");
        assertThat(Reading.types(result)).containsExactly("x " + type);
    }

    @Test
    void declaredFieldsReadTextsToo() throws IOException {
        Result result = read(
                "{\"n\":\"12\",\"d\":\"01/05/2026\"}\n{\"n\":\"many\",\"d\":\"\"}\n",
                "fields n integer bad as missing, sold date 'dd/MM/yyyy' from d");
        assertThat(Reading.types(result)).containsExactly("n integer", "sold date");
        assertThat(result.column("n").isMissing(1)).isTrue();
        assertThat(result.notices().list().get(0).text())
                .isEqualTo("n: 1 value could not be read and became missing, such as 'many' (sales.jsonl, line 2)");
    }

    @Test
    void linesAreNamedWhereSomethingIsWrong() throws IOException {
        assertThatThrownBy(() -> read("{\"a\":1}\n\n[2]\n", ""))
                .isInstanceOf(DataException.class)
                .hasMessage("sales.jsonl, line 3: this is no JSON object; each line holds one.");
        assertThatThrownBy(() -> read("{\"a\":1}\n{\"a\":\n", ""))
                .hasMessageStartingWith("sales.jsonl, line 2: this is no JSON: Unexpected end-of-input");
        assertThatThrownBy(() -> read("{\"a\":1} {\"a\":2}\n", ""))
                .hasMessage("sales.jsonl, line 1: something stands behind the JSON object; each line holds one.");
        assertThatThrownBy(() -> read("{\"a\":1}\n{\"a\":\"x\"}\n", "fields a integer"))
                .hasMessageStartingWith("sales.jsonl, line 2: field a: 'x' is not an integer.");
        assertThatThrownBy(() -> read("{\"a\":1}\n", "fields b integer"))
                .hasMessage("sales.jsonl has no field 'b'. Did you mean 'a'?");
        assertThatThrownBy(() -> read("\n", "")).hasMessage("sales.jsonl is empty: no record in it names a field.");
    }

    /** Beyond what is looked at first: wider values and new fields let the read start again. */
    @ParameterizedTest
    @ValueSource(ints = {1, 2})
    void fieldsThatComeLateAreFound(int threads) throws IOException {
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < 600_000; i++) {
            text.append("{\"n\":")
                    .append(i)
                    .append(",\"site\":\"site number ")
                    .append(i % 7)
                    .append("\"}\n");
        }
        int at = text.indexOf("\n", (int) (text.length() * 0.55)) + 1;
        text.insert(at, "{\"n\":0.25,\"tip\":\"late\"}\n");
        Result result = read(text.toString(), "", threads);
        assertThat(Reading.types(result)).containsExactly("n decimal(2)", "site text", "tip text");
        assertThat(result.rows()).isEqualTo(600_001);
        assertThat(result.texts("tip").stream().filter("late"::equals).count()).isEqualTo(1);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "delimiter ';'",
                "quote '~'",
                "comment '#'",
                "skip 1",
                "no header",
                "decimal comma",
                "short rows as missing"
            })
    void optionsOfDelimitedTextAreRefused(String option) {
        assertThatThrownBy(() -> read("{\"a\":1}\n", option))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("This input is read as jsonl, to which '"
                        + option.replaceFirst(" (['0-9].*)?$", "") + "' means nothing.")
                .hasMessageContaining("Take it away, or say what it is: as csv, as tsv");
    }

    @Test
    void wordsForMissingValuesCountHereToo() throws IOException {
        Result result = read("{\"a\":\"n/a\"}\n{\"a\":\"2026-05-01\"}\n", "missing 'n/a'");
        assertThat(Reading.types(result)).containsExactly("a date");
        assertThat(result.column("a").isMissing(0)).isTrue();
    }

    /** Without the library that unpacks zstd on the path, in a loader of its own. */
    @Test
    void packedFilesWithoutTheirLibraryAreRefused() throws Exception {
        Path packed = folder.resolve("z.csv");
        Files.write(packed, new byte[] {0x28, (byte) 0xB5, 0x2F, (byte) 0xFD, 0, 0});
        String all = System.getProperty("surefire.test.class.path", System.getProperty("java.class.path"));
        List<URL> without = new ArrayList<>();
        for (String part : all.split(File.pathSeparator)) {
            if (!part.contains("zstd-jni")) {
                without.add(Path.of(part).toUri().toURL());
            }
        }
        try (URLClassLoader loader =
                new URLClassLoader(without.toArray(URL[]::new), ClassLoader.getPlatformClassLoader())) {
            Class<?> door = loader.loadClass("dev.fiesta.Fiesta");
            Object fiesta = door.getMethod("open").invoke(null);
            Object table = door.getMethod("read", Path.class).invoke(fiesta, packed);
            assertThatThrownBy(() -> table.getClass().getMethod("run").invoke(table))
                    .cause()
                    .hasMessageContaining("the library zstd-jni must be on the class path")
                    .extracting(e -> e.getClass().getName())
                    .isEqualTo(MachineException.class.getName());
        }
    }

    @Test
    void theFormatIsTakenFromTheEndingOrTold() throws IOException {
        Files.writeString(folder.resolve("x.ndjson"), "{\"a\":1}\n");
        try (Fiesta fiesta = Fiesta.with().reads(JsonLines.FORMAT).open()) {
            assertThat(fiesta.read(folder.resolve("x.ndjson")).run().longs("a")).containsExactly(1);
        }
        assertThatThrownBy(() -> read("{\"a\":1}\n", "as scrolls"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("The formats are csv, tsv, fixed, jsonl.");
    }
}
