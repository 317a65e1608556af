package dev.fiesta;

import static dev.fiesta.Asking.lines;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.BriefException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.SplittableRandom;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Totals, rests and cross-tabulations say what plain groupings of the same records say. */
class TotalsTest {
    private static final String FIGURES =
            "give n = count(), s = sum(amount), m = mean(amount), d = stddev(amount), q = median(amount), k = count_distinct(item), f = first(item), s2 = s * 2";

    @TempDir
    Path folder;

    private Fiesta fiesta = Fiesta.open();
    private Table sales = fiesta.records(Sale.class, List.of());

    record Sale(String site, String method) {}

    @BeforeEach
    void data() throws IOException {
        SplittableRandom random = new SplittableRandom(4);
        StringBuilder text = new StringBuilder("site,method,item,week,amount\n");
        String[] sites = {"Quay", "Meadow", "Old Town", ""};
        String[] methods = {"card", "cash", "token"};
        for (int i = 0; i < 400; i++) {
            text.append(sites[random.nextInt(4)])
                    .append(',')
                    .append(methods[random.nextInt(3)])
                    .append(",item ")
                    .append(random.nextInt(9))
                    .append(',')
                    .append("2026-05-")
                    .append(10 + random.nextInt(3) * 7)
                    .append(',');
            text.append(random.nextInt(9) == 0 ? "" : random.nextInt(-500, 9000) / 100.0)
                    .append('\n');
        }
        Path file = folder.resolve("sales.csv");
        Files.writeString(file, text.toString());
        fiesta = Fiesta.with().threads(2).open();
        sales = fiesta.read(file);
    }

    @Test
    void totalsAreWhatTheRecordsGive() {
        Result result =
                sales.then("per site, method " + FIGURES + " totals by site").run();
        List<String> bySite = lines(sales.then("per site " + FIGURES).run());
        String all = lines(sales.then("per all " + FIGURES).run()).get(1);
        List<String> expected = new ArrayList<>();
        bySite.subList(1, bySite.size()).forEach(l -> expected.add(l.replaceFirst(",", ",Total,")));
        expected.add("Total,," + all);
        assertThat(lines(result).stream().filter(l -> l.contains("Total"))).containsExactlyElementsOf(expected);
        assertThat(result.rows()).as("totals are no rows").isEqualTo(12);
        assertThat(result.totals()).hasSize(5).filteredOn(TotalRow::grand).hasSize(1);
    }

    @Test
    void totalsAreOfWhatStandsAndFollowTheirRows() {
        Result result = sales.then("per site, method give s = sum(amount) only s > 1500 totals sort s desc")
                .run();
        String total = lines(result).get(result.rows() + 1);
        String expected = lines(sales.then(
                                "add one = 1 per site, method give s = sum(amount) only s > 1500 per all give s = sum(s)")
                        .run())
                .get(1);
        assertThat(total).isEqualTo("Total,," + expected);
    }

    @Test
    void sharesOfTotalsAreTakenOverTheirWiderGroups() {
        Result result = sales.then(
                        "per site, method give p = share(amount within site), a = share(amount) totals by site")
                .run();
        assertThat(result.totals().subList(0, 4))
                .allMatch(t -> t.values().get("p").equals(1.0));
        assertThat(result.totals().get(4).values().get("p"))
                .as("of no one site")
                .isNull();
        assertThat(result.totals().get(4).values().get("a")).isEqualTo(1.0);
    }

    @Test
    void theRestIsWorkedOutFromItsRecords() {
        Result result = sales.then(
                        "per site, method " + FIGURES + " first 1 within site along s desc rest as 'Other' totals")
                .run();
        assertThat(result.rows()).isEqualTo(8);
        String best = lines(result).get(1).split(",")[1];
        String other = lines(sales.then("only site = 'Meadow' and method <> '" + best + "' per site " + FIGURES)
                        .run())
                .get(1);
        assertThat(lines(result).get(2)).isEqualTo(other.replaceFirst(",", ",Other,"));
        assertThat(lines(result).get(9))
                .isEqualTo("Total,,"
                        + lines(sales.then("per all " + FIGURES).run()).get(1));
        assertThat(sales.then("per method give s = sum(amount) first 2 along s")
                        .run()
                        .rows())
                .isEqualTo(2);
    }

