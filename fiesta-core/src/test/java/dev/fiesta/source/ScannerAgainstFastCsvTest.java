package dev.fiesta.source;

import static org.assertj.core.api.Assertions.assertThat;

import de.siegmar.fastcsv.reader.CommentStrategy;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.cells.CellRules;
import dev.fiesta.source.cells.CellType;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.nio.charset.Charset;
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
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

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

    /** How a generated file is laid out. */
    private record Layout(
            char delimiter,
            char quote,
            String lineEnd,
            boolean comments,
            int skip,
            boolean header,
            Charset charset,
            String mark,
            int width) {
        static Layout random(SplittableRandom random) {
            boolean marked = random.nextInt(4) == 0;
            Charset charset = random.nextInt(6) == 0 ? StandardCharsets.UTF_16LE : StandardCharsets.UTF_8;
            return new Layout(
                    ",;\t|:^".charAt(random.nextInt(6)),
                    random.nextInt(4) == 0 ? '\'' : '"',
                    new String[] {"\n", "\r\n", "\r"}[random.nextInt(3)],
                    random.nextInt(4) == 0,
                    random.nextInt(4) == 0 ? 1 + random.nextInt(2) : 0,
                    random.nextInt(5) > 0,
                    charset,
                    marked || charset.equals(StandardCharsets.UTF_16LE) ? "\uFEFF" : "",
                    1 + random.nextInt(5));
        }

        Dialect dialect() {
            return new Dialect(
                    (byte) delimiter,
                    (byte) quote,
                    (byte) '\n',
                    (byte) (comments ? '#' : 0),
                    skip,
                    header,
                    false,
                    false,
                    false,
                    null,
                    List.of(),
                    false);
        }
    }

    /** {@code -Dfiesta.scans=100000} for a long run. */
    private static final int SCANS = Integer.getInteger("fiesta.scans", 800);

    @Test
    void cellsAreTheSame() throws IOException {
        for (long seed = 0; seed < SCANS; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            Layout layout = Layout.random(random);
            String text = file(random, layout);
            int piece = 1 + random.nextInt(40);
            same(layout, text, piece, 1 + random.nextInt(3), "seed " + seed);
        }
    }

    /** Borders of pieces on every byte of quotes, doubled quotes, line ends inside quotes, CRLF and characters of several bytes. */
    @ParameterizedTest
    @ValueSource(strings = {"\n", "\r\n", "\r"})
    void bordersFallOnEveryByte(String lineEnd) throws IOException {
        Layout layout = new Layout(',', '"', lineEnd, false, 0, true, StandardCharsets.UTF_8, "", 2);
        String text = String.join(
                lineEnd,
                "c0,c1",
                "a,\"b" + lineEnd + "\"\"c\"\",\"",
                "\"\",é",
                "",
                "\"\"\"\",\"x\"\"\"",
                "5\" y,\"" + lineEnd + lineEnd + "\"",
                "last,\uD83C\uDFAA");
        for (int piece = 1; piece <= text.length() + 4; piece++) {
            for (int workers = 1; workers <= 3; workers++) {
                same(layout, text, piece, workers, "border");
                same(layout, text + lineEnd, piece, workers, "border, with an end");
            }
        }
    }

    private void same(Layout layout, String text, int piece, int workers, String what) throws IOException {
        Path file = folder.resolve("cells.csv");
        String skipped = ("no, \" \"table" + layout.lineEnd()).repeat(layout.skip());
        Files.write(file, (layout.mark() + skipped + text).getBytes(layout.charset()));
        assertThat(ours(file, layout, piece, workers))
                .as("%s, %s, pieces of %s bytes:\n%s", what, layout, piece, text)
                .isEqualTo(second(text, layout));
    }

    private static String file(SplittableRandom random, Layout layout) {
        StringBuilder text = new StringBuilder();
        String end = layout.lineEnd();
        for (int c = 0; c < layout.width(); c++) {
            text.append(c == 0 ? "" : layout.delimiter()).append("c").append(c);
        }
        text.append(end);
        int rows = random.nextInt(12);
        for (int r = 0; r < rows; r++) {
            text.append(layout.comments() && random.nextInt(5) == 0 ? "# a \"comment, " + end : "");
            for (int c = 0; c < layout.width(); c++) {
                String cell =
                        CELLS[random.nextInt(CELLS.length)].replace("'", "").replace('"', layout.quote());
                boolean quoted = cell.startsWith(String.valueOf(layout.quote()));
                text.append(c == 0 ? "" : layout.delimiter())
                        .append(cell.indexOf(layout.delimiter()) >= 0 && !quoted ? "z" : cell);
            }
            text.append(r == rows - 1 && random.nextBoolean() ? "" : end);
            text.append(layout.width() > 1 && random.nextInt(9) == 0 && r < rows - 1 ? end : "");
        }
        return text.toString();
    }

    private static List<List<String>> second(String text, Layout layout) throws IOException {
        List<List<String>> rows = new ArrayList<>();
        try (CsvReader<CsvRecord> reader = CsvReader.builder()
                .fieldSeparator(layout.delimiter())
                .quoteCharacter(layout.quote())
                .commentStrategy(layout.comments() ? CommentStrategy.SKIP : CommentStrategy.NONE)
                .skipEmptyLines(layout.width() > 1)
                .ofCsvRecord(text)) {
            reader.forEach(r -> rows.add(new ArrayList<>(r.getFields())));
        }
        return rows.subList(layout.header() ? 1 : 0, rows.size());
    }

    private static List<List<String>> ours(Path file, Layout layout, int piece, int workers) {
        List<FieldSpec> fields = new ArrayList<>();
        for (int c = 0; c < layout.width(); c++) {
            String column = layout.header() ? "c" + c : "field_" + (c + 1);
            fields.add(new FieldSpec(column, column, Type.TEXT, true, false, null, null, false, CellRules.NONE));
        }
        DelimitedSource source = DelimitedSource.open(
                List.of(new Paths.Named("cells.csv", file)), layout.dialect(), true, fields, false, piece);
        Map<Long, List<List<String>>> found = new TreeMap<>();
        try (Source.Scan scan = source.scan(new Notices())) {
            List<Thread> threads = new ArrayList<>();
            for (int w = 0; w < workers; w++) {
                Thread thread = new Thread(() -> read(scan.reader(new Notices()), layout.width(), found));
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
                Map.entry("0.1234567890123456789", Type.REAL),
                Map.entry("1e5", Type.TEXT),
                Map.entry("1.5e3", Type.REAL),
                Map.entry("1E+05", Type.REAL),
                Map.entry("2e-7", Type.REAL),
                Map.entry("12E999", Type.TEXT),
                Map.entry("1.5e400", Type.TEXT),
                Map.entry("1e-400", Type.TEXT),
                Map.entry("0e-400", Type.REAL),
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
