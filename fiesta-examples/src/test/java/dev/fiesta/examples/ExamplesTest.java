package dev.fiesta.examples;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Result;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
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
