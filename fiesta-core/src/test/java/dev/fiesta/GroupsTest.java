package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.value.Type;
import java.util.List;
import org.junit.jupiter.api.Test;

/** {@code per … give}: keys of every type, figures made of figures, groups of groups. */
class GroupsTest {
    private final Table sales = Asking.table("""
            site,stall,day,amount,tip,score
            Quay,001,2026-05-01,10.00,1.00,1.5e0
            Quay,001,2026-05-02,30.00,,2.5e0
            Quay,002,2026-05-08,20.00,0.50,-1e+300
            Meadow,003,2026-06-01,,2.00,1.0e300
            ,003,2026-06-02,5.00,,1.0e300
            """);

    private List<String> rows(String clauses) {
        return Asking.rows(sales.then(clauses));
    }

    @Test
    void groupsStandByTheirKeysMissingLast() {
        assertThat(rows("per site give n = count()")).containsExactly("Meadow 1", "Quay 3", "– 1");
        assertThat(rows("per stall, site give n = count()"))
                .containsExactly("001 Quay 2", "002 Quay 1", "003 Meadow 1", "003 – 1");
        assertThat(rows("per site")).containsExactly("Meadow 1", "Quay 3", "– 1");
        assertThat(rows("per all give n = count(), s = sum(amount)")).containsExactly("5 65.00");
    }

    @Test
    void keysAreOfAnyType() {
        assertThat(rows("per amount give n = count()"))
                .containsExactly("5.00 1", "10.00 1", "20.00 1", "30.00 1", "– 1");
        assertThat(rows("per score give n = count()")).containsExactly("-1e+300 1", "1.5 1", "2.5 1", "1e+300 2");
        assertThat(rows("per big = (amount > 15) give n = count()")).containsExactly("false 2", "true 2", "– 1");
        assertThat(rows("per month = start_of_month(day) give n = count()"))
                .containsExactly("2026-05-01 3", "2026-06-01 2");
        assertThat(rows("per b = band(amount, 20), stall give n = count() only b >= 20"))
                .containsExactly("20.00 001 1", "20.00 002 1");
    }

    @Test
    void figuresAreNamedAfterTheirCalls() {
        Table bare = sales.then("per site give count(), sum(amount), max(tip)");
        assertThat(bare.schema().names()).containsExactly("site", "count", "amount_sum", "tip_max");
        assertThat(sales.then("per site give each(sum, mean of amount, 't*')")
                        .schema()
                        .names())
                .containsExactly("site", "amount_sum", "amount_mean", "tip_sum", "tip_mean");
        assertThat(sales.then("per amount give each(max of numbers)").schema().names())
                .containsExactly("amount", "tip_max", "score_max");
    }

    @Test
    void figuresUseFiguresAndKeys() {
        assertThat(
                        rows(
                                "per site give s = sum(amount), n = count(amount), m = s / n, label = coalesce(site, 'none') || ':' || n"))
                .containsExactly("Meadow – 0 – Meadow:0", "Quay 60.00 3 20 Quay:3", "– 5.00 1 5 none:1");
        assertThat(rows("per site give x = sum(amount * 2) / 2, y = max(amount) - min(amount)"))
                .containsExactly("Meadow – –", "Quay 60 20.00", "– 5 0.00");
    }

    @Test
    void conditionsInsideACallChooseItsRecords() {
        assertThat(
                        rows(
                                "per site give a = sum(amount only tip is not missing), b = count(only amount > 5), c = mean(amount only amount > 100)"))
                .containsExactly("Meadow – 0 –", "Quay 30.00 3 –", "– – 0 –");
    }

    @Test
    void figuresOfWiderGroupsStandBesideThoseOfTheGroup() {
        assertThat(
                        rows(
                                "per site, stall give s = sum(amount), of_site = sum(amount within site), of_all = sum(amount within all), part = share(amount within site)"))
                .containsExactly(
                        "Meadow 003 – – 65.00 –",
                        "Quay 001 40.00 60.00 65.00 0.6666666666666666",
                        "Quay 002 20.00 60.00 65.00 0.3333333333333333",
                        "– 003 5.00 5.00 65.00 1");
    }

    @Test
    void groupsAreGroupedAgain() {
        assertThat(
                        rows(
                                "per stall, site give s = sum(amount) per site give stalls = count(), best = max(s), which = at_max(stall, s) only stalls > 1"))
                .containsExactly("Quay 2 40.00 001");
        assertThatThrownBy(() -> sales.then("per stall give s = sum(amount) per site give n = count()"))
                .hasMessageContaining("'site' has many values in a group of stall");
    }

    @Test
    void resultsHaveTheTypesOfTheirFunctions() {
        Table typed = sales.then(
                "per site give a = sum(amount), b = mean(amount), c = count(), d = min(day), e = first(stall), f = any(tip > 1), g = sum(score), h = range(day), i = list(stall)");
        assertThat(typed.schema().fields().stream().map(f -> f.type()).toList())
                .containsExactly(
                        Type.TEXT,
                        Type.decimal(2),
                        Type.REAL,
                        Type.INTEGER,
                        Type.DATE,
                        Type.TEXT,
                        Type.TRUTH,
                        Type.REAL,
                        Type.INTEGER,
                        Type.TEXT);
        assertThat(Asking.rows(typed).get(1)).isEqualTo("Quay 60.00 20 3 2026-05-01 001 false -1e+300 7 001, 001, 002");
    }

    @Test
    void hugeSumsAreExactOrTold() {
        Table huge = Asking.table(
                "n,d\n9000000000000000000,999999999999999.99\n900000000000000000,999999999999999.99\n-9000000000000000000,-999999999999999.99\n");
        assertThat(Asking.rows(huge.then("per all give d = sum(d), m = mean(d)")))
                .containsExactly("999999999999999.99 333333333333333.3");
        Table over = Asking.table("n\n900000000000000000\n900000000000000000\n900000000000000000\n");
        assertThat(Asking.rows(over.then("per all give m = mean(n)"))).containsExactly("9e+17");
        Table twelve = Asking.table("n\n" + "900000000000000000\n".repeat(12));
        assertThatThrownBy(() -> Asking.rows(twelve.then("per all give s = sum(n)")))
                .hasMessageContaining("sum(n): The sum 10800000000000000000 does not fit an integer.");
    }

    @Test
    void theOrderOfRecordsDecidesWhereItIsAskedTo() {
        assertThat(
                        rows(
                                "per all give f = first(amount), l = last(amount), fd = first(stall along amount desc), ld = last(stall along day), all_stalls = list(stall along day desc)"))
                .containsExactly("10.00 5.00 001 003 003, 003, 002, 001, 001");
    }
}
