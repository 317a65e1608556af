package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.dynatrace.hash4j.hashing.HashStream64;
import com.dynatrace.hash4j.hashing.Hashing;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HexFormat;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A report is asked for again: files arrive, one is corrected late, and somebody asks why a figure moved. */
class StoryTest extends CommandTest {

    @BeforeEach
    void data() throws IOException {
        Files.createDirectories(folder.resolve("in"));
        Files.writeString(folder.resolve("in/sales-01.csv"), """
                day,site,item,amount
                2026-05-01,Quay,tea,3.10
                2026-05-01,Meadow,churros,8.40
                2026-05-02,Quay,tea,10.00
                2026-05-02,,tea,1.00
                """);
        Files.writeString(folder.resolve("takings.brief"), """
                parameter least decimal = 0
                input sales from 'in/sales-*.csv'
                table takings from sales
                  per site give sales = count(), takings = sum(amount), part = share(amount)
                  only takings >= :least
                  totals
                  check takings < 1000 'takings are small'
                table best from sales
                  per item give takings = sum(amount), dearest = max(amount)
                  first 1 along takings desc rest as 'Other'
                """);
    }

    private void run(String to) {
        assertThat(fiesta("run", path("takings.brief"), "--out", path(to), "--as", "csv,html"))
                .as(err.toString())
                .isZero();
    }

    @Test
    void whatIsUnchangedIsProvedEqual() throws IOException {
        run("first");
        assertThat(err.toString()).contains("Written: " + path("first/run.json"));
        assertThat(fiesta("repeat", path("first"))).isZero();
        assertThat(out.toString())
                .isEqualTo(
                        "Repeated: 2 tables came out equal, to the last figure (takings, best); the inputs are unchanged.\n");
        Files.writeString(folder.resolve("takings.brief"), "input sales from 'in/sales-*.csv' table t from sales");
        assertThat(fiesta("repeat", path("first/run.json"))).isZero();
        assertThat(err.toString())
                .contains("Note: The brief takings.brief was changed since; this is the one of the record.");
    }

    /** Records made before fingerprints were sums of two kinds are still proved. */
    @Test
    void olderFingerprintsAreStillRead() throws IOException {
        run("first");
        Path sales = folder.resolve("in/sales-01.csv");
        Path record = folder.resolve("first/run.json");
        Files.writeString(
                record,
                Files.readString(record)
                        .replaceFirst(
                                "(sales-01.csv\"[^}]*\"fingerprint\" : )\"[^\"]*\"", "$1\"" + older(sales) + "\""));
        assertThat(Files.readString(record)).contains("\"xxh3:");
        assertThat(fiesta("repeat", path("first"))).isZero();
        assertThat(out.toString()).contains("the inputs are unchanged");
        Files.writeString(sales, Files.readString(sales).replace("10.00", "12.00"));
        assertThat(fiesta("repeat", path("first"))).isEqualTo(1);
        assertThat(out.toString()).contains("in/sales-01.csv was changed, of the same size.");
    }

    private static String older(Path file) throws IOException {
        byte[] bytes = Files.readAllBytes(file);
        long piece = Hashing.xxh3_64().hashBytesToLong(bytes);
        HashStream64 all = Hashing.xxh3_64().hashStream().putLong(bytes.length).putLong(piece);
        return "xxh3:" + HexFormat.of().toHexDigits(all.getAsLong());
    }

