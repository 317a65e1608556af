package dev.fiesta.source;

import static org.assertj.core.api.Assertions.assertThat;

import com.code_intelligence.jazzer.api.FuzzedDataProvider;
import com.code_intelligence.jazzer.junit.FuzzTest;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Schema;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * Any bytes at all: the scan ends with records or with an error of the data, and where pieces end makes no difference. In an
 * ordinary build known inputs are tried again; with {@code JAZZER_FUZZ=1} new ones are sought.
 */
class ScannerFuzzTest {
    @FuzzTest(maxDuration = "3m")
    void anyBytesAreReadOrRefused(FuzzedDataProvider data) throws IOException {
        Dialect dialect = new Dialect(
                (byte) data.pickValue(new char[] {',', ';', '\t', '|'}),
                (byte) data.pickValue(new char[] {'"', '\''}),
                (byte) '\n',
                (byte) (data.consumeBoolean() ? '#' : 0),
                data.consumeInt(0, 2),
                data.consumeBoolean(),
                data.consumeBoolean(),
                data.consumeBoolean(),
                data.consumeBoolean(),
                null,
                data.consumeBoolean() ? List.of("NA") : List.of(),
                false);
        boolean told = data.consumeBoolean();
        int piece = data.consumeInt(1, 64);
        byte[] bytes = data.consumeRemainingAsBytes();
        Path file = Files.createTempFile("fiesta-fuzz-", ".csv");
        try {
            Files.write(file, bytes);
            List<String> whole = read(file, dialect, told, 1 << 20);
            assertThat(read(file, dialect, told, piece)).isEqualTo(whole);
        } finally {
            Files.delete(file);
        }
    }

    /** The rows, or the message. */
    private static List<String> read(Path file, Dialect dialect, boolean told, int piece) {
        List<String> rows = new ArrayList<>();
        try {
            Source source = DelimitedSource.open(
                    List.of(new Paths.Named("f.csv", file)), dialect, told, List.of(), false, piece);
            while (true) {
                try {
                    rows.clear();
                    all(source, rows);
                    return rows;
                } catch (Source.Widened widened) {
                    source = widened.source();
                }
            }
        } catch (DataException refused) {
            // Rows read before the fault depend on the piece; what is wrong does not.
            return List.of(refused.getMessage());
        }
    }

    private static void all(Source source, List<String> rows) {
        Schema schema = source.schema();
        rows.add(schema.fields().toString());
        try (Source.Scan scan = source.scan(new Notices())) {
            Source.Reader reader = scan.reader(new Notices());
            for (Batch batch = reader.next(); batch != null; batch = reader.next()) {
                for (int row = 0; row < batch.size(); row++) {
                    StringBuilder cells = new StringBuilder();
                    for (int f = 0; f < schema.size(); f++) {
                        cells.append(batch.column(f).get(row)).append('|');
                    }
                    rows.add(cells.toString());
                }
                reader.finish();
            }
        }
    }
}
