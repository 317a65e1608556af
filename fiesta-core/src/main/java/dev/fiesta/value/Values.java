package dev.fiesta.value;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;

/** Single values as objects and as the longs that columns hold. */
public final class Values {
    public static final long MICROS_A_DAY = 86_400_000_000L;
    private static final long[] POWERS = new long[19];

    static {
        POWERS[0] = 1;
        for (int i = 1; i < POWERS.length; i++) {
            POWERS[i] = POWERS[i - 1] * 10;
        }
    }

    private Values() {}

    /** 10 to the power of 0 to 18. */
    public static long power(int exponent) {
        return POWERS[exponent];
    }

    /** The object for a long of a type. */
    public static Object ofLong(Type type, long value) {
        return switch (type.kind()) {
            case INTEGER, EMPTY -> value;
            case DECIMAL -> BigDecimal.valueOf(value, type.scale());
            case DATE -> LocalDate.ofEpochDay(value);
            case DATETIME -> dateTime(value);
            case INSTANT -> dateTime(value).toInstant(ZoneOffset.UTC);
            default -> throw new IllegalArgumentException(type + " is not held in longs");
        };
    }

    /** The long for an object of a type; decimals must fit the scale. */
    public static long toLong(Type type, Object value) {
        return switch (type.kind()) {
            case INTEGER, EMPTY -> ((Number) value).longValue();
            case DECIMAL -> scaled(decimal(value), type.scale());
            case DATE -> ((LocalDate) value).toEpochDay();
            case DATETIME -> micros((LocalDateTime) value);
            case INSTANT -> micros(LocalDateTime.ofInstant((Instant) value, ZoneOffset.UTC));
            default -> throw new IllegalArgumentException(type + " is not held in longs");
        };
    }

    private static BigDecimal decimal(Object value) {
        return value instanceof BigDecimal d ? d : BigDecimal.valueOf(((Number) value).longValue());
    }

    private static long scaled(BigDecimal value, int scale) {
        BigInteger unscaled = value.setScale(scale).unscaledValue();
        if (unscaled.abs().compareTo(BigInteger.valueOf(power(18))) >= 0) {
            throw new ArithmeticException(value.toPlainString() + " has more than 18 digits at scale " + scale);
        }
        return unscaled.longValueExact();
    }

    /** Microseconds since 1970-01-01T00:00. */
    public static long micros(LocalDateTime time) {
        return Math.addExact(
                Math.multiplyExact(time.toLocalDate().toEpochDay(), MICROS_A_DAY),
                time.toLocalTime().toNanoOfDay() / 1000);
    }

    /** Date and time from microseconds since 1970-01-01T00:00. */
    public static LocalDateTime dateTime(long micros) {
        return LocalDate.ofEpochDay(Math.floorDiv(micros, MICROS_A_DAY))
                .atStartOfDay()
                .plus(Math.floorMod(micros, MICROS_A_DAY), ChronoUnit.MICROS);
    }
}
