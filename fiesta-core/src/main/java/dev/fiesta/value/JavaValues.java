package dev.fiesta.value;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.Month;
import java.time.MonthDay;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.time.Period;
import java.time.Year;
import java.time.YearMonth;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.OptionalLong;
import java.util.UUID;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Objects of Java as values of a table, and back. A value is held as {@code Long}, {@code BigDecimal}, {@code Double}, {@code String},
 * {@code LocalDate}, {@code LocalDateTime}, {@code Instant} or {@code Boolean}; a missing one is null.
 *
 * <p>Whole numbers of any class are integers; {@code float} and {@code double} are reals; {@code OffsetDateTime} and
 * {@code ZonedDateTime} are instants; a {@code Year} is an integer, a {@code YearMonth} its first day; enums are their names;
 * {@code UUID}, {@code LocalTime}, {@code Duration} and whatever else of {@code java.time} no type holds are texts. What is finer than a
 * microsecond is cut.
 */
public final class JavaValues {
    /** What a class is held as. */
    private record Held(Type type, Function<Object, Object> as) {}

    private static final Map<Class<?>, Held> CLASSES = Map.ofEntries(
            entry(Long.class, Type.INTEGER, v -> v),
            entry(Integer.class, Type.INTEGER, Number::longValue),
            entry(Short.class, Type.INTEGER, Number::longValue),
            entry(Byte.class, Type.INTEGER, Number::longValue),
            entry(BigInteger.class, Type.INTEGER, JavaValues::whole),
            entry(Year.class, Type.INTEGER, y -> (long) y.getValue()),
            entry(BigDecimal.class, Type.decimal(0), JavaValues::decimal),
            entry(Double.class, Type.REAL, JavaValues::real),
            entry(Float.class, Type.REAL, f -> real(Double.parseDouble(f.toString()))),
            entry(String.class, Type.TEXT, v -> v),
            entry(Character.class, Type.TEXT, Object::toString),
            entry(UUID.class, Type.TEXT, Object::toString),
            entry(LocalTime.class, Type.TEXT, Object::toString),
            entry(OffsetTime.class, Type.TEXT, Object::toString),
            entry(MonthDay.class, Type.TEXT, Object::toString),
            entry(Duration.class, Type.TEXT, Object::toString),
            entry(Period.class, Type.TEXT, Object::toString),
            entry(DayOfWeek.class, Type.TEXT, Object::toString),
            entry(Month.class, Type.TEXT, Object::toString),
            entry(LocalDate.class, Type.DATE, v -> v),
            entry(YearMonth.class, Type.DATE, m -> m.atDay(1)),
            entry(LocalDateTime.class, Type.DATETIME, v -> v),
            entry(Instant.class, Type.INSTANT, v -> v),
            entry(OffsetDateTime.class, Type.INSTANT, OffsetDateTime::toInstant),
            entry(ZonedDateTime.class, Type.INSTANT, ZonedDateTime::toInstant),
            entry(Boolean.class, Type.TRUTH, v -> v));

    /** What texts are read as again. */
    private static final Map<Class<?>, Function<String, Object>> READ = Map.of(
            UUID.class, UUID::fromString,
            LocalTime.class, LocalTime::parse,
            OffsetTime.class, OffsetTime::parse,
            MonthDay.class, MonthDay::parse,
            Duration.class, Duration::parse,
            Period.class, Period::parse,
            ZoneId.class, ZoneId::of,
            Character.class, JavaValues::character);

    private static final Map<Class<?>, Class<?>> BOXED = Map.of(
            long.class, Long.class,
            int.class, Integer.class,
            short.class, Short.class,
            byte.class, Byte.class,
            double.class, Double.class,
            float.class, Float.class,
            char.class, Character.class,
            boolean.class, Boolean.class);

    private JavaValues() {}

    @SuppressWarnings("unchecked")
    private static <T> Map.Entry<Class<?>, Held> entry(Class<T> of, Type type, Function<T, Object> as) {
        return Map.entry(of, new Held(type, (Function<Object, Object>) as));
    }

    /** The classes that can be told of, for messages. */
    public static String classes() {
        return "whole numbers, BigDecimal, double, String, boolean, enums, UUID, Optional and the classes of java.time";
    }

    /** The type that holds values of a class, decimals with scale 0, or null where none does; of an {@code Optional} nobody can tell. */
    public static @Nullable Type type(Class<?> of) {
        Held held = held(of);
        return held == null ? null : held.type;
    }

    private static @Nullable Held held(Class<?> of) {
        Held known = CLASSES.get(BOXED.getOrDefault(of, of));
        if (known != null) {
            return known;
        }
        if (Enum.class.isAssignableFrom(of)) {
            return new Held(Type.TEXT, v -> ((Enum<?>) v).name());
        }
        boolean text = CharSequence.class.isAssignableFrom(of) || ZoneId.class.isAssignableFrom(of);
        return text ? new Held(Type.TEXT, Object::toString) : null;
    }

