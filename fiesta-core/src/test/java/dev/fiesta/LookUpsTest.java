package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import java.util.List;
import org.junit.jupiter.api.Test;

/** {@code match} in all its forms. */
class LookUpsTest {
    private final Table sales = Asking.table("""
            id,stall,day,amount
            1,001,2026-05-03,10.00
            2,002,2026-05-10,20.00
            3,,2026-05-11,5.00
            4,009,2026-05-12,7.00
            5,001,2026-06-02,1.00
            """);
    private final Table stalls = Asking.table("number,kind,pitch\n001,grill,50\n002,ices,40\n007,crafts,30\n");
    private final Table prices = Asking.table("""
            stall,valid_from,rate
            001,2026-05-01,0.10
            001,2026-06-01,0.12
            002,2026-05-11,0.20
            """);

    @Test
    void fieldsAreBroughtUnderTheirNamesOrOthers() {
        assertThat(Asking.rows(sales.match(stalls, "on stall = number bring kind, pitch as rent")
                        .columns("id", "kind", "rent")))
                .containsExactly("1 grill 50", "2 ices 40", "3 – –", "4 – –", "5 grill 50");
    }

    @Test
    void rowsWithoutAMatchAreKeptDroppedOrRefused() {
        assertThat(Asking.values(sales.match(stalls, "on stall = number bring kind matched only"), "id"))
                .containsExactly("1", "2", "5");
        assertThat(Asking.values(sales.match(stalls, "on stall = number unmatched only"), "id"))
                .containsExactly("3", "4");
        assertThat(Asking.values(sales.match(stalls, "on stall = number matched only"), "id"))
                .containsExactly("1", "2", "5");
        assertThatThrownBy(
                        () -> sales.match(stalls, "on stall = number required").run())
                .isInstanceOf(DataException.class)
                .hasMessageContaining("number (missing) has no match in")
                .hasMessageContaining("2 rows have none");
        Result kept = sales.match(stalls, "on stall = number bring kind").run();
        assertThat(kept.notices().list())
                .extracting(Notices.Notice::text)
                .hasSize(1)
                .first()
                .asString()
                .startsWith("match other1 on stall = number bring kind: 2 of ")
                .contains(" rows found no match, such as number ");
    }

    @Test
    void theirRowsWithoutOursComeTooWhenAskedFor() {
        assertThat(Asking.rows(sales.match(stalls, "on stall = number bring kind also unmatched")
                        .columns("id", "stall", "kind", "amount")))
                .containsExactly(
                        "1 001 grill 10.00",
                        "2 002 ices 20.00",
                        "3 – – 5.00",
                        "4 009 – 7.00",
                        "5 001 grill 1.00",
                        "– 007 crafts –");
    }

    @Test
    void theLatestOfTheirRowsIsTaken() {
        assertThat(Asking.rows(sales.match(prices, "on stall, latest valid_from <= day bring rate, valid_from")
                        .columns("id", "rate", "valid_from")))
                .containsExactly("1 0.10 2026-05-01", "2 – –", "3 – –", "4 – –", "5 0.12 2026-06-01");
    }

    @Test
    void keysThatStandTwiceAreRefusedUnlessEachIsWanted() {
        assertThatThrownBy(() -> sales.match(prices, "on stall bring rate").run())
                .hasMessageContaining("the key '001' stands twice in")
                .hasMessageContaining("'match each'");
        assertThat(Asking.rows(sales.then("only id in (1, 2, 4)")
                        .match(prices, "on stall matched only")
                        .columns("id")))
                .containsExactly("1", "2");
        assertThatThrownBy(() -> sales.match(
                                prices.then("add twice = 1 rename valid_from as d add d = 2026-05-01"),
                                "on stall, latest d <= day bring rate")
                        .run())
                .hasMessageContaining("stands twice in")
                .hasMessageContaining("with the same date");
    }

    @Test
    void severalKeysMatchTogether() {
        Table budget = Asking.table("stall,month,budget\n001,5,100\n001,6,200\n002,5,300\n");
        assertThat(Asking.rows(sales.then("add month = month(day)")
                        .match(budget, "on stall, month bring budget")
                        .columns("id", "budget")))
                .containsExactly("1 100", "2 300", "3 –", "4 –", "5 200");
    }

    @Test
    void keysMeetByWorthWhateverTheirScale() {
        Table exact = Asking.table("n,t\n1.0,a\n2.5,b\n");
        assertThat(Asking.values(sales.match(exact, "on id = n bring t"), "t"))
                .containsExactly("a", "–", "–", "–", "–");
    }

    @Test
    void whatCannotMatchIsExplainedBefore() {
        assertThatThrownBy(() -> sales.match(stalls, "on id = number bring kind"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("'id' is an integer, but 'number' of")
                .hasMessageContaining("so they never match.");
        assertThatThrownBy(() -> sales.match(stalls, "on stall = nummer bring kind"))
                .hasMessageContaining("Did you mean 'number'?")
                .hasMessageContaining("'records' has no field 'nummer'");
        assertThatThrownBy(() -> sales.match(stalls, "on stall = number bring pich"))
                .hasMessageContaining("Did you mean 'pitch'?");
        assertThatThrownBy(() -> sales.match(stalls, "on stall = number"))
                .hasMessageContaining("This look-up brings nothing and keeps every row");
        assertThatThrownBy(() -> sales.match(stalls, "on stall = number bring kind as id"))
                .hasMessageContaining("There is a field 'id' already.");
        assertThatThrownBy(() -> sales.match(prices, "on stall, latest rate <= day bring rate"))
                .hasMessageContaining("so neither lies before the other.");
    }

    @Test
    void lookUpsIntoNothingFindNothing() {
        Table none = stalls.only("pitch > 1000");
        assertThat(Asking.values(sales.match(none, "on stall = number bring kind"), "kind"))
                .containsOnly("–");
        assertThat(Asking.values(sales.only("id > 99").match(stalls, "on stall = number bring kind required"), "kind"))
                .isEqualTo(List.of());
    }
}
