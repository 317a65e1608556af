package dev.fiesta.gather.values;

import dev.fiesta.value.Exact;
import dev.fiesta.value.Type;
import dev.fiesta.value.Values;
import java.math.BigDecimal;
import java.math.BigInteger;

/**
 * Where a quantile lies among n ordered values.
 *
 * @param below the value at or below it, from 0
 * @param fraction how far it lies towards the next, as a fraction of {@code unit}
 */
public record QuantilePosition(int below, BigInteger fraction, BigInteger unit) {
    /** The place of a part from 0 to 1. */
    public static QuantilePosition of(BigDecimal part, int n) {
        BigDecimal at = part.multiply(BigDecimal.valueOf(n - 1L));
        BigInteger below = at.toBigInteger();
        BigDecimal over = at.subtract(new BigDecimal(below));
        return new QuantilePosition(
                below.intValue(), over.unscaledValue(), BigInteger.TEN.pow(Math.max(0, over.scale())));
    }

    /** The value there, between two images. */
    public double between(Type type, long low, long high) {
        if (fraction.signum() == 0 || low == high) {
            return type.isExact() ? Exact.ofDecimal(low, type.scale()) : Image.number(low);
        }
        BigDecimal a = type.isExact() ? BigDecimal.valueOf(low, type.scale()) : new BigDecimal(Image.number(low));
        BigDecimal b = type.isExact() ? BigDecimal.valueOf(high, type.scale()) : new BigDecimal(Image.number(high));
        if (type.isExact()
                && fraction.shiftLeft(1).equals(unit)
                && Math.abs(low) < 1L << 60
                && Math.abs(high) < 1L << 60) {
            return Exact.quotient(low + high, 2 * Values.power(type.scale()));
        }
        BigDecimal sum = a.multiply(new BigDecimal(unit.subtract(fraction))).add(b.multiply(new BigDecimal(fraction)));
        BigInteger top = sum.scale() > 0 ? sum.unscaledValue() : sum.toBigIntegerExact();
        return Exact.quotient(top, unit.multiply(BigInteger.TEN.pow(Math.max(0, sum.scale()))));
    }
}
