package dev.fiesta.gather;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Row;
import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Means, deviations, quantiles and correlations to the last digit, where plain floating point loses half of them. */
class StatisticsTest {
    private static final MathContext DEEP = new MathContext(400, RoundingMode.HALF_EVEN);

    record Reading(long at, BigDecimal exact, double number, BigDecimal weight) {}

    private static List<Reading> readings(int count, BigDecimal offset, double scale, long seed) {
        SplittableRandom random = new SplittableRandom(seed);
        List<Reading> readings = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            BigDecimal exact = offset.add(BigDecimal.valueOf(random.nextInt(-5, 6), 1));
            double number = (offset.doubleValue() + random.nextInt(-5, 6) / 10.0) * scale;
            readings.add(new Reading(i, exact, number, BigDecimal.valueOf(random.nextInt(1, 100), 2)));
        }
        return readings;
    }

    private static BigDecimal sum(List<BigDecimal> values) {
        return values.stream().reduce(BigDecimal.ZERO, BigDecimal::add);
    }

    private static BigDecimal spread(List<BigDecimal> x, List<BigDecimal> y) {
        BigDecimal n = BigDecimal.valueOf(x.size());
        BigDecimal products = BigDecimal.ZERO;
        for (int i = 0; i < x.size(); i++) {
            products = products.add(x.get(i).multiply(y.get(i)));
        }
        return n.multiply(products).subtract(sum(x).multiply(sum(y)));
    }

    private static void compare(Row row, String prefix, List<BigDecimal> values) {
        BigDecimal n = BigDecimal.valueOf(values.size());
        BigDecimal above = spread(values, values);
        BigDecimal sample = above.divide(n.multiply(n.subtract(BigDecimal.ONE)), DEEP);
        BigDecimal population = above.divide(n.multiply(n), DEEP);
        assertThat(row.real(prefix + "mean"))
                .isEqualTo(sum(values).divide(n, DEEP).doubleValue());
        assertThat(row.real(prefix + "var")).isEqualTo(sample.doubleValue());
        assertThat(row.real(prefix + "sd")).isEqualTo(sample.sqrt(DEEP).doubleValue());
        assertThat(row.real(prefix + "varp")).isEqualTo(population.doubleValue());
        assertThat(row.real(prefix + "sdp")).isEqualTo(population.sqrt(DEEP).doubleValue());
    }

    private static String figures(String prefix, String field) {
        return prefix + "mean = mean(" + field + "), " + prefix + "var = variance(" + field + "), " + prefix
                + "sd = stddev(" + field + "), " + prefix + "varp = variance_pop(" + field + "), " + prefix
                + "sdp = stddev_pop(" + field + ")";
    }

    private static Result ask(List<Reading> readings, String clauses) {
        try (Fiesta fiesta = Fiesta.with().threads(2).open()) {
            return fiesta.records(Reading.class, readings).then(clauses).run();
        }
    }

    @ParameterizedTest(name = "values around {0}")
    @ValueSource(strings = {"0.0", "10.2", "1000000.2", "10000000000000.2", "-99999999999999.9"})
    void aLargeOffsetTakesNothingAway(String offset) {
        List<Reading> readings = readings(1001, new BigDecimal(offset), 1, 5);
        Row row = ask(readings, "per all give " + figures("e", "exact") + ", " + figures("n", "number"))
                .row(0);
        compare(row, "e", readings.stream().map(Reading::exact).toList());
        compare(row, "n", readings.stream().map(r -> new BigDecimal(r.number())).toList());
    }

    @ParameterizedTest(name = "scaled by {0}")
    @ValueSource(doubles = {1e-300, 1e-150, 1e-20, 1e20, 1e140})
    void verySmallAndVeryLargeNumbersToo(double scale) {
        List<Reading> readings = readings(200, new BigDecimal("3.3"), scale, 6);
        Row row = ask(readings, "per all give m = mean(number), sd = stddev(number), s = sum(number)")
                .row(0);
        List<BigDecimal> values =
                readings.stream().map(r -> new BigDecimal(r.number())).toList();
        BigDecimal n = BigDecimal.valueOf(values.size());
        BigDecimal variance =
                spread(values, values).divide(n.multiply(n.subtract(BigDecimal.ONE)), new MathContext(900));
        assertThat(row.real("s")).isEqualTo(sum(values).doubleValue());
        assertThat(row.real("m")).isEqualTo(sum(values).divide(n, DEEP).doubleValue());
        assertThat(row.real("sd")).isEqualTo(variance.sqrt(DEEP).doubleValue());
    }

    @Test
    void pairsGoTogetherExactly() {
        List<Reading> readings = readings(500, new BigDecimal("1000000.0"), 1, 7);
        Row row = ask(
                        readings,
                        "per all give c = correlation(exact, weight), d = correlation(number, weight), w = weighted_mean(exact, weight), v = weighted_mean(number, weight), one = correlation(exact, exact)")
                .row(0);
        List<BigDecimal> exact = readings.stream().map(Reading::exact).toList();
        List<BigDecimal> numbers =
                readings.stream().map(r -> new BigDecimal(r.number())).toList();
        List<BigDecimal> weights = readings.stream().map(Reading::weight).toList();
        assertThat(row.real("c")).isEqualTo(correlation(exact, weights));
        assertThat(row.real("d"))
                .isEqualTo(correlation(
                        numbers,
                        weights.stream()
                                .map(w -> new BigDecimal(w.doubleValue()))
                                .toList()));
        assertThat(row.real("w")).isEqualTo(weighted(exact, weights));
        assertThat(row.real("v"))
                .isEqualTo(weighted(
                        numbers,
                        weights.stream()
                                .map(w -> new BigDecimal(w.doubleValue()))
                                .toList()));
        assertThat(row.real("one")).isEqualTo(1.0);
    }

    private static double correlation(List<BigDecimal> x, List<BigDecimal> y) {
        return spread(x, y)
                .divide(spread(x, x).multiply(spread(y, y)).sqrt(DEEP), DEEP)
                .doubleValue();
    }

    private static double weighted(List<BigDecimal> x, List<BigDecimal> weights) {
        BigDecimal above = BigDecimal.ZERO;
        for (int i = 0; i < x.size(); i++) {
            above = above.add(x.get(i).multiply(weights.get(i)));
        }
        return above.divide(sum(weights), DEEP).doubleValue();
    }

    @Test
    void quantilesLieBetweenTheirNeighbours() {
        for (int count = 1; count < 40; count++) {
            List<Reading> readings = readings(count, BigDecimal.ZERO, 1, count);
            List<BigDecimal> sorted =
                    readings.stream().map(Reading::exact).sorted().toList();
            for (String part : List.of("0", "0.05", "0.25", "0.5", "0.333", "0.9", "1")) {
                Row row = ask(readings, "per all give e = quantile(exact, " + part + ")")
                        .row(0);
                BigDecimal at = new BigDecimal(part).multiply(BigDecimal.valueOf(count - 1L));
                int low = at.intValue();
                BigDecimal high = sorted.get(Math.min(low + 1, count - 1));
                BigDecimal expected = sorted.get(low)
                        .add(high.subtract(sorted.get(low)).multiply(at.subtract(BigDecimal.valueOf(low))));
                assertThat(row.real("e")).as("%s of %s", part, count).isEqualTo(expected.doubleValue() + 0.0);
            }
        }
    }

    @Test
    void movingFiguresDoNotDrift() {
        List<Reading> readings = new ArrayList<>();
        SplittableRandom random = new SplittableRandom(3);
        for (int i = 0; i < 2000; i++) {
            double spike = i % 97 == 0 ? 1e250 : i % 89 == 0 ? -1e-250 : random.nextDouble();
            readings.add(new Reading(
                    i, BigDecimal.valueOf(random.nextLong(-1_000_000, 1_000_000), 2), spike, BigDecimal.ONE));
        }
        Result result = ask(
                readings,
                "add s = sum(number along at last 7), m = mean(number along at last 7), d = stddev(exact along at last 5), q = median(exact along at last 4)");
        for (int i = 6; i < readings.size(); i++) {
            List<BigDecimal> seven = readings.subList(i - 6, i + 1).stream()
                    .map(r -> new BigDecimal(r.number()))
                    .toList();
            assertThat(result.row(i).real("s")).isEqualTo(sum(seven).doubleValue());
            assertThat(result.row(i).real("m"))
                    .isEqualTo(sum(seven)
                            .divide(BigDecimal.valueOf(7), new MathContext(800))
                            .doubleValue());
            List<BigDecimal> five =
                    readings.subList(i - 4, i + 1).stream().map(Reading::exact).toList();
            assertThat(result.row(i).real("d"))
                    .isEqualTo(spread(five, five)
                            .divide(BigDecimal.valueOf(20), DEEP)
                            .sqrt(DEEP)
                            .doubleValue());
            List<BigDecimal> four = readings.subList(i - 3, i + 1).stream()
                    .map(Reading::exact)
                    .sorted()
                    .toList();
            assertThat(result.row(i).real("q"))
                    .isEqualTo(four.get(1)
                            .add(four.get(2))
                            .divide(BigDecimal.valueOf(2))
                            .doubleValue());
        }
    }

    record Growth(BigDecimal exact, double number) {}

    /** Raised to the power, the numbers half way to the neighbouring doubles lie on both sides of the product. */
    @Test
    void geometricMeansAreTheNearestDoubles() {
        SplittableRandom random = new SplittableRandom(8);
        for (int count = 1; count <= 40; count++) {
            List<Growth> growths = new ArrayList<>();
            for (int i = 0; i < count; i++) {
                growths.add(new Growth(
                        BigDecimal.valueOf(random.nextLong(1, 1L << random.nextInt(2, 57)), 3),
                        random.nextDouble(0.01, 3) * Math.pow(2, random.nextInt(-60, 60))));
            }
            try (Fiesta fiesta = Fiesta.open()) {
                Row row = fiesta.records(Growth.class, growths)
                        .then("per all give e = geometric_mean(exact), n = geometric_mean(number)")
                        .run()
                        .iterator()
                        .next();
                nearestRoot(row.real("e"), growths.stream().map(Growth::exact).toList());
                nearestRoot(
                        row.real("n"),
                        growths.stream().map(g -> new BigDecimal(g.number())).toList());
            }
        }
    }

    private static void nearestRoot(double root, List<BigDecimal> values) {
        BigDecimal product = values.stream().reduce(BigDecimal.ONE, BigDecimal::multiply);
        BigDecimal two = BigDecimal.valueOf(2);
        BigDecimal at = new BigDecimal(root);
        BigDecimal above = at.add(new BigDecimal(Math.nextUp(root))).divide(two);
        BigDecimal below = at.add(new BigDecimal(Math.nextDown(root))).divide(two);
        assertThat(above.pow(values.size())).isGreaterThanOrEqualTo(product);
        assertThat(below.pow(values.size())).isLessThanOrEqualTo(product);
    }
}
