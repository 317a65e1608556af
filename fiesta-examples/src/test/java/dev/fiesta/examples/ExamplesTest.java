package dev.fiesta.examples;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Result;
import dev.fiesta.report.Format;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.math.BigDecimal;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class ExamplesTest {
    @TempDir
    Path folder;

    private final ByteArrayOutputStream said = new ByteArrayOutputStream();
    private final PrintStream out = new PrintStream(said, true, StandardCharsets.UTF_8);

    private String said() {
        return said.toString(StandardCharsets.UTF_8);
    }

    @Test
    void theShippedFilesAreWhatTheGeneratorMakes() throws IOException {
        Ribera.unpack(folder.resolve("shipped"));
        Ribera.write(folder.resolve("made"), Ribera.SALES, Ribera.SEED);
        for (String file : Ribera.FILES) {
            if (file.endsWith(".csv")) {
                assertThat(folder.resolve("made").resolve(file))
                        .hasSameBinaryContentAs(folder.resolve("shipped").resolve(file));
            }
        }
    }

    @Test
    void otherNumbersOfSalesAreMadeToo() throws IOException {
        try (var file = Files.newOutputStream(folder.resolve("few.csv"))) {
            Ribera.writeSales(file, 1000, 1);
        }
        assertThat(Files.readAllLines(folder.resolve("few.csv"))).hasSize(1001);
    }

    @Test
    void leadingStalls() throws IOException {
        Ribera.unpack(folder);
        List<LeadingStalls.Leader> leaders = LeadingStalls.run(folder, out);
        assertThat(leaders).hasSize(12).allMatch(l -> l.place() <= 2 && l.sales() >= 50);
        assertThat(said()).startsWith("site").contains("Lighthouse");
    }

    @Test
    void takingsReport() throws IOException {
        Ribera.unpack(folder);
        List<Path> written = TakingsReport.run(folder, out);
        assertThat(written)
                .extracting(p -> p.getFileName().toString())
                .containsExactly("report.html", "weekly.csv", "best.csv", "by_kind.csv");
        assertThat(Files.readString(written.get(0))).contains("Settled sales from 1 July 2026 on. The 6 stalls below");
        assertThat(Files.readAllLines(written.get(1)).get(1)).startsWith("Orchard,2026-06-29,");
    }

    @Test
    void ownRecords() {
        Result result = OwnRecords.run(out);
        assertThat(result.row(2).decimal("so_far")).isEqualTo(new BigDecimal("1011.25"));
        assertThat(result.row(4).real("change")).isEqualTo(0.5);
        assertThat(said()).isEqualTo("""
                stall  day         takings  Mean of 3 days  change    So far
                ─────  ──────────  ───────  ──────────────  ──────  ────────
                001    2026-05-01   310.50          310.50       –    310.50
                001    2026-05-02   298.00          304.25   -4.0%    608.50
                001    2026-05-03   402.75          337.08   35.2%  1,011.25
                007    2026-05-01   120.00          120.00       –    120.00
                007    2026-05-03   180.00          150.00   50.0%    300.00
                """);
    }

    /** With a table of a database too where a server is named, as {@code .ci/run} does. */
    @Test
    void samePlaces() throws IOException {
        Map<String, String> environment = new HashMap<>();
        if (System.getenv("FIESTA_TEST_POSTGRES") != null) {
            environment.put("RIBERA_URL", System.getenv("FIESTA_TEST_POSTGRES"));
            environment.put("RIBERA_USER", System.getenv("FIESTA_TEST_USER"));
            environment.put("RIBERA_PASSWORD", System.getenv("FIESTA_TEST_PASSWORD"));
        }
        Map<String, String> found = SamePlaces.run(folder, environment, out);
        assertThat(found).hasSize(environment.isEmpty() ? 2 : 3);
        assertThat(found.get("text").lines().count()).isGreaterThan(100);
        assertThat(found.values()).containsOnly(found.get("text"));
        assertThat(said()).contains("columns: ").doesNotContain("others");
    }

    @Test
    void recordsToReport() {
        ByteArrayOutputStream page = new ByteArrayOutputStream();
        RecordsToReport.write(() -> RecordsToReport.sales(3_000), Format.MARKDOWN, page);
        assertThat(page.toString(StandardCharsets.UTF_8))
                .contains("# Takings of three stalls")
                .contains("From 2026-05-08")
                .contains("| **Total** | **2,247** |");
        page.reset();
        RecordsToReport.write(() -> RecordsToReport.sales(60), Format.PDF, page);
        assertThat(page.toString(StandardCharsets.ISO_8859_1)).startsWith("%PDF");
    }

    @Test
    void ownFunction() {
        Result result = OwnFunction.run(out);
        assertThat(result.decimals("tax").units()).containsExactly(260, 130);
        assertThat(said()).contains("Stall").contains("22.60");
    }

    @Test
    void reportServer() throws IOException, InterruptedException {
        Ribera.unpack(folder);
        HttpClient client = HttpClient.newHttpClient();
        try (ReportServer server = new ReportServer(folder, 0)) {
            for (String asked :
                    List.of("takings.html", "takings.xlsx", "takings.pdf", "takings.md?from_day=2026-07-01")) {
                HttpResponse<byte[]> answer = ask(client, server, asked);
                assertThat(answer.statusCode()).as(asked).isEqualTo(200);
                assertThat(answer.body()).as(asked).hasSizeGreaterThan(1_000);
            }
            assertThat(new String(ask(client, server, "takings.pdf").body(), StandardCharsets.ISO_8859_1))
                    .startsWith("%PDF");
            assertThat(ask(client, server, "other.html").statusCode()).isEqualTo(404);
            HttpResponse<byte[]> wrong = ask(client, server, "takings.html?from_day=soon");
            assertThat(wrong.statusCode()).isEqualTo(400);
            assertThat(new String(wrong.body(), StandardCharsets.UTF_8))
                    .contains("The parameter 'from_day' is a date, and 'soon' is not.");
        }
    }

    private static HttpResponse<byte[]> ask(HttpClient client, ReportServer server, String what)
            throws IOException, InterruptedException {
        URI address = URI.create("http://localhost:" + server.port() + "/" + what);
        return client.send(HttpRequest.newBuilder(address).build(), HttpResponse.BodyHandlers.ofByteArray());
    }

    @Test
    void nightlyJob() throws IOException {
        Ribera.unpack(folder);
        LocalDate night = LocalDate.of(2026, 9, 30);
        assertThat(NightlyJob.run(folder, night, out)).isZero();
        Path sales = folder.resolve("sales-2026-07.csv");
        Files.writeString(sales, Files.readString(sales).replaceFirst(",settled,", ",voided,"));
        assertThat(NightlyJob.run(folder, night.plusDays(1), out)).isZero();
        assertThat(said()).contains("Written: nights/2026-10-01").contains("weekly");
        Files.writeString(sales, "");
        assertThat(NightlyJob.run(folder, night.plusDays(2), out)).isEqualTo(3);
        assertThat(said()).contains("The night of 2026-10-02 failed");
        assertThat(folder.resolve("nights/2026-10-02")).doesNotExist();
    }

    @Test
    void queryTable() throws SQLException {
        Assumptions.assumeTrue(System.getenv("FIESTA_TEST_POSTGRES") != null, "no server of databases is told of");
        try (Connection connection = DriverManager.getConnection(
                        System.getenv("FIESTA_TEST_POSTGRES"),
                        System.getenv("FIESTA_TEST_USER"),
                        System.getenv("FIESTA_TEST_PASSWORD"));
                Statement statement = connection.createStatement()) {
            statement.execute(
                    "create temporary table sales (site text, status text, sold_at timestamp, amount numeric(9,2))");
            statement.execute("insert into sales values ('Quay', 'settled', '2026-05-02 10:00', 7.50), "
                    + "('Quay', 'voided', '2026-05-02 10:00', 99), ('Meadow', 'settled', '2026-05-02 11:00', 2.50)");
            assertThat(QueryTable.run(connection, LocalDate.of(2026, 5, 1), out))
                    .containsExactly(
                            new QueryTable.SiteTakings("Quay", 1, 0.75), new QueryTable.SiteTakings("Meadow", 1, 0.25));
        }
    }

    @Test
    void ownFormat() {
        Result result = OwnFormat.run(out);
        assertThat(result.rows()).isEqualTo(2);
        assertThat(said()).isEqualTo("Old Town: 1 visits, 4 at 013\nQuay: 2 visits, 2 at 001\n");
    }

    @Test
    void reportAgain() throws IOException {
        ReportAgain.run(folder, out);
        assertThat(said())
                .startsWith("Unchanged: true\n")
                .contains("Changed: sales: sales-2026-06.csv was changed, 1 byte shorter")
                .contains("Changed: sales: sales-2026-07.csv is new")
                .contains("by_kind: ")
                .contains("as the table shows: true");
        assertThat(folder.resolve("july/run/by_kind.csv.gz")).exists();
    }
}