    @Test
    void newFilesAndCorrectionsAreTold() throws IOException {
        run("first");
        Files.writeString(folder.resolve("in/sales-02.csv"), "day,site,item,amount\n2026-06-01,Old Town,fudge,4.00\n");
        Path corrected = folder.resolve("in/sales-01.csv");
        Files.writeString(corrected, Files.readString(corrected).replace("10.00", "12.00"));
        assertThat(fiesta("repeat", path("first"))).isEqualTo(1);
        assertThat(out.toString()).isEqualTo("""
                Input sales: in/sales-01.csv was changed, of the same size.
                Input sales: in/sales-02.csv is new.

                takings: 6 figures moved in 4 rows, 1 row only after, 0 rows the same
                  row             figure   before   after  difference  relative_change
                  ──────────────  ───────  ──────  ──────  ──────────  ───────────────
                  site=Total      takings   22.50   28.50       +6.00           +26.7%
                  site=Quay       takings   13.10   15.10       +2.00           +15.3%
                  site=Total      sales         4       5          +1           +25.0%
                  site=Meadow     part     0.3733  0.2947     -0.0786           -21.1%
                  site=Quay       part     0.5822  0.5298     -0.0524            -9.0%
                  site=(missing)  part     0.0444  0.0351     -0.0094           -21.1%
                  only after  site=Old Town

                best: 3 figures moved in 2 rows, 0 rows the same
                  row         figure   before  after  difference  relative_change
                  ──────────  ───────  ──────  ─────  ──────────  ───────────────
                  item=Other  takings    8.40  12.40       +4.00           +47.6%
                  item=tea    takings   14.10  16.10       +2.00           +14.2%
                  item=tea    dearest   10.00  12.00       +2.00           +20.0%

                """);
        run("second");
        assertThat(fiesta("compare", path("first"), path("second"), "--as", "csv"))
                .isEqualTo(1);
        assertThat(out.toString())
                .startsWith("table,kind,key,field,before,after,difference,relative_change\n")
                .contains("takings,only after,site=Old Town,,,,,\n")
                .contains("best,changed,item=tea,dearest,10.00,12.00,2.00,0.200000\n");
        assertThat(fiesta("compare", path("first"), path("first/run.json"))).isZero();
        assertThat(out.toString()).contains("takings: equal, 4 rows").contains("best: equal, 2 rows");
        assertThat(fiesta("compare", path("first"), path("second"), "--out", path("moved")))
                .isEqualTo(1);
        assertThat(Files.readString(folder.resolve("moved/comparison.html")))
                .contains("<mark>12.00</mark>", "only after");
    }

    @Test
    void aFigureIsOpened() {
        assertThat(fiesta("behind", path("takings.brief"), "takings", "site=Quay"))
                .isZero();
        assertThat(out.toString()).isEqualTo("""
                site  amount  day         item
                ────  ──────  ──────────  ────
                Quay    3.10  2026-05-01  tea
                Quay   10.00  2026-05-02  tea

                2 records
                  sales = 2   as in the table
                  takings = 13.10   as in the table
                """);
        assertThat(fiesta("behind", path("takings.brief"), "takings", "site=(missing)", "--as", "csv"))
                .isZero();
        assertThat(out.toString()).isEqualTo("site,amount,day,item\n,1.00,2026-05-02,tea\n");
        assertThat(fiesta("behind", path("takings.brief"), "best", "--rest")).isZero();
        assertThat(out.toString())
                .contains("churros    8.40")
                .contains("1 record\n")
                .contains("takings = 8.40");
        assertThat(fiesta("behind", path("takings.brief"), "takings", "--total", "--set", "least=5"))
                .isZero();
        assertThat(out.toString())
                .as("of the groups that stand")
                .contains("3 records")
                .contains("takings = 21.50");
        assertThat(fiesta("behind", path("takings.brief"), "takings", "size=3")).isEqualTo(2);
        assertThat(err.toString()).isEqualTo("'size' is no key of 'takings'. Did you mean 'site'?\n");
        assertThat(fiesta("behind", path("takings.brief"), "takings", "site=Pier"))
                .isEqualTo(2);
        assertThat(err.toString()).isEqualTo("'takings' has no row with site=Pier.\n");
        assertThat(fiesta("behind", path("takings.brief"), "takings", "--rest")).isEqualTo(2);
        assertThat(err.toString()).isEqualTo("'takings' has no 'rest as', so there is no rest to open.\n");
    }

    @Test
    void aMovingFigureIsOpenedToTheRowsOfItsFrame() throws IOException {
        Files.writeString(folder.resolve("moving.brief"), """
                input sales from 'in/sales-*.csv'
                table t from sales
                  add n = row_number(along amount)
                  add low = mean(amount only item = 'tea' along amount desc last 3), all_days = sum(amount along day last 1 day)
                """);
        assertThat(fiesta("behind", path("moving.brief"), "t", "amount=1.00", "--figure", "low", "--as", "csv"))
                .as(err.toString())
                .isZero();
        assertThat(out.toString())
                .as("those of the frame that meet the condition, as it walks")
                .isEqualTo("""
                day,site,item,amount,n
                2026-05-01,Quay,tea,3.10,2
                2026-05-02,,tea,1.00,1
                """);
        assertThat(fiesta("behind", path("moving.brief"), "t", "amount=8.40", "--figure", "all_days"))
                .isZero();
        assertThat(out.toString())
                .contains("tea        3.10")
                .contains("churros    8.40")
                .doesNotContain("10.00");
        assertThat(fiesta("behind", path("moving.brief"), "t", "amount=8.40", "--figure", "n"))
                .isEqualTo(2);
        assertThat(err.toString())
                .isEqualTo("'n' of 't' is no moving figure: no 'add' of the table gives it a frame.\n");
        assertThat(fiesta("behind", path("moving.brief"), "t", "amount=7", "--figure", "low"))
                .isEqualTo(2);
        assertThat(err.toString()).isEqualTo("'t' has no row with amount=7.\n");
        assertThat(fiesta("behind", path("moving.brief"), "t", "amount=7")).isEqualTo(2);
        assertThat(err.toString()).isEqualTo("The rows of 't' are records themselves.\n");
    }

