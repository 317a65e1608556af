package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.DataException;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Files in archives are read as those of a folder. */
class ArchivesTest {
    private static final String INPUT = "input sales from 'sales.zip' ";

    @TempDir
    Path folder;

    private void zip(String... namesAndTexts) throws IOException {
        try (OutputStream out = Files.newOutputStream(folder.resolve("sales.zip"));
                ZipOutputStream zip = new ZipOutputStream(out)) {
            for (int i = 0; i < namesAndTexts.length; i += 2) {
                zip.putNextEntry(new ZipEntry(namesAndTexts[i]));
                zip.write(namesAndTexts[i + 1].getBytes(StandardCharsets.UTF_8));
                zip.closeEntry();
            }
        }
    }

    private Map<String, Result> brief(String text) {
        return Asking.brief(folder, text);
    }

    @Test
    void filesStandInTheOrderOfTheirNames() throws IOException {
        zip(
                "month=6/b.csv", "site,amount\nQuay,3\n",
                "month=5/", "",
                "month=5/a.csv", "site,amount\nMeadow,1\nQuay,2\n",
                "__MACOSX/month=5/a.csv", "x",
                "month=5/.hidden", "x");
        Result rows = brief(INPUT + "fields from path table t from sales add f = file_name")
                .get("t");
        assertThat(Asking.lines(rows))
                .containsExactly(
                        "site,amount,month,f",
                        "Meadow,1,5,sales.zip/month=5/a.csv",
                        "Quay,2,5,sales.zip/month=5/a.csv",
                        "Quay,3,6,sales.zip/month=6/b.csv");
        try (Fiesta fiesta = Fiesta.open()) {
            assertThat(fiesta.read(folder.resolve("sales.zip")).run().rows()).isEqualTo(3);
        }
    }

    @Test
    void placesTellTheFileInTheArchive() throws IOException {
        zip("a.csv", "site,amount\nMeadow,1\n", "b.csv", "site,amount\nQuay,2\nQuay,oops\n");
        assertThatThrownBy(() -> brief(INPUT + "fields amount integer table t from sales sort amount"))
                .isInstanceOf(DataException.class)
                .hasMessageContaining("sales.zip/b.csv, line 3: field amount: 'oops'");
    }

    @Test
    void whatCannotBeReadIsTold() throws IOException {
        zip("a.csv", "site\nQuay\n", "more.zip", "x");
        assertThatThrownBy(() -> brief(INPUT + "table t from sales"))
                .hasMessage("'sales.zip' holds another archive, 'more.zip'. Take that one out of it.");
        zip("folder/", "");
        assertThatThrownBy(() -> brief(INPUT + "table t from sales")).hasMessage("'sales.zip' holds no file.");
        zip("a.csv", "site\nQuay\n" + "Meadow\n".repeat(500));
        byte[] whole = Files.readAllBytes(folder.resolve("sales.zip"));
        byte[] changed = whole.clone();
        changed[45] ^= 4;
        for (byte[] damaged : new byte[][] {Arrays.copyOf(whole, whole.length / 2), changed}) {
            Files.write(folder.resolve("sales.zip"), damaged);
            assertThatThrownBy(() -> brief(INPUT + "table t from sales"))
                    .isInstanceOf(DataException.class)
                    .hasMessage("'sales.zip' cannot be read as an archive: it is damaged, or locked by a password.");
        }
    }
}
