package dev.fiesta.operate.window;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.problem.Notices;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** Looking back along periods that have holes is told: how many steps of how many, whatever memory there is. */
class UnevenStepsTest {
    record Sale(LocalDateTime at, String site) {}

    static Stream<Arguments> periods() {
        return Stream.of(
                period("date(at)", t -> t.plusDays(1)),
                period("start_of_week(date(at))", t -> t.plusWeeks(1)),
                period("start_of_month(date(at))", t -> t.plusMonths(1)),
                period("start_of_quarter(date(at))", t -> t.plusMonths(3)),
                period("start_of_year(date(at))", t -> t.plusYears(1)),
                period("year(at)", t -> t.plusYears(1)));
    }

    private static Arguments period(String key, UnaryOperator<LocalDateTime> next) {
        return Arguments.of(key, next);
    }

    /** The first day of each period, from a Monday that begins a year and a quarter. */
    private static List<LocalDateTime> days(UnaryOperator<LocalDateTime> next) {
        List<LocalDateTime> days = new ArrayList<>();
        for (LocalDateTime at = LocalDate.of(2018, 1, 1).atTime(9, 30); days.size() < 40; at = next.apply(at)) {
            days.add(at);
        }
        return days;
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("periods")
    void stepsThatAreNotOnePeriodAreCounted(String key, UnaryOperator<LocalDateTime> next) {
        SplittableRandom random = new SplittableRandom(3);
        List<LocalDateTime> days = days(next);
        List<Sale> sales = new ArrayList<>();
        int steps = 0;
        int uneven = 0;
        for (String site : List.of("Quay", "Meadow", "Orchard")) {
            TreeSet<Integer> open = new TreeSet<>();
            for (int i = 0; i < days.size(); i++) {
                if (random.nextInt(4) > 0) {
                    open.add(i);
                    sales.add(new Sale(days.get(i), site));
                }
            }
            for (int at : open.tailSet(open.first(), false)) {
                steps++;
                uneven += open.lower(at) == at - 1 ? 0 : 1;
            }
        }
        assertThat(uneven).isGreaterThan(5);
        for (String along : List.of("k", "k desc")) {
            for (long memory : new long[] {1L << 30, 1}) {
                assertThat(told(sales, key, along, memory))
                        .as("%s along %s, memory %s", key, along, memory)
                        .hasSize(1)
                        .first()
                        .asString()
                        .startsWith("change(n within site along " + along + "): " + uneven + " of " + steps
                                + " steps are not one period long, such as ")
                        .contains("; add the rows that are not there with 'gapless', or look back by value: lag(…, 1 ");
            }
        }
    }

    private static List<String> told(List<Sale> sales, String key, String along, long memory) {
        try (Fiesta fiesta = Fiesta.with().memory(memory).open()) {
            Result result = fiesta.records(Sale.class, sales)
                    .per("site", "k = " + key)
                    .give("n = count()")
                    .add("x = change(n within site along " + along + ")")
                    .run();
            return result.notices().list().stream()
                    .map(Notices.Notice::text)
                    .filter(t -> t.contains("period"))
                    .toList();
        }
    }
}
