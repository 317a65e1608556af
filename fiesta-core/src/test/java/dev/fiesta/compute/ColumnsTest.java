package dev.fiesta.compute;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Table;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Expressions over columns with missing values, constants on either side, and rows that other rows must not disturb. */
class ColumnsTest {
    private final Table sales = Asking.table("""
            site,method,amount,quantity,score,day,paid
            Quay,card,10.50,2,1.5e0,2026-05-01,true
            Meadow,cash,,3,2.0e0,2026-05-08,false
            ,card,-4.00,0,,,true
            Orchard,,7.25,,0.25e0,2026-06-01,
            """);

    private List<String> add(String expression) {
        return Asking.values(sales.then("add x = " + expression), "x");
    }

    @Test
    void missingValuesSpread() {
        assertThat(add("amount + quantity")).containsExactly("12.50", "–", "-4.00", "–");
        assertThat(add("amount / quantity")).containsExactly("5.25", "–", "–", "–");
        assertThat(add("amount * score")).containsExactly("15.75", "–", "–", "1.8125");
        assertThat(add("site || '/' || method")).containsExactly("Quay/card", "Meadow/cash", "–", "–");
        assertThat(add("upper(site)")).containsExactly("QUAY", "MEADOW", "–", "ORCHARD");
        assertThat(add("day + 1 month")).containsExactly("2026-06-01", "2026-06-08", "–", "2026-07-01");
        assertThat(add("day - 2026-05-01")).containsExactly("0", "7", "–", "31");
        assertThat(add("-score")).containsExactly("-1.5", "-2", "–", "-0.25");
    }

    @Test
    void comparisonsKnowThreeAnswers() {
        assertThat(add("amount > quantity")).containsExactly("true", "–", "false", "–");
        assertThat(add("site = 'Quay'")).containsExactly("true", "false", "–", "false");
        assertThat(add("'Quay' = site")).containsExactly("true", "false", "–", "false");
        assertThat(add("site < method")).containsExactly("true", "true", "–", "–");
        assertThat(add("site in ('Quay', 'Orchard')")).containsExactly("true", "false", "–", "true");
        assertThat(add("paid = true")).containsExactly("true", "false", "true", "–");
        assertThat(add("score = 1.5")).containsExactly("true", "false", "–", "false");
        assertThat(add("quantity between 1 and score * 2")).containsExactly("true", "true", "false", "–");
    }

    @Test
    void conditionsJoinByThreeValuedLogic() {
        assertThat(add("paid and amount > 0")).containsExactly("true", "false", "false", "–");
        assertThat(add("paid or amount > 0")).containsExactly("true", "–", "true", "true");
        assertThat(add("not paid")).containsExactly("false", "true", "false", "–");
        assertThat(Asking.rows(sales.only("paid or amount > 0").columns("site", "amount")))
                .containsExactly("Quay 10.50", "– -4.00", "Orchard 7.25");
    }

    @Test
    void branchesSeeOnlyTheirRows() {
        assertThat(add("if quantity <> 0 then amount / quantity else 0")).containsExactly("5.25", "–", "0", "0");
        assertThat(add("if site is not missing then integer(text(length(site))) else -1"))
                .containsExactly("4", "6", "-1", "7");
        assertThat(add("if method = 'card' then 'plastic' else if method = 'cash' then 'coins'"))
                .containsExactly("plastic", "coins", "plastic", "–");
        assertThat(add("coalesce(amount, quantity)")).containsExactly("10.50", "3.00", "-4.00", "7.25");
        assertThat(add("coalesce(site, method, 'nobody')")).containsExactly("Quay", "Meadow", "card", "Orchard");
        assertThat(Asking.rows(sales.only("site is not missing and integer(text(length(site))) > 5")
                        .columns("site")))
                .containsExactly("Meadow", "Orchard");
    }

    @Test
    void constantsStandOnEitherSide() {
        assertThat(add("5")).containsExactly("5", "5", "5", "5");
        assertThat(add("10 - quantity")).containsExactly("8", "7", "10", "–");
        assertThat(add("quantity - 10")).containsExactly("-8", "-7", "-10", "–");
        assertThat(add("1 / quantity")).containsExactly("0.5", "0.3333333333333333", "–", "–");
        assertThat(add("if true then 'a' else site")).containsExactly("a", "a", "a", "a");
        assertThat(add("least(quantity, 1)")).containsExactly("1", "1", "0", "1");
        assertThat(add("missing")).containsExactly("–", "–", "–", "–");
        assertThat(add("band(amount, quantity + 1)")).containsExactly("9.00", "–", "-4.00", "–");
    }

    @Test
    void laterFieldsSeeEarlierOnesAndNamesAreReplacedWhereTheyStand() {
        Table twice = sales.then("add net = amount * 2, half = net / 4, amount = quantity");
        assertThat(twice.schema().names())
                .containsExactly("site", "method", "amount", "quantity", "score", "day", "paid", "net", "half");
        assertThat(Asking.values(twice, "half")).containsExactly("5.25", "–", "-2", "3.625");
        assertThat(Asking.values(twice, "amount")).containsExactly("2", "3", "0", "–");
    }

    @Test
    void fieldsAreRenamedDroppedAndShown() {
        Table other = sales.then("rename site as place, amount as net drop score, paid");
        assertThat(other.schema().names()).containsExactly("place", "method", "net", "quantity", "day");
        assertThat(Asking.rows(other.then("only net > 7 columns net, place")))
                .containsExactly("10.50 Quay", "7.25 Orchard");
        assertThat(Asking.rows(sales.then("first 1 columns site to amount, 'q*', others")))
                .containsExactly("Quay card 10.50 2 1.5 2026-05-01 true");
        assertThat(Asking.rows(sales.then("rename site as method, method as site first 1 columns site, method")))
                .containsExactly("card Quay");
    }
}
