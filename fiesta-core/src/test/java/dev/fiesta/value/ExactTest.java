package dev.fiesta.value;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.MathContext;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

class ExactTest {
    private final SplittableRandom random = new SplittableRandom(7);

    private BigInteger whole() {
        BigInteger value = new BigInteger(1 + random.nextInt(200), new java.util.Random(random.nextLong()));
        return random.nextBoolean() ? value : value.negate();
    }

    @Test
    void quotientsAreTheNearestDoubles() {
        for (int i = 0; i < 5000; i++) {
            BigInteger n = whole();
            BigInteger d = whole().add(BigInteger.ONE.shiftLeft(random.nextInt(120)));
            if (d.signum() != 0) {
                double expected = new BigDecimal(n)
                        .divide(new BigDecimal(d), new MathContext(200))
                        .doubleValue();
                assertThat(Exact.quotient(n, d)).as("%s / %s", n, d).isEqualTo(expected + 0.0);
            }
        }
    }

    @Test
    void halvesGoToTheEvenNeighbour() {
        BigInteger odd = BigInteger.ONE.shiftLeft(53).add(BigInteger.ONE);
        assertThat(Exact.quotient(odd, BigInteger.ONE)).isEqualTo(0x1p53);
        assertThat(Exact.quotient(odd.add(BigInteger.TWO), BigInteger.ONE)).isEqualTo(0x1p53 + 4);
    }

    @Test
    void rootsAreTheNearestDoubles() {
        for (int i = 0; i < 2000; i++) {
            BigInteger n = whole().abs();
            BigInteger d = whole().abs().add(BigInteger.ONE);
            double expected = new BigDecimal(n)
                    .divide(new BigDecimal(d), new MathContext(200))
                    .sqrt(new MathContext(100))
                    .doubleValue();
            assertThat(Exact.root(n, d)).as("root of %s / %s", n, d).isEqualTo(expected);
        }
    }

    @Test
    void smallestDoublesAreReached() {
        assertThat(Exact.scaled(BigInteger.ONE, -1074)).isEqualTo(Double.MIN_VALUE);
        assertThat(Exact.scaled(BigInteger.ONE, -1076)).isZero();
        assertThat(Exact.scaled(BigInteger.valueOf(3), -1075)).isEqualTo(2 * Double.MIN_VALUE);
        assertThat(Exact.quotient(BigInteger.ONE.shiftLeft(2000), BigInteger.ONE))
                .isInfinite();
    }

    @Test
    void comparesDecimalsWithNumbersByTheirExactWorth() {
        assertThat(Exact.compare(1, 1, 0.1))
                .as("0.1 is a little less than the double")
                .isNegative();
        assertThat(Exact.compare(5, 1, 0.5)).isZero();
        assertThat(Exact.compare((1L << 53) + 1, 0, 0x1p53)).isPositive();
    }
}