    /** The type of a value as it is held. */
    public static Type typeOf(Object value) {
        return value instanceof BigDecimal decimal
                ? Type.decimal(decimal.scale())
                : Objects.requireNonNull(type(value.getClass()));
    }

    /**
     * An object as it is held; null for null and for what is empty.
     *
     * @throws IllegalArgumentException with half a sentence, which follows the name of the value, when no type holds it
     */
    public static @Nullable Object held(@Nullable Object value) {
        Object plain = unwrapped(value);
        if (plain == null) {
            return null;
        }
        Held held = held(plain.getClass());
        if (held == null) {
            throw new IllegalArgumentException("cannot be " + plain.getClass().getName() + "; values are " + classes());
        }
        Object as = held.as.apply(plain);
        if (held.type.isTime()) {
            try {
                Values.toLong(held.type, as);
            } catch (ArithmeticException | DateTimeException e) {
                throw new IllegalArgumentException(
                        "is " + plain + ", too far from today for " + held.type.withArticle(), e);
            }
        }
        return as;
    }

    /** A value that is held, as one of a type: whole numbers are decimals and reals, decimals without loss others; null where it is none. */
    public static @Nullable Object fitted(Type type, Object value) {
        return switch (type.kind()) {
            case INTEGER -> value instanceof Long ? value : null;
            case DECIMAL ->
                value instanceof Long n
                        ? scaled(BigDecimal.valueOf(n), type.scale())
                        : value instanceof BigDecimal d ? scaled(d, type.scale()) : null;
            case REAL -> value instanceof Number n ? (Object) n.doubleValue() : null;
            case TEXT -> value instanceof String ? value : null;
            case DATE -> value instanceof LocalDate ? value : null;
            case DATETIME -> value instanceof LocalDateTime ? value : null;
            case INSTANT -> value instanceof Instant ? value : null;
            case TRUTH -> value instanceof Boolean ? value : null;
            case EMPTY -> null;
        };
    }

    private static @Nullable BigDecimal scaled(BigDecimal value, int scale) {
        try {
            BigDecimal fitted = value.setScale(scale);
            return fitted.precision() > Type.MOST_DIGITS ? null : fitted;
        } catch (ArithmeticException e) {
            return null;
        }
    }

    private static @Nullable Object unwrapped(@Nullable Object value) {
        if (value instanceof Optional<?> some) {
            return unwrapped(some.orElse(null));
        }
        if (value instanceof OptionalInt some) {
            return some.isPresent() ? some.getAsInt() : null;
        }
        if (value instanceof OptionalLong some) {
            return some.isPresent() ? some.getAsLong() : null;
        }
        if (value instanceof OptionalDouble some) {
            return some.isPresent() ? some.getAsDouble() : null;
        }
        return value;
    }

    private static Object whole(BigInteger value) {
        if (value.bitLength() > Long.SIZE - 1) {
            throw new IllegalArgumentException("is " + value + ", too large for an integer");
        }
        return value.longValue();
    }

    private static Object real(double value) {
        if (!Double.isFinite(value)) {
            throw new IllegalArgumentException("is " + value + ", which is no number; what is not there is null");
        }
        return value + 0.0; // -0 is 0
    }

    /** With at least no digits behind the point, and without what is nought where there are too many. */
    private static Object decimal(BigDecimal value) {
        int scale = value.scale();
        BigDecimal fitted = value;
        if (scale > Type.MOST_DIGITS) {
            BigDecimal stripped = value.stripTrailingZeros();
            fitted = stripped.scale() > Type.MOST_DIGITS ? value : stripped;
        }
        int digits = fitted.precision() - fitted.scale();
        boolean large = fitted.signum() != 0 && digits > Type.MOST_DIGITS;
        if (!large && fitted.scale() < 0) {
            fitted = fitted.setScale(0);
        }
        if (large || fitted.scale() > Type.MOST_DIGITS || fitted.precision() > Type.MOST_DIGITS) {
            throw new IllegalArgumentException("is " + value + ", and a decimal holds " + Type.MOST_DIGITS
                    + " digits; round it, or give a double");
        }
        return fitted;
    }

