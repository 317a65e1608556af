package dev.fiesta.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Result;
import dev.fiesta.problem.DataException;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Documents of JSON: where their records are, what fields they have, and what cannot be right. */
class JsonDocumentsTest {
    private static final String ORDERS = """
            {"made": "2026-05-01", "none": [1], "data": {"orders": [
              {"no": 1, "lines": [{"item": "fig", "qty": 2}, {"item": "\\u00e9t\\n\\u0041", "qty": 1, "tags": ["a", 1]}], "site": {"name": "Quay"}},
              {"no": 2, "lines": [], "site": {"name": null}},
              {"no": 3.5, "late": true}
            ]}}
            """;

    @TempDir
    Path folder;

    private Result read(String text, String options) throws IOException {
        Files.writeString(folder.resolve("x.json"), text);
        return new Reading(folder, JsonDocuments.FORMAT).read("x.json", options);
    }

    @Test
    void aListOfObjectsIsRecords() throws IOException {
        Result t = read(
                "[{\"a\":1,\"b\":\"007\"}, {\"b\":\"2026-05-01\",\"c\":null},\n{\"a\":12345678901,\"d\":{\"e\":false}}]",
                "");
        assertThat(Reading.types(t)).containsExactly("a integer", "b text", "c empty", "d.e truth");
        assertThat(Reading.values(t, "a")).containsExactly("1", "null", "12345678901");
        assertThat(Reading.values(t, "d.e")).containsExactly("null", "null", "false");
    }

    @Test
    void eachObjectOfAListIsARecordWithWhatStandsAround() throws IOException {
        Result t = read(ORDERS, "items 'data.orders' each 'lines'");
        assertThat(Reading.types(t))
                .containsExactly(
                        "no decimal(1)",
                        "site.name text",
                        "lines.item text",
                        "lines.qty integer",
                        "lines.tags text",
                        "late truth");
        assertThat(Reading.values(t, "no")).containsExactly("1.0", "1.0", "3.5");
        assertThat(Reading.values(t, "lines.item")).containsExactly("fig", "\u00e9t\nA", "null");
        assertThat(Reading.values(t, "lines.tags")).containsExactly("null", "[\"a\",1]", "null");
        assertThat(Reading.values(t, "site.name")).containsExactly("Quay", "Quay", "null");
    }

    @Test
    void packedDocumentsAreUnpacked() throws IOException {
        try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(folder.resolve("p.json.gz")))) {
            out.write("[{\"a\":1},{\"a\":2}]".getBytes(StandardCharsets.UTF_8));
        }
        assertThat(Reading.values(new Reading(folder, JsonDocuments.FORMAT).read("p.json.gz", ""), "a"))
                .containsExactly("1", "2");
    }

    @Test
    void typesAreThoseOfAllRecords() throws IOException {
        StringBuilder text = new StringBuilder("[");
        for (int i = 0; i < 100_000; i++) {
            text.append("{\"a\":").append(i).append("},");
        }
        Result t = read(text + "{\"a\":0.25},{\"b\":1}]", "");
        assertThat(Reading.types(t)).containsExactly("a decimal(2)", "b integer");
        assertThat(t.rows()).isEqualTo(100_002);
    }

    @ParameterizedTest(name = "{0} {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "{\"a\":{\"b\":[]},\"c\":[1]} | ~~ | x.json: it holds an object, not a list of objects. Say which of its lists has the records: items 'a.b', 'c'",
                "{\"a\":1} | ~~ | x.json: it holds an object, not a list of objects.",
                "{\"a\":[]} | items 'b' | x.json: there is no list 'b'. It has 'a'.",
                "12 | ~~ | x.json: it holds no list of objects.",
                "[{\"a\":1},2] | ~~ | x.json, record 2: this is no object; each item of the list holds one.",
                "[{\"a\":[{\"b\":1}]}] | ~~ | x.json, record 1: 'a' is a list of objects.",
                "[{\"a\":[[1]]}] | each 'a' | x.json, record 1: 'a' holds a list in the list.",
                "[{\"a\":1},{\"a\":tru}] | ~~ | x.json, line 1: this is no JSON: ",
                "[{\"a\":1} | ~~ | x.json, line 1: this is no JSON: ",
                "[{\"a\":1}] 3 | ~~ | x.json: something stands behind the list.",
                "[{\"a\":\"\\ud800\"}] | ~~ | x.json, record 1: a holds half of a character, \\ud800.",
                "[] | ~~ | x.json is empty: no record in it names a field.",
                "[{\"a\":\"x\"},{\"a\":\"y\"}] | fields a integer bad as missing, b text | x.json has no field 'b'. Did you mean 'a'?",
                "[{\"a\":1},{\"a\":\"y\"}] | fields a integer | x.json, record 2: field a: 'y' is not an integer.",
            })
    void whatCannotBeRightIsTold(String text, String options, String message) {
        assertThatThrownBy(() -> read(text, options))
                .isInstanceOf(DataException.class)
                .hasMessageStartingWith(message);
    }
}
