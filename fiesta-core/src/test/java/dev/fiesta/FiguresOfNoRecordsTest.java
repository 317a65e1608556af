package dev.fiesta;

import static dev.fiesta.Asking.rows;
import static dev.fiesta.Asking.table;
import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A group that stands for no record has 0 where its figure adds records up, and nothing where it does not. */
class FiguresOfNoRecordsTest {
    private static final String SALES = "site,day,amount,fee\nQuay,2026-05-01,10,1\nQuay,2026-05-03,20,2\n";

    /** The figure of the second of May, on which nothing was sold. */
    private static String between(String figures, String shown) {
        return rows(table(SALES)
                        .then("per site, day give " + figures + " gapless day every 1 day with 0 columns " + shown))
                .get(1);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "f = count() | 0",
                "f = sum(amount) | 0",
                "f = count_if(amount > 3) | 0",
                "f = -sum(amount) | 0",
                "f = sum(amount) * 2 | 0",
                "f = -3 * sum(amount) | 0",
                "f = 2 * sum(amount) - count() | 0",
                "f = sum(amount) - sum(fee) | 0",
                "f = mean(amount) | –",
                "f = max(amount) | –",
                "f = sum(amount) / count() | –",
                "f = sum(amount) * count() | –",
                "f = sum(amount) + 1 | –",
                "f = sum(amount) - mean(amount) | –",
                "f = sum(amount within site) | –",
                "f = first(site) | –",
            })
    void whatAddsUpIsZero(String figure, String shown) {
        assertThat(between(figure, "f")).isEqualTo(shown);
    }

    @Test
    void whatIsMadeOfNamedFiguresIsZeroToo() {
        assertThat(between("s = sum(amount), n = count(), both = s + n, part = s / n", "s, n, both, part"))
                .isEqualTo("0 0 0 –");
        assertThat(between("each(sum, mean of amount, fee)", "amount_sum, amount_mean, fee_sum, fee_mean"))
                .isEqualTo("0 – 0 –");
        assertThat(between("each(sum of 'a*')", "amount_sum")).isEqualTo("0");
    }

    @Test
    void aCrossTabulationHasTheSameInEmptyCells() {
        String sales = "site,method,amount\nQuay,card,10\nMeadow,cash,20\n";
        assertThat(rows(table(sales)
                        .then("per site against method with 0 give s = sum(amount), m = mean(amount), n = -count()")))
                .containsExactly("Meadow 0 – 0 20 20 -1", "Quay 10 10 -1 0 – 0");
    }

    @Test
    void aParameterIsANumberThatSumsMayBeMultipliedBy() {
        Table asked = table(SALES)
                .set("rate", 3)
                .then("per site, day give f = sum(amount) * :rate gapless day every 1 day with 0 columns f");
        assertThat(rows(asked)).containsExactly("30", "0", "60");
    }
}
