package dev.fiesta.formats;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.copy.Copies;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.member.LocalCrew;
import dev.fiesta.output.TextStyle;
import dev.fiesta.parquet.ParquetFiles;
import dev.fiesta.parquet.ParquetTable;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.zip.GZIPOutputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The same records as text, packed, as lines and documents of JSON, columns, a workbook, lines of fixed width, and a table of a database. */
class AnySourceTest {
    private static final List<String> NAMES =
            List.of("sale_id", "sold_at", "site", "stall", "amount", "tip", "settled", "note");
    private static final String FIELDS =
            " fields sale_id integer, sold_at datetime, site text, stall text, amount decimal(2), tip decimal(2), settled truth, note text";
    private static final String TABLES = """
            table kept from s only settled and date(sold_at) >= 2026-05-03 add day = date(sold_at), week = start_of_week(day)
            table weekly from kept per site, week give n = count(), a = sum(amount), typical = median(amount), tips = sum(tip), s = stddev(amount)
              gapless week within site with 0 add moving = mean(a within site along week last 3)
            table best from kept per site, stall give n = count(), a = sum(amount), part = share(amount within site), last = last(note along sold_at, sale_id)
              only n >= 3 add place = rank(within site along a desc) only place <= 3 sort site, place
            table cross from kept per site against m = month(day) give a = sum(amount) totals
            table first_rows from s first 2 within site along amount desc, sale_id
            """;

    @TempDir
    Path folder;

    private final List<String[]> rows = new ArrayList<>();
    private Server server;

