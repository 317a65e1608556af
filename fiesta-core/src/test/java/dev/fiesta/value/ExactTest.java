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

    /** n / d lies between the squares of the halves on both sides; on one of them only where the double is even. */
    private static void rootIsTheNearest(BigInteger n, BigInteger d) {
        double root = Exact.root(n, d);
        boolean even = (Double.doubleToRawLongBits(root) & 1) == 0;
        int below = new BigDecimal(n)
                .compareTo(squareOfHalf(root, Math.nextDown(root)).multiply(new BigDecimal(d)));
        int above = new BigDecimal(n)
                .compareTo(squareOfHalf(root, Math.nextUp(root)).multiply(new BigDecimal(d)));
        assertThat(below > 0 || (even && below == 0))
                .as("root of %s / %s", n, d)
                .isTrue();
        assertThat(above < 0 || (even && above == 0))
                .as("root of %s / %s", n, d)
                .isTrue();
    }

    private static BigDecimal squareOfHalf(double one, double other) {
        return new BigDecimal(one)
                .add(new BigDecimal(other))
                .divide(BigDecimal.valueOf(2))
                .pow(2);
    }

    @Test
    void rootsAreTheNearestDoubles() {
        for (int i = 0; i < 1000; i++) {
            BigInteger n = whole().abs();
            BigInteger d = whole().abs().add(BigInteger.ONE);
            double expected = new BigDecimal(n)
                    .divide(new BigDecimal(d), new MathContext(200))
                    .sqrt(new MathContext(100))
                    .doubleValue();
            assertThat(Exact.root(n, d)).as("root of %s / %s", n, d).isEqualTo(expected);
        }
    }

    /** Halves between doubles, and what lies next to them; next to powers of two; far out on both sides. */
    @Test
    void rootsNextToHalvesAreTheNearestDoubles() {
        for (int i = 0; i < 200; i++) {
            BigInteger half = BigInteger.valueOf((random.nextLong() >>> 11 | 1L << 52) * 2 + random.nextInt(2));
            BigInteger nearPower =
                    BigInteger.ONE.shiftLeft(40 + random.nextInt(30)).add(BigInteger.valueOf(random.nextInt(3) - 1));
            for (BigInteger root : new BigInteger[] {half, nearPower}) {
                BigInteger square = root.pow(2);
                for (int shift : new int[] {0, 1, 7, 200, 1900}) {
                    for (int more = -1; more <= 1; more++) {
                        BigInteger n = square.shiftLeft(shift).add(BigInteger.valueOf(more));
                        rootIsTheNearest(n, BigInteger.ONE);
                        rootIsTheNearest(n, BigInteger.ONE.shiftLeft(2100));
                        rootIsTheNearest(n, BigInteger.TEN.pow(30));
                    }
                }
            }
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