    @Test
    void whatBehindCannotOpenIsSaid() {
        assertThat(fiesta("behind", path("takings.brief"), "takings")).isEqualTo(2);
        assertThat(err.toString())
                .isEqualTo("Say which row: site=…; or all of them together.\n  On the command line: --total\n");
        assertThat(fiesta("behind", path("takings.brief"), "takings", "Quay")).isEqualTo(2);
        assertThat(err.toString()).isEqualTo("Write keys as KEY=VALUE, not 'Quay'.\n");
        assertThat(fiesta("behind", path("takings.brief"), "takings", "--rest", "--total"))
                .isEqualTo(2);
        assertThat(err.toString()).isEqualTo("Either --total or --rest: no row is both.\n");
        assertThat(fiesta("run", path("takings.brief"), "--each", "least")).isEqualTo(2);
        assertThat(err.toString()).isEqualTo("--each writes a folder for each value: add --out DIR.\n");
    }

    @Test
    void aFailedCheckLeavesTheRecordAlone() throws IOException {
        Files.writeString(folder.resolve("in/sales-03.csv"), "day,site,item,amount\n2026-06-01,Quay,fudge,4000.00\n");
        assertThat(fiesta("run", path("takings.brief"), "--out", path("failed")))
                .isEqualTo(1);
        try (Stream<Path> files = Files.list(folder.resolve("failed"))) {
            assertThat(files.map(f -> f.getFileName().toString())).containsExactly("run.json");
        }
        assertThat(Files.readString(folder.resolve("failed/run.json")))
                .contains("\"outcome\" : \"fails\"")
                .contains("1 row does not meet it");
    }

    @Test
    void recordsNameNoMachineAndNoPlace() throws IOException {
        run("first");
        run("elsewhere/second");
        String first = Files.readString(folder.resolve("first/run.json"));
        String second = Files.readString(folder.resolve("elsewhere/second/run.json"));
        assertThat(first).doesNotContain(folder.toString()).doesNotContain(System.getProperty("user.name") + "@");
        assertThat(withoutClock(first))
                .isEqualTo(withoutClock(second).replace("\"folder\" : \"../..\"", "\"folder\" : \"..\""));
        for (String field :
                List.of("fiesta", "brief", "parameters", "inputs", "tables", "counted", "checks", "files", "when")) {
            assertThat(first).contains("\n  \"" + field + "\" : ");
        }
        assertThat(first)
                .contains("\"clause\" : \"only takings >= :least\",\n          \"rows\" : 3")
                .contains("\"records\" : 4")
                .containsPattern("\"fingerprint\" : \"crc:[0-9a-f]{16}\"")
                .contains("\"outcome\" : \"holds\"");
    }

    /** The record is what docs/run.schema.json says, no field more and none less. */
    @Test
    void recordsKeepToTheirSchema() throws IOException {
        run("first");
        JsonMapper json = JsonMapper.builder().build();
        JsonNode schema = json.readTree(Files.readString(Path.of("..", "docs", "run.schema.json")));
        hold(json.readTree(Files.readString(folder.resolve("first/run.json"))), schema, "run.json");
        Files.writeString(folder.resolve("in/sales-03.csv"), "day,site,item,amount\n2026-06-01,Quay,fudge,4000.00\n");
        assertThat(fiesta("run", path("takings.brief"), "--out", path("failed")))
                .isEqualTo(1);
        JsonNode failed = json.readTree(Files.readString(folder.resolve("failed/run.json")));
        hold(failed, schema, "run.json of a failed run");
        assertThat(failed.path("checks").get(0).path("outcome").asString()).isEqualTo("fails");
    }