    @BeforeEach
    void records() throws IOException, SQLException {
        Random random = new Random(5);
        for (int i = 0; i < 1500; i++) {
            String at = java.time.LocalDateTime.of(2026, 5, 1, 11, 0)
                    .plusMinutes(i * 97L)
                    .toString();
            rows.add(new String[] {
                Integer.toString(i + 1),
                at,
                random.nextInt(25) == 0
                        ? null
                        : List.of("Quay", "Meadow", "Old Town").get(random.nextInt(3)),
                String.format("%03d", random.nextInt(12)),
                java.math.BigDecimal.valueOf(random.nextInt(9000) - 500, 2).toPlainString(),
                random.nextInt(3) == 0
                        ? null
                        : java.math.BigDecimal.valueOf(random.nextInt(300), 2).toPlainString(),
                Boolean.toString(random.nextInt(12) > 0),
                random.nextInt(4) == 0 ? "extra \"sauce\", é" : null
            });
        }
        server = Server.start();
        text();
        json();
        fixed();
        workbook();
        openSheet();
        SmallSheets.zip(folder.resolve("s.zip"), "may/s.csv", Files.readString(folder.resolve("s.csv")));
        database();
        try (Fiesta fiesta = fiesta().open();
                OutputStream out = Files.newOutputStream(folder.resolve("s.parquet"))) {
            Result all = fiesta.tables(
                            Parser.brief(new BriefText("t", "input s from 's.csv'" + FIELDS + " table t from s")),
                            folder,
                            Map.of())
                    .run(List.of("t"))
                    .get("t");
            new ParquetTable().write(all, out);
        }
        try (ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(folder.resolve("c.zip")))) {
            out.putNextEntry(new ZipEntry("may/s.parquet"));
            Files.copy(folder.resolve("s.parquet"), out);
            out.closeEntry();
        }
    }

    private void text() throws IOException {
        StringBuilder csv = new StringBuilder(String.join(",", NAMES)).append('\n');
        for (String[] row : rows) {
            List<String> cells = new ArrayList<>();
            for (String cell : row) {
                cells.add(cell == null ? "" : cell.contains("\"") ? '"' + cell.replace("\"", "\"\"") + '"' : cell);
            }
            csv.append(String.join(",", cells)).append('\n');
        }
        Files.writeString(folder.resolve("s.csv"), csv);
        try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(folder.resolve("p.csv.gz")))) {
            out.write(csv.toString().getBytes(StandardCharsets.UTF_8));
        }
    }

    private void json() throws IOException {
        List<String> lines = new ArrayList<>();
        for (String[] row : rows) {
            List<String> parts = new ArrayList<>();
            for (int i = 0; i < row.length; i++) {
                boolean plain = row[i] == null || i == 0 || i == 4 || i == 5 || i == 6;
                String value = plain ? String.valueOf(row[i]) : '"' + row[i].replace("\"", "\\\"") + '"';
                parts.add('"' + NAMES.get(i) + "\":" + value);
            }
            lines.add('{' + String.join(",", parts) + '}');
        }
        Files.write(folder.resolve("s.jsonl"), lines);
        Files.writeString(folder.resolve("s.json"), "{\"sales\": {\"list\": [\n" + String.join(",\n", lines) + "\n]}}");
    }

    private void fixed() throws IOException {
        int[] widths = {6, 20, 10, 4, 9, 7, 6, 20};
        List<String> lines = new ArrayList<>();
        for (String[] row : rows) {
            StringBuilder line = new StringBuilder();
            for (int i = 0; i < row.length; i++) {
                String cell = row[i] == null ? "" : row[i];
                line.append(cell).append(" ".repeat(widths[i] - cell.length()));
            }
            lines.add(line.toString());
        }
        Files.write(folder.resolve("s.txt"), lines);
    }

    private void workbook() throws IOException {
        try (Workbook book = new Workbook(Files.newOutputStream(folder.resolve("s.xlsx")), "test", "1.0")) {
            Worksheet sheet = book.newWorksheet("Sales");
            for (int c = 0; c < NAMES.size(); c++) {
                sheet.value(0, c, NAMES.get(c));
            }
            for (int r = 0; r < rows.size(); r++) {
                String[] row = rows.get(r);
                sheet.value(r + 1, 0, Integer.parseInt(row[0]));
                sheet.value(r + 1, 1, java.time.LocalDateTime.parse(row[1]));
                sheet.style(r + 1, 1).format("yyyy-MM-dd hh:mm").set();
                sheet.value(r + 1, 2, row[2]);
                sheet.value(r + 1, 3, row[3]);
                sheet.value(r + 1, 4, Double.parseDouble(row[4]));
                if (row[5] != null) {
                    sheet.value(r + 1, 5, Double.parseDouble(row[5]));
                }
                sheet.value(r + 1, 6, Boolean.parseBoolean(row[6]));
                sheet.value(r + 1, 7, row[7]);
            }
        }
    }

    private void openSheet() throws IOException {
        SmallSheets sheet = new SmallSheets()
                .sheet("Sales", false)
                .row(NAMES.stream().map(SmallSheets::text).toArray(String[]::new));
        for (String[] row : rows) {
            sheet.row(
                    SmallSheets.number(row[0]),
                    SmallSheets.cell("date", "office:date-value=\"" + row[1] + "\"", ""),
                    row[2] == null ? SmallSheets.empty(1) : SmallSheets.text(row[2]),
                    SmallSheets.text(row[3]),
                    SmallSheets.number(row[4]),
                    row[5] == null ? SmallSheets.empty(1) : SmallSheets.number(row[5]),
                    SmallSheets.cell("boolean", "office:boolean-value=\"" + row[6] + "\"", ""),
                    row[7] == null ? SmallSheets.empty(1) : SmallSheets.text(row[7]));
        }
        sheet.write(folder.resolve("s.ods"));
    }

    private void database() throws IOException, SQLException {
        server.does("drop schema if exists anysource cascade", "create schema anysource");
        Files.writeString(
                folder.resolve("connections.conf"),
                "shop\n  url " + server.url + "\n  user " + server.user + "\n  password from environment SHOP\n");
        server.does(
                "create table anysource.sales (sale_id int, sold_at timestamp, site text, stall text, amount numeric(9,2), "
                        + "tip numeric(9,2), settled boolean, note text)");
        StringBuilder insert = new StringBuilder("insert into anysource.sales values ");
        for (int r = 0; r < rows.size(); r++) {
            List<String> cells = new ArrayList<>();
            for (String cell : rows.get(r)) {
                cells.add(cell == null ? "null" : "'" + cell + "'");
            }
            insert.append(r == 0 ? "" : ", ")
                    .append('(')
                    .append(String.join(", ", cells))
                    .append(')');
        }
        server.does(insert.toString());
    }

    private FiestaBuilder fiesta() {
        return Fiesta.with()
                .threads(2)
                .memory(1 << 16)
                .reads(JsonLines.FORMAT)
                .reads(JsonDocuments.FORMAT)
                .reads(Workbooks.FORMAT)
                .reads(OpenSheets.FORMAT)
                .reads(ParquetFiles.FORMAT)
                .asks(JdbcDatabases.of(folder, Map.of("SHOP", server.password)));
    }

    private Map<String, String> tables(String input) throws IOException {
        return tables(input, fiesta());
    }

    /** What members of a crew make of it, who see only what is told or placed. */
    private Map<String, String> together(String input) throws IOException {
        FiestaBuilder settings = fiesta();
        try (LocalCrew crew = new LocalCrew(settings.member(), 3, 1, 0, 2)) {
            return tables(input, settings.crew(crew), 1);
        }
    }

    private Map<String, String> tables(String input, FiestaBuilder settings) throws IOException {
        return tables(input, settings, 0);
    }

    /** @param parts in how many it is read by members at least */
    private Map<String, String> tables(String input, FiestaBuilder settings, int parts) throws IOException {
        try (Fiesta fiesta = settings.open()) {
            Tables tables = fiesta.tables(
                    Parser.brief(new BriefText("t.brief", "input s from " + input + "\n" + TABLES)), folder, Map.of());
            Map<String, String> written = new LinkedHashMap<>();
            for (Map.Entry<String, Result> table : tables.run(tables.outputs()).entrySet()) {
                StringBuilder csv = new StringBuilder();
                table.getValue().write(csv, TextStyle.CSV);
                written.put(table.getKey(), csv.toString());
            }
            // Of a query nothing but its fields is known before.
            assertThat(tables.parts("s")).as(input).isGreaterThanOrEqualTo(parts);
            return written;
        }
    }

    @Test
    void allGiveTheSameBytes() throws IOException {
        Map<String, String> expected = tables("'s.csv'" + FIELDS);
        assertThat(expected.get("weekly").lines().count()).isGreaterThan(20);
        assertThat(expected.get("best").lines().count()).isGreaterThan(6);
        List<String> told = new ArrayList<>();
        Copies copies = Copies.in(folder.resolve("copies"), 1 << 30, told::add);
        for (String input : List.of(
                "'p.csv.gz'" + FIELDS,
                "'s.jsonl'" + FIELDS,
                "'s.json' items 'sales.list'" + FIELDS,
                "'s.parquet'",
                "'c.zip'",
                "'s.xlsx'" + FIELDS,
                "'s.ods'" + FIELDS,
                "'s.zip'" + FIELDS,
                "'s.txt' as fixed sale_id 1 to 6, sold_at 7 to 26, site 27 to 36, stall 37 to 40, amount 41 to 49, tip 50 to 56, "
                        + "settled 57 to 62, note from 63" + FIELDS,
                "database 'shop' query 'select * from anysource.sales order by sale_id'",
                "database 'shop' query 'select * from anysource.sales' parted by sale_id into 3")) {
            Map<String, String> found = tables(input);
            expected.forEach((name, csv) ->
                    assertThat(found.get(name)).as(input + ": " + name).isEqualTo(csv));
            assertThat(together(input)).as("by members: " + input).isEqualTo(expected);
            assertThat(tables(input, fiesta().copies(copies))).as(input).isEqualTo(expected);
            assertThat(tables(input, fiesta().copies(copies))).as(input).isEqualTo(expected);
        }
        assertThat(told).isEmpty();
        assertThat(copies.list().stream().map(c -> c.files().get(0))).contains("s.jsonl", "s.json", "s.txt", "s.xlsx");
    }
}
