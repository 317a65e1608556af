package dev.fiesta;

import static dev.fiesta.Asking.lines;
import static dev.fiesta.Asking.table;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.CheckException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What can follow {@code against}: rows are laid out, and have totals. */
class CrossedTest {
    private static final String SALES = "site,method,amount\n"
            + "Quay,card,1\nQuay,cash,40\nQuay,token,60\nMeadow,card,7\nMeadow,cash,9\nOld Town,card,500\n";

    private static List<String> asked(String clauses) {
        return lines(table(SALES).then(clauses).run());
    }

    @Test
    void rowsAreSortedByTheirTotalUnderTheFiguresOwnName() {
        assertThat(asked("per site against method give s = sum(amount) sort s desc"))
                .containsExactly("site,card,cash,token", "Old Town,500,,", "Quay,1,40,60", "Meadow,7,9,");
        assertThat(asked("per site against method give s = sum(amount) first 2 along Total desc totals"))
                .containsExactly(
                        "site,card,cash,token,Total", "Old Town,500,,,500", "Quay,1,40,60,101", "Total,501,40,60,601");
    }

    @Test
    void totalsAreOfTheRowsThatStandWhereTheyAreWritten() {
        assertThat(asked("per site against method give s = sum(amount) only Total < 200 totals"))
                .containsExactly(
                        "site,card,cash,token,Total", "Meadow,7,9,,16", "Quay,1,40,60,101", "Total,8,49,60,117");
    }

    @Test
    void fixedColumnsHaveNames() {
        assertThat(asked("per site against method in ('card', 'cash') with 0 give s = sum(amount)"
                        + " add part = card / Total, place = rank(along cash desc) totals sort part"))
                .containsExactly(
                        "site,card,cash,Total,part,place",
                        "Quay,1,40,41,0.024390243902439025,1",
                        "Meadow,7,9,16,0.4375,2",
                        "Old Town,500,0,500,1,3",
                        "Total,508,49,557,0.9120287253141831,");
    }

    @Test
    void columnsTakePatternsAndOthers() {
        Result result = table(SALES)
                .then(
                        "per site against method give s = sum(amount), n = count() columns site 'Where', '*s' money, others")
                .run();
        assertThat(result.view().stream().map(ViewColumn::field))
                .containsExactly("site", "card s", "cash s", "token s", "card n", "cash n", "token n");
        assertThat(result.view().get(1).formats().get(0).name()).isEqualTo("money");
        assertThat(asked("per site against method give s = sum(amount), n = count() first 1 sort \"Total n\""))
                .containsExactly("site,card s,card n,cash s,cash n,token s,token n", "Meadow,7,1,9,1,,");
    }

    @Test
    void checksHoldLaidOutRows() {
        assertThat(asked("per site against method give s = sum(amount) check Total > 15 check rows = 3"))
                .hasSize(4);
        assertThatThrownBy(() -> asked("per site against method give s = sum(amount) check Total > 16"))
                .isInstanceOf(CheckException.class)
                .hasMessageContaining("1 row does not meet it")
                .hasMessageContaining("site Meadow");
    }

    @Test
    void whatCannotFollowIsSaid() {
        assertThatThrownBy(() -> asked("per site against method give s = sum(amount) only card > 3"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("'card' cannot be named here: after 'against' the columns come from the data.")
                .hasMessageContaining("Name keys or totals (site, Total, s), or fix the columns");
        assertThatThrownBy(() -> asked("per site against method give s = sum(amount) distinct site"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("After 'against' rows are laid out; 'only', 'add', 'sort'")
                .hasMessageContaining("Do this in a table of its own before");
        assertThatThrownBy(() -> asked("per site against method in ('site') give s = sum(amount)"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("'against' would make two columns named 'site'.");
        assertThatThrownBy(() -> asked("per site against method give s = sum(amount) totals by site"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("Subtotals are not laid out with 'against'.");
    }

    /** What is hidden, and totals of parts of rows, are the same where the groups stand in the file. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "per stall against method give s = sum(amount), n = count() hide s where n < 3 totals",
                "per stall against method give s = sum(amount), n = count() hide s, n where n < 3",
                "per stall against method with 0 give s = sum(amount) hide s where s between 1 and 30 totals sort Total desc",
                "per stall against method give s = sum(amount) hide s where s < 20 only Total > 100 first 20 along Total desc totals",
                "per site, stall against method give s = sum(amount), p = share(amount within site, stall) totals",
                "per site, stall against method give p = share(amount within site) totals",
                "per stall against site, method give s = sum(amount) hide s where s < 10 totals"
            })
    void ofAnyNumberOfRows(String clauses, @TempDir Path folder) throws IOException {
        SplittableRandom random = new SplittableRandom(7);
        List<String> lines = new ArrayList<>(List.of("site,stall,method,amount"));
        for (int i = 0; i < 3_000; i++) {
            lines.add(String.join(
                    ",",
                    List.of("Quay", "Meadow").get(random.nextInt(2)),
                    "stall-" + random.nextInt(300),
                    List.of("card", "cash", "token", "").get(random.nextInt(4)),
                    random.nextInt(20) == 0 ? "" : Integer.toString(random.nextInt(-5, 60))));
        }
        Path sales = Files.write(folder.resolve("sales.csv"), lines);
        List<List<String>> each = new ArrayList<>();
        for (long memory : new long[] {1 << 30, 60_000, 1}) {
            try (Fiesta fiesta = Fiesta.with().threads(2).memory(memory).open();
                    Result result = fiesta.read(sales).then(clauses).run()) {
                List<String> shown = new ArrayList<>(lines(result));
                result.totals().forEach(t -> shown.add(t.values().toString()));
                each.add(shown);
            }
        }
        assertThat(each.get(0)).hasSizeGreaterThan(5);
        assertThat(each.get(1)).isEqualTo(each.get(0));
        assertThat(each.get(2)).isEqualTo(each.get(0));
    }
}
