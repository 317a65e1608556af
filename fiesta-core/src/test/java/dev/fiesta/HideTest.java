package dev.fiesta;

import static dev.fiesta.Asking.lines;
import static dev.fiesta.Asking.table;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.BriefException;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

/** Small figures are kept from being shown, and no total tells them. */
class HideTest {
    private static final String SALES = "site,method,amount\n"
            + "Quay,card,1\nQuay,card,2\nQuay,card,3\nQuay,cash,40\nQuay,cash,50\nQuay,token,60\n"
            + "Meadow,card,7\nMeadow,card,8\nMeadow,cash,9\nMeadow,cash,10\nMeadow,token,11\nMeadow,token,12\n";

    @Test
    void figuresOfSmallGroupsAreNotShown() {
        Result result = table(SALES)
                .then("per site, method give n = count(), s = sum(amount) hide s where n < 2")
                .run();
        assertThat(lines(result))
                .containsExactly(
                        "site,method,n,s",
                        "Meadow,card,2,15",
                        "Meadow,cash,2,19",
                        "Meadow,token,2,23",
                        "Quay,card,3,6",
                        "Quay,cash,2,90",
                        "Quay,token,1,·");
        assertThat(result.isHidden("s", 5)).isTrue();
        assertThat(result.isHidden("n", 5)).isFalse();
        assertThat(result.shown("s", 5)).isEqualTo(Result.HIDDEN);
    }

    @Test
    void aSingleHiddenPartOfATotalGetsCompany() {
        Result result = table(SALES)
                .then("per site, method give n = count(), s = sum(amount) totals by site hide s where n < 2")
                .run();
        assertThat(lines(result))
                .containsExactly(
                        "site,method,n,s",
                        "Meadow,card,2,15",
                        "Meadow,cash,2,19",
                        "Meadow,token,2,23",
                        "Meadow,Total,6,57",
                        "Quay,card,3,·",
                        "Quay,cash,2,90",
                        "Quay,token,1,·",
                        "Quay,Total,6,156",
                        "Total,,12,213");
    }

    @Test
    void aSingleHiddenPartWithoutAValueGetsCompanyToo() {
        String withGap = SALES + "Grove,card,7\nGrove,card,8\nGrove,cash,9\nGrove,cash,10\nGrove,token,\n";
        assertThat(lines(table(withGap)
                        .then("only site = 'Grove' per site, method give n = count(), s = sum(amount)"
                                + " totals by site hide s where n < 2")
                        .run()))
                .containsExactly(
                        "site,method,n,s",
                        "Grove,card,2,·",
                        "Grove,cash,2,19",
                        "Grove,token,1,·",
                        "Grove,Total,5,34",
                        "Total,,5,34");
        assertThat(lines(table(withGap)
                        .then("only site = 'Grove' per site against method give s = sum(amount)"
                                + " hide s where s is missing totals")
                        .run()))
                .containsExactly("site,card,cash,token,Total", "Grove,·,·,·,34", "Total,15,19,,34");
    }

    @Test
    void aHiddenFigureStaysHiddenInTablesOverItsTableAndUnderOtherNames() {
        Table small = table(SALES).then("per site, method give n = count(), s = sum(amount) hide s where n < 2");
        Result result = small.then("sort s desc rename s as takings add again = takings drop n first 3")
                .run();
        assertThat(lines(result))
                .containsExactly(
                        "site,method,takings,again", "Quay,cash,90,90", "Quay,token,·,·", "Meadow,token,23,23");
    }

    /** What is asked for twice is one figure of two names. */
    @Test
    void aFigureOfTwoNamesIsHiddenUnderBoth() {
        assertThat(lines(table(SALES)
                        .then("per site, method give n = count(), s = sum(amount), t = sum(amount) hide t where n < 2"
                                + " first 2 within site, method sort s desc first 2")
                        .run()))
                .containsExactly("site,method,n,s,t", "Quay,cash,2,90,90", "Quay,token,1,·,·");
    }

    @Test
    void cellsOfACrossTabulationAreHiddenByTheirOwnRecords() {
        Result result = table(SALES)
                .then("per site against method give s = sum(amount) hide s where s > 55 totals")
                .run();
        assertThat(lines(result))
                .containsExactly(
                        "site,card,cash,token,Total", "Meadow,15,·,·,57", "Quay,6,·,·,156", "Total,21,109,83,213");
    }

    /** Whatever is hidden, in no row and no column is exactly one cell hidden where another could be hidden too. */
    @Test
    void noHiddenCellStandsAlone() {
        for (long seed = 0; seed < 200; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            StringBuilder text = new StringBuilder("a,b,x\n");
            for (int i = 0; i < 40; i++) {
                text.append(random.nextInt(5))
                        .append(',')
                        .append(random.nextInt(4))
                        .append(',');
                text.append(random.nextInt(100)).append('\n');
            }
            Result result = table(text.toString())
                    .then("per a against b give s = sum(x) hide s where s < " + random.nextInt(60) + " totals")
                    .run();
            List<String> cells =
                    result.schema().names().subList(1, result.schema().size() - 1);
            for (int row = 0; row < result.rows(); row++) {
                int at = row;
                long hidden = cells.stream().filter(c -> result.isHidden(c, at)).count();
                long there = cells.stream()
                        .filter(c -> result.row(at).get(c) != null)
                        .count();
                assertThat(hidden == 1 && there > 1)
                        .as("seed %s row %s", seed, row)
                        .isFalse();
            }
            for (String cell : cells) {
                long hidden =
                        result.stream().filter(r -> isHidden(result, cell, r)).count();
                long there = result.stream().filter(r -> r.get(cell) != null).count();
                assertThat(hidden == 1 && there > 1)
                        .as("seed %s column %s", seed, cell)
                        .isFalse();
            }
        }
    }

    private static boolean isHidden(Result result, String cell, Row wanted) {
        for (int row = 0; row < result.rows(); row++) {
            if (Objects.equals(result.row(row).get("a"), wanted.get("a"))) {
                return result.isHidden(cell, row);
            }
        }
        throw new AssertionError(wanted);
    }

    @Test
    void whatCannotBeHiddenIsSaid() {
        assertThatThrownBy(() -> table(SALES).then("hide amount where amount < 2"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("'hide' keeps figures of groups from being shown, and these rows are records.");
        assertThatThrownBy(() -> table(SALES).then("per site give n = count() hide site where n < 2"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("'site' is a key, and 'hide' hides figures.")
                .hasMessageContaining("To leave whole groups out, write 'only'.");
        assertThatThrownBy(() -> table(SALES).then("per site give n = count() hide n"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("'where' and when they are hidden is expected here, not the end of the text.");
    }

    @Test
    void figuresThatRestOnFewRecordsAreMarked() {
        Result result = table(SALES)
                .then("per site, method give s = sum(amount) columns site, method, s mark few 3")
                .run();
        assertThat(result.schema().names()).containsExactly("site", "method", "s");
        assertThat(result.stream().map(r -> r.text("site") + r.text("method"))).hasSize(6);
        List<Boolean> few = new ArrayList<>();
        for (int row = 0; row < result.rows(); row++) {
            few.add(result.restsOnFew("s", row));
        }
        assertThat(few).containsExactly(true, true, true, false, true, true);
        assertThatThrownBy(() -> table(SALES).then("columns site, amount mark few 3"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining(
                        "'mark few' needs to know how many records a group has, and no 'per' of this table makes groups.");
    }
}
