package dev.fiesta.source.cells;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.nio.charset.StandardCharsets;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

/** Decimals straight from bytes, wherever they stand among others, against what Java's own make of the text. */
class NumbersTest {
    private static final String SIGNS = "00123456789999..--+ e,/:\u00e9";

    @Test
    void anyLettersAreTheNumberThatTheyShowOrNone() {
        SplittableRandom random = new SplittableRandom(7);
        int numbers = 0;
        for (int i = 0; i < 400_000; i++) {
            String text = random.nextInt(3) == 0 ? anySigns(random) : number(random);
            int scale = random.nextInt(10);
            byte[] bytes = ("9".repeat(random.nextInt(10)) + text).getBytes(StandardCharsets.UTF_8);
            int length = text.getBytes(StandardCharsets.UTF_8).length;
            byte[] among = java.util.Arrays.copyOf(bytes, bytes.length + random.nextInt(10));
            long expected = expected(text, scale);
            assertThat(Numbers.exact(among, bytes.length - length, bytes.length, scale))
                    .as("'%s' with %s decimals", text, scale)
                    .isEqualTo(expected);
            numbers += expected == Numbers.BAD ? 0 : 1;
        }
        assertThat(numbers).isBetween(100_000, 300_000);
    }

    private static long expected(String text, int scale) {
        if (!text.matches("[-+]?([0-9]+\\.?[0-9]*|\\.[0-9]+)")) {
            return Numbers.BAD;
        }
        BigDecimal value = new BigDecimal(text);
        try {
            BigDecimal scaled = value.setScale(scale, RoundingMode.UNNECESSARY);
            return scaled.unscaledValue().abs().toString().length() > 18
                    ? Numbers.BAD
                    : scaled.unscaledValue().longValueExact();
        } catch (ArithmeticException e) {
            return Numbers.BAD;
        }
    }

    private static String anySigns(SplittableRandom random) {
        StringBuilder text = new StringBuilder();
        for (int i = random.nextInt(11); i > 0; i--) {
            text.append(SIGNS.charAt(random.nextInt(SIGNS.length())));
        }
        return text.toString();
    }

    private static String number(SplittableRandom random) {
        StringBuilder text = new StringBuilder(random.nextInt(4) == 0 ? "-" : "");
        digits(text, random, random.nextInt(random.nextInt(8) == 0 ? 19 : 8));
        if (random.nextInt(4) > 0) {
            digits(text.append('.'), random, random.nextInt(5));
        }
        return text.toString();
    }

    private static void digits(StringBuilder text, SplittableRandom random, int count) {
        for (int i = 0; i < count; i++) {
            text.append((char) ('0' + random.nextInt(10)));
        }
    }
}
