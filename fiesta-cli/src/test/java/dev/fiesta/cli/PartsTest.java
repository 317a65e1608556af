package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.util.Arrays;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** {@code fiesta compare --parts}: what moved a figure. */
class PartsTest extends CommandTest {
    private static final String BRIEF =
            "parameter least decimal(2) = 0\ninput sales from 'sales.csv' fields amount decimal(2)\n"
                    + "table monthly from sales only amount >= :least per site, month give takings = sum(amount), usual = mean(amount)\n"
                    + "  columns site, month, takings money, usual number 2\n"
                    + "table by_site from sales only amount >= :least per site give takings = sum(amount)\n";

    @BeforeEach
    void data() throws IOException {
        Files.writeString(
                folder.resolve("sales.csv"),
                "site,month,amount\nQuay,2026-05-01,10\nQuay,2026-05-01,20\nMeadow,2026-05-01,5\nQuay,2026-06-01,90\nMeadow,2026-06-01,5\n");
        Files.writeString(folder.resolve("s.brief"), BRIEF);
    }

    private int parts(String figure, String... more) {
        String[] all = {
            "compare",
            path("s.brief"),
            "--parts",
            "--table",
            "monthly",
            "--figure",
            figure,
            "--period",
            "month",
            "--between",
            "2026-05-01",
            "2026-06-01"
        };
        String[] args = Stream.concat(Arrays.stream(all), Arrays.stream(more)).toArray(String[]::new);
        return fiesta(args);
    }

    @Test
    void twoPeriodsOfABrief() {
        assertThat(parts("takings")).isEqualTo(1);
        assertThat(out.toString()).isEqualTo("""
                        takings by site, month 2026-05-01 to 2026-06-01

                        site    before  after   part  records  values
                        ──────  ──────  ─────  ─────  ───────  ──────
                        Quay     30.00  90.00  60.00   -52.50  112.50
                        Meadow    5.00   5.00   0.00     0.00    0.00
                        ──────  ──────  ─────  ─────  ───────  ──────
                        Total    35.00  95.00  60.00   -52.50  112.50

                        records: more or fewer of them; values: higher or lower ones.
                        """);
        assertThat(parts("usual", "--as", "csv")).isEqualTo(1);
        assertThat(out.toString())
                .startsWith("site,before,after,part,mix,level\nQuay,15.000000000000,90.000000000000,")
                .contains("\nTotal,11.666666666667,47.500000000000,35.833333333333,");
        assertThat(parts("takings", "--set", "least=50")).isEqualTo(2);
        assertThat(err.toString()).contains("No row of 'monthly' has the month 2026-05-01. There are 2026-06-01.");
        assertThat(parts("takings", "--out", path("out"), "--as", "json")).isEqualTo(1);
        assertThat(folder.resolve("out/parts.json")).content().contains("\"part\":60.00");
        assertThat(parts("usual", "--out", path("out"))).isEqualTo(1);
        assertThat(folder.resolve("out/parts.html"))
                .content()
                .contains("<title>usual by site, month 2026-05-01 to 2026-06-01</title>")
                .contains("<th scope=\"col\" class=\"right brief barred\">part</th>")
                .contains("<i style=\"margin-left:50%;width:50%\"></i>", "<i style=\"margin-left:45%;width:5%\"></i>")
                .contains("mix: a larger or smaller share of the records; level: higher or lower values of its own.");
    }

    @Test
    void twoRuns() throws IOException {
        for (String least : new String[] {"0", "10"}) {
            assertThat(fiesta(
                            "run",
                            path("s.brief"),
                            "--set",
                            "least=" + least,
                            "--as",
                            "csv",
                            "--out",
                            path("run-" + least)))
                    .isZero();
        }
        String[] between = {
            "compare", path("run-0"), path("run-10"), "--parts", "--table", "by_site", "--figure", "takings"
        };
        assertThat(fiesta(between)).isEqualTo(1);
        assertThat(out.toString())
                .contains("takings by site\n")
                .containsPattern("Meadow +10\\.00 +0\\.00 +-10\\.00 +-10\\.00 +0\\.00");
        assertThat(fiesta(
                        "compare",
                        path("run-0"),
                        path("run-0"),
                        "--parts",
                        "--table",
                        "by_site",
                        "--figure",
                        "takings"))
                .as("nothing moved")
                .isZero();
        Files.writeString(folder.resolve("sales.csv"), "site,month,amount\nQuay,2026-05-01,10\n");
        assertThat(fiesta(between)).isEqualTo(2);
        assertThat(err.toString())
                .contains(
                        "The parts of a figure are worked out from the inputs of its run, and those of s.brief are not what "
                                + "they were: sales: sales.csv was changed, ");
    }

    @Test
    void whatIsLackingIsTold() {
        assertThat(fiesta("compare", path("s.brief"), "--parts")).isEqualTo(2);
        assertThat(err.toString())
                .contains("--parts tells of one figure of one table: add --table NAME --figure NAME.");
        assertThat(fiesta("compare", path("s.brief"), "--parts", "--table", "t", "--figure", "f"))
                .isEqualTo(2);
        assertThat(err.toString()).contains("The parts are those between two runs, or of a brief with --period KEY");
        assertThat(fiesta("compare", path("a"), path("b"), "--parts", "--table", "t", "--figure", "f", "--period", "p"))
                .isEqualTo(2);
        assertThat(err.toString()).contains("--period is a key of one brief, and --between has two of its values.");
        assertThat(parts("takings", "--as", "pdf")).isEqualTo(2);
        assertThat(err.toString()).contains("--parts answers as terminal, html, csv, tsv, json or jsonl.");
        assertThat(fiesta("compare", path("a.csv"), "--table", "t")).isEqualTo(2);
        assertThat(err.toString()).contains("say something with --parts only");
        assertThat(fiesta("compare", path("a.csv"))).isEqualTo(2);
        assertThat(err.toString()).contains("B is missing: fiesta compare A B.");
    }
}
