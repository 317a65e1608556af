package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.github.luben.zstd.ZstdOutputStream;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.DataException;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Files as other programs write them: packed, in other encodings, with other line ends; what is guessed is said. */
class DialectsTest {
    private static final String TEXT = "site,item\nQuay,crêpe\nMeadow,café\n";

    @TempDir
    Path folder;

    private Result read(String file, String options) {
        return run("input s from '" + file + "' " + options + " table t from s");
    }

    private Result run(String brief) {
        return Asking.brief(folder, brief).get("t");
    }

    private void file(String name, String text, String charset) throws IOException {
        Files.write(folder.resolve(name), text.getBytes(Charset.forName(charset)));
    }

    @ParameterizedTest(name = "{0} {1}")
    @CsvSource({
        "UTF-8, '', ''",
        "UTF-8, \uFEFF, ''",
        "UTF-16LE, \uFEFF, ''",
        "UTF-16BE, \uFEFF, ''",
        "UTF-16LE, '', s.csv is read as UTF-16; its bytes are not UTF-8. Tell its encoding if this is wrong.",
        "UTF-16BE, '', s.csv is read as UTF-16; its bytes are not UTF-8. Tell its encoding if this is wrong.",
        "windows-1252, '', s.csv is read as Windows-1252; its bytes are not UTF-8. Tell its encoding if this is wrong."
    })
    void encodingsAreFound(String charset, String mark, String said) throws IOException {
        file("s.csv", mark + TEXT, charset);
        Result result = read("s.csv", "");
        assertThat(result.texts("item")).containsExactly("crêpe", "café");
        assertThat(result.notices().warnings()).isEqualTo(said.isEmpty() ? List.of() : List.of(said));
    }

    @Test
    void encodingsToldAreNotGuessed() throws IOException {
        file("s.csv", TEXT.replace('é', '€'), "iso-8859-15");
        Result result = read("s.csv", "encoding 'iso-8859-15'");
        assertThat(result.texts("item")).containsExactly("crêpe", "caf€");
        assertThat(result.notices().warnings()).isEmpty();
    }

    @Test
    void bytesThatAreNoTextAreNamedWithTheirLine() throws IOException {
        byte[] bytes = TEXT.getBytes(StandardCharsets.UTF_8);
        bytes[bytes.length - 3] = (byte) 0xFF;
        Files.write(folder.resolve("s.csv"), bytes);
        assertThatThrownBy(() -> read("s.csv", "encoding 'utf-8'"))
                .isInstanceOf(DataException.class)
                .hasMessageStartingWith("s.csv, line 3: field item: 'caf")
                .hasMessageContaining("holds bytes that are not UTF-8.")
                .hasMessageEndingWith("such as encoding 'windows-1252', or repair the line.");
        Result result = read("s.csv", "encoding 'utf-8' fields item text bad as missing");
        assertThat(result.texts("item")).containsExactly("crêpe", null);
        assertThat(result.notices().list().get(0).text())
                .startsWith("item: 1 value could not be read and became missing, such as ")
                .endsWith(" (s.csv, line 3)");
    }

    @Test
    void brokenTextsStayMissingWhereTheyRepeat() throws IOException {
        byte[] bytes = "item\nok\nx\nx\nok\n".getBytes(StandardCharsets.UTF_8);
        bytes[8] = (byte) 0xC3;
        bytes[10] = (byte) 0xC3;
        Files.write(folder.resolve("s.csv"), bytes);
        Result result = read("s.csv", "encoding 'utf-8' fields item text bad as missing");
        assertThat(result.texts("item")).containsExactly("ok", null, null, "ok");
    }

