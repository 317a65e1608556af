package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import dev.fiesta.language.Keywords;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.CheckException;
import dev.fiesta.problem.Problem;
import java.lang.reflect.Method;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Every clause has a method, and what it makes is what the clause makes. */
class TableMethodsTest {
    private static final Table SALES = Asking.table("""
            day,site,item,amount,fee
            2026-05-01,Quay,tea,10.00,1.00
            2026-05-03,Quay,tart,4.00,0.50
            2026-05-03,Meadow,tea,8.00,0.80
            2026-05-03,Meadow,tea,8.00,0.80
            """);
    private static final Table STALLS = Asking.table("item,kind\ntea,drinks\ntart,bakery\n");

    private static void same(Table made, String clauses) {
        assertThat(Asking.lines(made.run()))
                .isEqualTo(Asking.lines(SALES.then(clauses).run()));
    }

    @Test
    void everyClauseHasOne() {
        List<String> methods = Arrays.stream(Table.class.getMethods())
                .filter(m -> m.getDeclaringClass() == Table.class)
                .map(Method::getName)
                .toList();
        assertThat(methods).containsAll(Keywords.CLAUSES);
    }

    @Test
    void eachMakesWhatTheClauseMakes() {
        Table groups = SALES.per("site", "item").give("n = count()", "takings = sum(amount)");
        String grouping = "per site, item give n = count(), takings = sum(amount) ";
        same(groups, grouping);
        same(groups.totals(), grouping + "totals");
        same(groups.totals("site"), grouping + "totals by site");
        same(groups.first(1, "within site along takings desc"), grouping + "first 1 within site along takings desc");
        same(groups.hide("n < 2", "takings"), grouping + "hide takings where n < 2");
        same(groups.sort("takings desc").first(2), grouping + "sort takings desc first 2");
        same(groups.columns("site", "takings"), grouping + "columns site, takings");
        same(SALES.distinct(), "distinct");
        same(SALES.distinct("site"), "distinct site");
        same(SALES.turn(List.of("amount", "fee"), "what", "value"), "turn amount, fee into what, value");
        same(SALES.rename("amount as price", "fee as cost"), "rename amount as price, fee as cost");
        same(SALES.fill("fee", "within site along day"), "fill fee within site along day");
        same(SALES.drop("fee", "item"), "drop fee, item");
        same(SALES.sample("2 seed 5"), "sample 2 seed 5");
        same(SALES.shuffle(3), "shuffle seed 3");
        same(SALES.only("amount > 4").add("net = amount - fee"), "only amount > 4 add net = amount - fee");
        same(
                SALES.per("day").give("takings = sum(amount)").gapless("day", "every 1 day with 0"),
                "per day give takings = sum(amount) gapless day every 1 day with 0");
    }

    @Test
    void aTextMayGoOnWithTheClauseBefore() {
        same(SALES.then("only amount > 4").then("and fee < 1"), "only amount > 4 and fee < 1");
        same(SALES.then("add net = amount - fee").then(", half = amount / 2").then("only half < 5"), """
                add net = amount - fee, half = amount / 2 only half < 5""");
        same(SALES.then("per site").then("give takings = sum(amount)").then("only takings > 20"), """
                per site give takings = sum(amount) only takings > 20""");
    }

    @Test
    void aMistakeIsToldWhereItStandsAmongAllClauses() {
        Table some = SALES.only("amount > 4").add("net = amount - fee");
        assertThatThrownBy(() -> some.then("only nett > 2"))
                .isInstanceOf(BriefException.class)
                .satisfies(e -> assertThat(((BriefException) e).problems())
                        .extracting(Problem::line, Problem::lineText)
                        .containsExactly(tuple(3, "only nett > 2")));
        assertThatThrownBy(() -> some.then("only only"))
                .isInstanceOf(BriefException.class)
                .satisfies(e -> assertThat(((BriefException) e).problems())
                        .extracting(Problem::line)
                        .containsExactly(3));
    }

    @Test
    void otherTablesAreGivenAsTables() {
        assertThat(Asking.lines(SALES.match(STALLS, "on item bring kind")
                        .per("kind")
                        .give("n = count()")
                        .run()))
                .containsExactly("kind,n", "bakery,1", "drinks,3");
        assertThat(SALES.append(SALES).run().rows()).isEqualTo(8);
    }

    @Test
    void whatMustHoldIsChecked() {
        assertThat(SALES.check("amount > 0").run().rows()).isEqualTo(4);
        assertThatThrownBy(() -> SALES.check("amount > 4 'too little'").run())
                .isInstanceOf(CheckException.class)
                .hasMessageContaining("too little");
        assertThatThrownBy(() -> SALES.check("amuont > 4")).isInstanceOf(BriefException.class);
    }
}