    @Test
    void crossTabulationsLayTheSameFiguresOut() {
        Result wide = sales.then("per site against method give n = count(), s = sum(amount) totals")
                .run();
        Result tall =
                sales.then("per site, method give n = count(), s = sum(amount)").run();
        assertThat(wide.schema().names())
                .containsExactly(
                        "site", "card n", "card s", "cash n", "cash s", "token n", "token s", "Total n", "Total s");
        for (Row row : tall) {
            Row found = wide.stream()
                    .filter(w -> Objects.equals(w.get("site"), row.get("site")))
                    .findFirst()
                    .orElseThrow();
            assertThat(found.get(row.text("method") + " s")).isEqualTo(row.get("s"));
        }
        assertThat(wide.totals().get(0).values().get("Total n")).isEqualTo(400L);
        assertThat(wide.totals().get(0).values().get("cash n"))
                .isEqualTo(sales.then("only method = 'cash' per all give n = count()")
                        .run()
                        .row(0)
                        .get("n"));
    }

    @Test
    void columnsOfACrossTabulationCanBeChosen() {
        Result chosen = sales.then(
                        "per week against method in ('token', 'cheque', 'card') with 0 give n = count() totals")
                .run();
        assertThat(chosen.schema().names()).containsExactly("week", "token", "cheque", "card", "Total");
        assertThat(chosen.longs("cheque")).containsOnly(0);
        Result rest = sales.then("per week against method in ('card') rest as 'other' give n = count() totals")
                .run();
        assertThat(rest.schema().names()).containsExactly("week", "card", "other", "Total");
        assertThat(rest.totals().get(0).values().get("Total")).isEqualTo(400L);
    }

    @Test
    void gapsAreFilled() throws IOException {
        Path file = folder.resolve("gaps.csv");
        Files.writeString(file, "stall,day,amount\n001,2026-05-04,5\n001,2026-05-20,7\n007,2026-05-12,1\n");
        Table weekly = fiesta.read(file)
                .then("per stall, week = start_of_week(day) give n = count(), s = sum(amount), m = mean(amount)");
        assertThat(lines(weekly.then("gapless week within stall with 0").run()))
                .containsExactly(
                        "stall,week,n,s,m",
                        "001,2026-05-04,1,5,5",
                        "001,2026-05-11,0,0,",
                        "001,2026-05-18,1,7,7",
                        "007,2026-05-04,0,0,",
                        "007,2026-05-11,1,1,1",
                        "007,2026-05-18,0,0,");
        assertThat(weekly.then("gapless week from 2026-04-27 to 2026-05-25")
                        .run()
                        .rows())
                .isEqualTo(10);
        Path stalls = folder.resolve("stalls.csv");
        Files.writeString(stalls, "stall\n001\n002\n007\n");
        Table idle = fiesta.read(file).then("per stall give s = sum(amount)");
        assertThat(lines(idle.gapless(fiesta.read(stalls), "stall", "with 0").run()))
                .containsExactly("stall,s", "001,12", "002,0", "007,1");
    }

    @Test
    void whatCannotBeTotalledIsExplained() {
        assertThatThrownBy(() -> sales.then("totals"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("'totals' must stand in the table that groups");
        assertThatThrownBy(() -> sales.then("per site, method give n = count() totals by method"))
                .hasMessageContaining("Subtotals go by the first keys of the grouping, not by 'method'.");
        assertThatThrownBy(() -> sales.then("per site, method give n = count() distinct n totals"))
                .hasMessageContaining("before 'append', 'distinct' or 'turn'");
        assertThatThrownBy(() -> sales.then("per amount give n = count() first 1 along n desc rest as 'Other'"))
                .hasMessageContaining("needs a text key");
        assertThatThrownBy(() -> sales.then("per site against method give n = count() distinct site"))
                .hasMessageContaining("After 'against' rows are laid out; 'only', 'add', 'sort'");
        assertThatThrownBy(() -> sales.then("per site, amount give n = count() gapless amount"))
                .hasMessageContaining("nobody can tell which values are lacking");
    }
}