    @Test
    void packedFilesAreUnpacked() throws IOException {
        try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(folder.resolve("a.csv.gz")))) {
            out.write(TEXT.getBytes(StandardCharsets.UTF_8));
        }
        try (OutputStream out = new ZstdOutputStream(Files.newOutputStream(folder.resolve("b.csv.zst")))) {
            out.write(TEXT.getBytes(Charset.forName("windows-1252")));
        }
        Result result = read("*.csv.*", "");
        assertThat(result.texts("item")).containsExactly("crêpe", "café", "crêpe", "café");
        byte[] whole = Files.readAllBytes(folder.resolve("a.csv.gz"));
        Files.write(folder.resolve("cut.csv.gz"), Arrays.copyOf(whole, whole.length - 12));
        assertThatThrownBy(() -> read("cut.csv.gz", ""))
                .isInstanceOf(DataException.class)
                .hasMessageStartingWith("'cut.csv.gz' is packed, but cut off or damaged: ");
    }

    /** Several are unpacked at the same time: what comes of them is in their order, and of what is wrong the first is told. */
    @Test
    void packedFilesStayInTheirOrder() throws IOException {
        List<String> expected = new ArrayList<>();
        for (int i = 0; i < 12; i++) {
            try (OutputStream out =
                    new GZIPOutputStream(Files.newOutputStream(folder.resolve(String.format("p%02d.csv.gz", i))))) {
                out.write(("item\nitem " + i + "\n").getBytes(StandardCharsets.UTF_8));
                expected.add("item " + i);
            }
        }
        assertThat(read("p*.csv.gz", "").texts("item")).containsExactlyElementsOf(expected);
        byte[] whole = Files.readAllBytes(folder.resolve("p00.csv.gz"));
        Files.write(folder.resolve("p07.csv.gz"), Arrays.copyOf(whole, whole.length - 12));
        Files.write(folder.resolve("p09.csv.gz"), new byte[] {'x'});
        assertThatThrownBy(() -> read("p*.csv.gz", ""))
                .isInstanceOf(DataException.class)
                .hasMessageStartingWith("'p07.csv.gz' is packed, but cut off or damaged: ");
        Files.write(folder.resolve("p03.csv.gz"), new byte[0]);
        assertThatThrownBy(() -> read("p*.csv.gz", "")).hasMessageContaining("p03.csv.gz");
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '!',
            value = {
                "'a;b\\n1,5;x\\n2,5;y' ! 's.csv: semicolons (;) part its cells.'",
                "'a\\tb\\n1\\tx' ! 's.csv: tabs part its cells.'",
                "'a|b\\n1,5|x' ! 's.csv: upright strokes (|) part its cells.'",
                "'a;b c,d\\n1;x\\n2;y' ! 's.csv: semicolons (;) part its cells.'",
                "'a,b\\n1,x;y\\n2,z;w' ! ''",
                "'\"a;b\",b\\n1,x' ! ''",
                "'a\\n1' ! ''"
            })
    void delimitersAreFoundByTheLinesThatAgree(String text, String said) throws IOException {
        file("s.csv", text.replace("\\n", "\n").replace("\\t", "\t"), "UTF-8");
        assertThat(read("s.csv", "").notices().warnings()).isEqualTo(said.isEmpty() ? List.of() : List.of(said));
    }

    @Test
    void delimitersAreSoughtBehindSkippedLinesAndComments() throws IOException {
        file("s.csv", "Sales, of, May\n# all; sites\na;b\n1;2\n", "UTF-8");
        assertThat(read("s.csv", "skip 1 comment '#'").longs("b")).containsExactly(2);
    }

    @Test
    void oldLineEndsAreFound() throws IOException {
        file("s.csv", "a,b\r1,\"x\ny\"\r\r2,z", "UTF-8");
        Result result = read("s.csv", "");
        assertThat(result.texts("b")).containsExactly("x\ny", "z");
        file("s.csv", "title\r\n\"a\rb\",c\n1,2\n", "UTF-8");
        assertThat(read("s.csv", "skip 1").schema().names()).containsExactly("a\rb", "c");
    }

    @Test
    void columnsWithoutANameOfTheirOwnAreNamedAndSaid() throws IOException {
        file("s.csv", "site,,site, \n1,2,3,4\n", "UTF-8");
        Result result = read("s.csv", "");
        assertThat(result.schema().names()).containsExactly("site", "field_2", "site_2", "field_4");
        assertThat(result.notices().warnings())
                .containsExactly(
                        "s.csv: 2 columns have no name; they are called field_2, field_4.",
                        "s.csv: there is a second column 'site'; it is called site_2.");
    }

    @Test
    void standardInputIsReadOnce() {
        InputStream before = System.in;
        try {
            System.setIn(new ByteArrayInputStream(TEXT.getBytes(StandardCharsets.UTF_8)));
            assertThat(read("-", "").texts("site")).containsExactly("Quay", "Meadow");
            System.setIn(new ByteArrayInputStream(TEXT.getBytes(StandardCharsets.UTF_8)));
            assertThatThrownBy(() -> run("input a from '-' input b from '-' table t from a"))
                    .isInstanceOf(BriefException.class)
                    .hasMessageContaining("Standard input can be read once only.");
        } finally {
            System.setIn(before);
        }
    }

    @Test
    void quotesThatAreNeverClosedAreRefused() throws IOException {
        file("s.csv", "a,b\n1,2\n3,\"x\n4,5\n", "UTF-8");
        assertThatThrownBy(() -> read("s.csv", "fields a integer, b text"))
                .isInstanceOf(DataException.class)
                .hasMessageStartingWith("s.csv, line 3: a quote is opened here and never closed.");
        assertThat(read("s.csv", "quote '~'").texts("b")).containsExactly("2", "\"x", "5");
    }

    @Test
    void recordsWithoutEndAreRefused() throws IOException {
        file("s.csv", "a,b\n1,2\n3,\"" + "x".repeat(20 << 20) + "\"\n", "UTF-8");
        assertThatThrownBy(() -> read("s.csv", "fields a integer, b text"))
                .hasMessage("s.csv, line 3: a record is longer than 16 MiB; a quote may not be closed.");
    }
}
