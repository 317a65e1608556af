package dev.fiesta.source;

import static org.assertj.core.api.Assertions.assertThat;

import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Generated files of many dialects: every cell is what a well-kept CSV reader finds, wherever pieces end. */
class ScannerAgainstFastCsvTest {
    private static final String[] CELLS = {
        "",
        "a",
        "lemonade",
        "two words",
        "\"\"",
        "\"a,b;c\"",
        "\"line\nend\"",
        "\"crlf\r\nend\"",
        "\"say \"\"hi\"\"\"",
        "é\uD83C\uDFAA",
        "\"\"\"\"",
        "5\" pipe",
        "x\"y\"",
        " spaced ",
        "'"
    };

    @TempDir
    Path folder;

    @Test
    void cellsAreTheSame() throws IOException {
        for (long seed = 0; seed < 1500; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            char delimiter = ",;\t|".charAt(random.nextInt(4));
            int width = 2 + random.nextInt(4);
            String text = file(random, delimiter, width);
            Path file = folder.resolve("cells.csv");
            Files.writeString(file, (random.nextInt(4) == 0 ? "\uFEFF" : "") + text);
            List<List<String>> expected = second(file, delimiter);
            int piece = 1 + random.nextInt(40);
            assertThat(ours(file, delimiter, width, piece, 1 + random.nextInt(3)))
                    .as("seed %s, pieces of %s bytes:\n%s", seed, piece, text)
                    .isEqualTo(expected);
        }
    }

    private static String file(SplittableRandom random, char delimiter, int width) {
        StringBuilder text = new StringBuilder();
        for (int c = 0; c < width; c++) {
            text.append(c == 0 ? "" : delimiter).append("c").append(c);
        }
        String end = random.nextBoolean() ? "\n" : "\r\n";
        text.append(end);
        int rows = random.nextInt(12);
        for (int r = 0; r < rows; r++) {
            for (int c = 0; c < width; c++) {
                String cell = CELLS[random.nextInt(CELLS.length)];
                text.append(c == 0 ? "" : delimiter)
                        .append(cell.indexOf(delimiter) >= 0 && !cell.startsWith("\"") ? "z" : cell);
            }
            text.append(r == rows - 1 && random.nextBoolean() ? "" : end);
            text.append(random.nextInt(9) == 0 && r < rows - 1 ? end : "");
        }
        return text.toString();
    }

    private static List<List<String>> second(Path file, char delimiter) throws IOException {
        List<List<String>> rows = new ArrayList<>();
        try (CsvReader<CsvRecord> reader = CsvReader.builder()
                .fieldSeparator(delimiter)
                .skipEmptyLines(true)
                .detectBomHeader(true)
                .ofCsvRecord(file)) {
            reader.forEach(r -> rows.add(new ArrayList<>(r.getFields())));
        }
        return rows.subList(1, rows.size());
    }

    private static List<List<String>> ours(Path file, char delimiter, int width, int piece, int workers) {
        List<FieldSpec> fields = new ArrayList<>();
        for (int c = 0; c < width; c++) {
            fields.add(new FieldSpec("c" + c, "c" + c, Type.TEXT, true, false, null, null, false));
        }
        Dialect dialect = new Dialect(
                (byte) delimiter, (byte) '"', (byte) '\n', (byte) 0, 0, true, false, false, false, null, List.of());
        DelimitedSource source =
                DelimitedSource.open(List.of(new Paths.Named("cells.csv", file)), dialect, true, fields, false, piece);
        Map<Long, List<List<String>>> found = new TreeMap<>();
        try (Source.Scan scan = source.scan(new Notices())) {
            List<Thread> threads = new ArrayList<>();
            for (int w = 0; w < workers; w++) {
                Thread thread = new Thread(() -> read(scan.reader(), width, found));
                thread.start();
                threads.add(thread);
            }
            for (Thread thread : threads) {
                thread.join();
            }
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
        List<List<String>> rows = new ArrayList<>();
        found.values().forEach(rows::addAll);
        return rows;
    }

    private static void read(Source.Reader reader, int width, Map<Long, List<List<String>>> found) {
        for (Batch batch = reader.next(); batch != null; batch = reader.next()) {
            List<List<String>> rows = new ArrayList<>();
            for (int row = 0; row < batch.size(); row++) {
                List<String> cells = new ArrayList<>();
                for (int c = 0; c < width; c++) {
                    Column column = batch.column(c);
                    cells.add(column.isMissing(row) ? "" : (String) column.get(row));
                }
                rows.add(cells);
            }
            synchronized (found) {
                found.put(batch.sequence(), rows);
            }
        }
    }

    @Test
    void typesAreWorkedOutFromBytes() {
        Map<String, Type> cells = Map.ofEntries(
                Map.entry("12", Type.INTEGER),
                Map.entry("-0", Type.INTEGER),
                Map.entry("00501", Type.TEXT),
                Map.entry("1234567890123456789", Type.TEXT),
                Map.entry("12.50", Type.decimal(2)),
                Map.entry("0.1234567890123456789", Type.NUMBER),
                Map.entry("1e5", Type.NUMBER),
                Map.entry("12,5", Type.TEXT),
                Map.entry("2026-05-01", Type.DATE),
                Map.entry("2026-02-30", Type.TEXT),
                Map.entry("2026-05-01 18:30", Type.DATETIME),
                Map.entry("2026-05-01T18:30:00Z", Type.INSTANT),
                Map.entry("true", Type.TRUTH),
                Map.entry("True", Type.TEXT),
                Map.entry(" 7 ", Type.INTEGER),
                Map.entry("-", Type.TEXT));
        cells.forEach((cell, type) -> {
            byte[] bytes = cell.getBytes(StandardCharsets.UTF_8);
            assertThat(CellType.of(bytes, 0, bytes.length)).as(cell).isEqualTo(type);
        });
    }
}
