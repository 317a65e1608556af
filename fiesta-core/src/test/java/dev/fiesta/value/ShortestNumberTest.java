package dev.fiesta.value;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.util.Comparator;
import java.util.SplittableRandom;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ShortestNumberTest {
    @ParameterizedTest
    @CsvSource({
        "0, 0",
        "-0.0, 0",
        "0.5, 0.5",
        "2.0E-3, 0.002",
        "-0.1, -0.1",
        "100, 100",
        "-7, -7",
        "1.15, 1.15",
        "1234567.125, 1234567.125",
        "0.000001, 0.000001",
        "9.5E-7, 9.5e-7",
        "2.0E-7, 2e-7",
        "9.007199254740993E15, 9007199254740992",
        "12345678901234560000, 1.234567890123456e+19",
        "1e16, 10000000000000000",
        "1e17, 1e+17",
        "-1.0E23, -1e+23",
        "2.2250738585072014E-308, 2.2250738585072014e-308",
        "1.7976931348623157E308, 1.7976931348623157e+308",
        "5.0E-324, 5e-324"
    })
    void numbersAreShort(double value, String text) {
        assertThat(ShortestNumber.of(value)).isEqualTo(text);
    }

    @Test
    void theShortestThatReadsBackAndOfThoseTheNearest() {
        SplittableRandom random = new SplittableRandom(3);
        for (int i = 0; i < 10_000; i++) {
            assertIsShortest(Double.longBitsToDouble(random.nextLong()));
            assertIsShortest(random.nextInt(1_000_000) / (double) (1 + random.nextInt(700)));
            assertIsShortest(Math.scalb(1.0, random.nextInt(2098) - 1074)); // the neighbour below is nearer
            assertIsShortest(random.nextInt(-1_000_000, 1_000_000) / 100.0);
        }
    }

    private static void assertIsShortest(double value) {
        if (Double.isFinite(value) && value != 0) {
            String text = ShortestNumber.of(value);
            assertThat(new BigDecimal(text)).as("%s for %s", text, value).isEqualByComparingTo(shortest(value));
        }
    }

    /** Found by trying: with more and more digits, the neighbours on both sides; of two that are as near, the even one. */
    private static BigDecimal shortest(double value) {
        BigDecimal exact = new BigDecimal(value);
        for (int digits = 1; ; digits++) {
            int precision = digits;
            BigDecimal nearest = Stream.of(RoundingMode.DOWN, RoundingMode.UP)
                    .map(mode -> exact.round(new MathContext(precision, mode)))
                    .filter(near -> near.doubleValue() == value)
                    .min(Comparator.comparing(
                                    (BigDecimal near) -> near.subtract(exact).abs())
                            .thenComparing(near -> near.unscaledValue().testBit(0)))
                    .orElse(null);
            if (nearest != null) {
                return nearest;
            }
        }
    }
}