    private static void hold(JsonNode value, JsonNode schema, String place) {
        switch (schema.path("type").asString()) {
            case "object" -> {
                assertThat(value.isObject()).as(place).isTrue();
                schema.path("required")
                        .forEach(r -> assertThat(value.has(r.asString()))
                                .as(place + " has " + r.asString())
                                .isTrue());
                JsonNode properties = schema.path("properties");
                value.properties().forEach(p -> {
                    boolean closed = schema.has("additionalProperties");
                    assertThat(properties.has(p.getKey()) || !closed)
                            .as(place + " may have " + p.getKey())
                            .isTrue();
                    if (properties.has(p.getKey())) {
                        hold(p.getValue(), properties.path(p.getKey()), place + "." + p.getKey());
                    }
                });
            }
            case "array" -> value.forEach(v -> hold(v, schema.path("items"), place + "[]"));
            case "integer" -> assertThat(value.isIntegralNumber()).as(place).isTrue();
            case "number" -> assertThat(value.isNumber()).as(place).isTrue();
            default -> assertThat(value.isString()).as(place).isTrue();
        }
    }

    private static String withoutClock(String record) {
        return Pattern.compile("\"when\" : \\{.*?\\}", Pattern.DOTALL)
                .matcher(record)
                .replaceAll("");
    }

    @Test
    void eachValueHasAFolder() throws IOException {
        Files.writeString(folder.resolve("one.brief"), """
                parameter site text
                parameter twice decimal = 2 * 1.05
                input sales from 'in/sales-*.csv'
                table t from sales
                  only site = :site
                  per item give takings = sum(amount * :twice)
                """);
        assertThat(fiesta("run", path("one.brief"), "--each", "site", "--out", path("parts"), "--as", "csv"))
                .as(err.toString())
                .isZero();
        assertThat(Files.readString(folder.resolve("parts/Quay/t.csv"))).isEqualTo("item,takings\ntea,27.5100\n");
        assertThat(fiesta(
                        "run",
                        path("one.brief"),
                        "--each",
                        "site",
                        "--set",
                        "site=Meadow,Quay",
                        "--out",
                        path("told"),
                        "--as",
                        "csv",
                        "--timing"))
                .isZero();
        assertThat(err.toString().lines().filter(l -> l.matches("sales +read .*")))
                .as("a missing site is counted for each value, which is then read apart")
                .hasSize(2);
        assertThat(folder.resolve("told/Quay/t.csv")).hasSameTextualContentAs(folder.resolve("parts/Quay/t.csv"));
        assertThat(Files.readString(folder.resolve("parts/Meadow/t.csv"))).isEqualTo("item,takings\nchurros,17.6400\n");
        assertThat(fiesta("run", path("one.brief"), "--set", "site=Quay", "--out", path("of {:site}"), "--as", "csv"))
                .isZero();
        assertThat(folder.resolve("of Quay/t.csv")).exists();
        assertThat(fiesta("run", path("one.brief"), "--each", "sites", "--out", path("parts")))
                .isEqualTo(2);
        assertThat(err.toString()).isEqualTo("The brief has no parameter 'sites'.\n");
    }

    @Test
    void comparisonsNeedKeysThatStandOnce() throws IOException {
        Files.writeString(folder.resolve("a.csv"), "site,n\nQuay,1\nQuay,2\n");
        Files.writeString(folder.resolve("b.csv"), "site,n\nQuay,1\nMeadow,2\n");
        assertThat(fiesta("compare", path("a.csv"), path("b.csv"), "--key", "site"))
                .isEqualTo(3);
        assertThat(err.toString())
                .isEqualTo(
                        "The key site=Quay stands twice in 'a'. Name the fields that make a row the one it is.\n  On the command line: --key FIELD\n");
        assertThat(fiesta("compare", path("a.csv"), path("b.csv"), "--key", "sight"))
                .isEqualTo(3);
        assertThat(err.toString()).isEqualTo("'a' has no field 'sight', which is to be its key. It has: site, n.\n");
        assertThat(fiesta("compare", path("a.csv"), path("b.csv"))).isEqualTo(1);
        assertThat(out.toString()).contains("only before  Quay, 2").contains("only after  Meadow, 2");
        assertThat(fiesta("compare", path("a.csv"), path("none"))).isEqualTo(2);
        assertThat(fiesta("repeat", path("a.csv"))).isEqualTo(2);
        assertThat(err.toString()).contains("is no run record: it is no JSON.");
    }