    /** The items of a list, a set, an array or a stream's list; null where a value is one value. */
    public static @Nullable List<@Nullable Object> items(@Nullable Object value) {
        if (value instanceof Iterable<?> several && !(value instanceof java.nio.file.Path)) {
            List<@Nullable Object> items = new ArrayList<>();
            several.forEach(items::add);
            return items;
        }
        if (value instanceof Object[] array) {
            return new ArrayList<@Nullable Object>(Arrays.asList(array));
        }
        if (value != null && value.getClass().isArray()) {
            List<@Nullable Object> items = new ArrayList<>();
            for (int i = 0; i < java.lang.reflect.Array.getLength(value); i++) {
                items.add(java.lang.reflect.Array.get(value, i));
            }
            return items;
        }
        return null;
    }

    /**
     * A value that is held as an object of a class; null for a missing one.
     *
     * @throws IllegalArgumentException with half a sentence when it is none of that class
     */
    public static @Nullable Object as(Class<?> wanted, @Nullable Object value) {
        if (value == null) {
            if (wanted.isPrimitive()) {
                throw new IllegalArgumentException("is missing, but " + wanted + " cannot be; use its boxed type");
            }
            return wanted == Optional.class
                    ? Optional.empty()
                    : wanted == OptionalInt.class
                            ? OptionalInt.empty()
                            : wanted == OptionalLong.class
                                    ? OptionalLong.empty()
                                    : wanted == OptionalDouble.class ? OptionalDouble.empty() : null;
        }
        Class<?> boxed = BOXED.getOrDefault(wanted, wanted);
        if (boxed.isInstance(value)) {
            return value;
        }
        if (wanted == Optional.class) {
            return Optional.of(value);
        }
        Object found = value instanceof Number number
                ? number(boxed, number)
                : value instanceof String text ? text(boxed, text) : time(boxed, value);
        if (found == null) {
            throw new IllegalArgumentException(
                    "is " + value.getClass().getName() + " in the table, but " + wanted.getName() + " is wanted");
        }
        return found;
    }

    private static @Nullable Object number(Class<?> wanted, Number value) {
        if (wanted == Double.class || wanted == OptionalDouble.class || wanted == Float.class) {
            double number = value.doubleValue();
            return wanted == Double.class
                    ? (Object) number
                    : wanted == Float.class ? (Object) (float) number : OptionalDouble.of(number);
        }
        if (value instanceof BigDecimal || value instanceof Double) {
            return null;
        }
        long whole = value.longValue();
        if (wanted == BigDecimal.class) {
            return BigDecimal.valueOf(whole);
        }
        if (wanted == BigInteger.class) {
            return BigInteger.valueOf(whole);
        }
        if (wanted == OptionalLong.class) {
            return OptionalLong.of(whole);
        }
        if (wanted == Integer.class || wanted == OptionalInt.class) {
            int number = (int) within(whole, Integer.MIN_VALUE, Integer.MAX_VALUE, "int");
            return wanted == Integer.class ? (Object) number : OptionalInt.of(number);
        }
        if (wanted == Short.class) {
            return (short) within(whole, Short.MIN_VALUE, Short.MAX_VALUE, "short");
        }
        if (wanted == Byte.class) {
            return (byte) within(whole, Byte.MIN_VALUE, Byte.MAX_VALUE, "byte");
        }
        return wanted == Year.class ? Year.of((int) within(whole, Year.MIN_VALUE, Year.MAX_VALUE, "year")) : null;
    }

    private static Object character(String text) {
        if (text.length() != 1) {
            throw new IllegalArgumentException("not one");
        }
        return text.charAt(0);
    }

    private static long within(long value, long least, long most, String what) {
        if (value < least || value > most) {
            throw new IllegalArgumentException("is " + value + " in a row, which no " + what + " holds; use long");
        }
        return value;
    }

    private static @Nullable Object time(Class<?> wanted, Object value) {
        if (value instanceof LocalDate day && wanted == YearMonth.class && day.getDayOfMonth() == 1) {
            return YearMonth.from(day);
        }
        if (value instanceof Instant instant) {
            OffsetDateTime time = instant.atOffset(java.time.ZoneOffset.UTC);
            return wanted == OffsetDateTime.class
                    ? time
                    : wanted == ZonedDateTime.class ? time.atZoneSameInstant(java.time.ZoneOffset.UTC) : null;
        }
        return null;
    }

    private static @Nullable Object text(Class<?> wanted, String text) {
        if (wanted.isEnum()) {
            return Arrays.stream(wanted.getEnumConstants())
                    .filter(c -> ((Enum<?>) c).name().equals(text))
                    .findFirst()
                    .orElseThrow(() -> new IllegalArgumentException(
                            "is '" + text + "' in a row, which " + wanted.getName() + " does not have"));
        }
        try {
            Function<String, Object> read = READ.get(wanted);
            return read == null ? null : read.apply(text);
        } catch (DateTimeException | IllegalArgumentException e) {
            throw new IllegalArgumentException("is '" + text + "' in a row, which is no " + wanted.getSimpleName(), e);
        }
    }
}
