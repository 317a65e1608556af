package dev.fiesta.moved;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.RoundingMode;

/**
 * An exact fraction.
 *
 * @param above what stands above the line
 * @param below what stands below it, greater than 0; both have no common divisor
 */
public record Fraction(BigInteger above, BigInteger below) implements Comparable<Fraction> {
    public static final Fraction ZERO = new Fraction(BigInteger.ZERO, BigInteger.ONE);

    public Fraction {
        if (below.signum() == 0) {
            throw new ArithmeticException("nothing is divided by 0");
        }
        BigInteger common = above.gcd(below).multiply(BigInteger.valueOf(below.signum()));
        above = above.divide(common);
        below = below.divide(common);
    }

    /** {@return a whole number, a decimal or a real number, as it is exactly} */
    public static Fraction of(Number number) {
        BigDecimal exact = number instanceof BigDecimal decimal
                ? decimal
                : number instanceof Double real ? new BigDecimal(real) : BigDecimal.valueOf(number.longValue());
        return exact.scale() > 0
                ? new Fraction(exact.unscaledValue(), BigInteger.TEN.pow(exact.scale()))
                : new Fraction(exact.toBigIntegerExact(), BigInteger.ONE);
    }

    public Fraction plus(Fraction other) {
        return new Fraction(above.multiply(other.below).add(other.above.multiply(below)), below.multiply(other.below));
    }

    public Fraction minus(Fraction other) {
        return plus(new Fraction(other.above.negate(), other.below));
    }

    public Fraction times(Fraction other) {
        return new Fraction(above.multiply(other.above), below.multiply(other.below));
    }

    /** {@return @throws ArithmeticException when the other is 0} */
    public Fraction over(Fraction other) {
        return new Fraction(above.multiply(other.below), below.multiply(other.above));
    }

    public Fraction half() {
        return new Fraction(above, below.shiftLeft(1));
    }

    public boolean isZero() {
        return above.signum() == 0;
    }

    /** {@return the nearest decimal with so many digits behind the point; ties to even} */
    public BigDecimal rounded(int digits, RoundingMode mode) {
        return new BigDecimal(above).divide(new BigDecimal(below), digits, mode);
    }

    @Override
    public int compareTo(Fraction other) {
        return above.multiply(other.below).compareTo(other.above.multiply(below));
    }
}