    @Test
    void watchingShowsWhatMoved() throws Exception {
        Thread change = new Thread(() -> {
            try {
                while (!out.toString().contains("takings")) {
                    Thread.sleep(50);
                }
                Thread.sleep(1200); // clocks of files may tick seconds only
                Path file = folder.resolve("in/sales-01.csv");
                Files.writeString(file, Files.readString(file).replace("3.10", "33.10"));
            } catch (InterruptedException | IOException e) {
                throw new IllegalStateException(e);
            }
        });
        change.start();
        assertThat(fiesta(
                        "watch",
                        path("takings.brief"),
                        "--runs",
                        "2",
                        "--parts",
                        "--table",
                        "takings",
                        "--figure",
                        "takings"))
                .isZero();
        change.join();
        assertThat(out.toString())
                .contains("site=Quay       takings   13.10   43.10      +30.00")
                .containsPattern("Quay +13\\.10 +43\\.10 +30\\.00 +0\\.00 +30\\.00")
                .contains("records: more or fewer of them; values: higher or lower ones.");
    }

    @Test
    void whatMovedIsToldOfOneFigureOnly() {
        assertThat(fiesta("watch", path("takings.brief"), "--parts", "--table", "takings"))
                .isEqualTo(2);
        assertThat(err.toString())
                .contains("--parts tells of one figure of one table: add --table NAME --figure NAME.");
        assertThat(fiesta("watch", path("takings.brief"), "--figure", "takings"))
                .isEqualTo(2);
        assertThat(err.toString()).contains("--table and --figure say something with --parts only.");
    }

    @Test
    void briefsUseOthers() throws IOException {
        Files.createDirectories(folder.resolve("parts"));
        Files.writeString(folder.resolve("parts/common.brief"), """
                parameter least decimal = 2
                input sales from '../in/sales-*.csv'
                table large from sales only amount >= :least
                table unused from sales
                """);
        Files.writeString(folder.resolve("m.brief"), """
                settings collate 'pt'
                use 'parts/common.brief'
                table t from large
                  per item = if item = 'tea' then 'águas' else item
                  give n = count()
                """);
        assertThat(fiesta("run", path("m.brief"), "--set", "least=3"))
                .as(err.toString())
                .isZero();
        assertThat(out.toString()).isEqualTo("""
                t

                item     n
                ───────  ─
                águas    2
                churros  1

                """);
        Files.writeString(folder.resolve("parts/common.brief"), "use '../m.brief'");
        assertThat(fiesta("check", path("m.brief"))).isEqualTo(2);
        assertThat(err.toString())
                .contains("parts/common.brief:1:1: '../m.brief' uses this brief, so neither can come first.");
        Files.writeString(folder.resolve("m.brief"), "use 'nowhere.brief'");
        assertThat(fiesta("check", path("m.brief"))).isEqualTo(2);
        assertThat(err.toString()).contains("There is no brief 'nowhere.brief'.");
    }

    @Test
    void stepsPlansAndLayouts() throws IOException {
        assertThat(fiesta("run", path("takings.brief"), "--steps", "--table", "takings"))
                .isZero();
        assertThat(out.toString())
                .contains("takings, from sales")
                .contains("      4 records, 4 fields")
                .contains("   4  per site give sales = count(), takings = sum(amount), part = share(amount)")
                .contains("      3 groups of site; new: sales, takings, part; gone: day, item, amount");
        assertThat(fiesta("ask", path("in/sales-01.csv"), "only amount > 5 sort amount", "--steps"))
                .isZero();
        assertThat(out.toString()).contains("2 of 4 records");
        assertThat(fiesta("plan", path("takings.brief"))).isZero();
        assertThat(out.toString())
                .contains(
                        "read sales: in/sales-01.csv\n  fields read: site text, item text, amount decimal(2)\n  passed over: day")
                .contains("groups by 1 key, 3 figures, states kept for totals, while reading");
        assertThat(fiesta("format", "--check", path("takings.brief"))).isEqualTo(1);
        assertThat(fiesta("format", path("takings.brief"))).isZero();
        assertThat(fiesta("format", "--check", path("takings.brief"))).isZero();
        assertThat(Files.readString(folder.resolve("takings.brief")))
                .contains("  per    site\n  give   sales = count()");
        assertThat(fiesta("help", "clauses")).isZero();
        assertThat(out.toString()).contains("hide FIGURE, … where CONDITION");
        assertThat(fiesta("help", "hide")).isZero();
    }
}
