package dev.fiesta.parquet;

import dev.fiesta.value.Bounds;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.Arrays;
import java.util.UUID;
import org.apache.parquet.column.ColumnDescriptor;
import org.apache.parquet.column.statistics.Statistics;
import org.apache.parquet.io.api.Binary;
import org.apache.parquet.schema.LogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.DecimalLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.IntLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimeLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimeUnit;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimestampLogicalTypeAnnotation;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;
import org.jspecify.annotations.Nullable;

/**
 * A column of a file: which of our types it is, and how its values are taken.
 *
 * @param type the type of its values
 */
record ParquetField(ColumnDescriptor descriptor, Kind kind, Type type) {
    /** How values stand in the file. */
    enum Kind {
        INT,
        LONG,
        UNSIGNED,
        BYTES_DECIMAL,
        MILLIS,
        NANOS,
        INT96,
        FLOAT,
        DOUBLE,
        TRUTH,
        TEXT,
        UUID,
        TIME
    }

    /** A value that no type of ours holds. */
    static final class Unfit extends RuntimeException {
        private static final long serialVersionUID = 1L;

        /** The value as it is told. */
        final String shown;

        /** @param why what is told behind the value, and what may be done */
        Unfit(String shown, String why) {
            super(shown + " " + why, null, false, false);
            this.shown = shown;
        }
    }

    private static final long JULIAN_OF_1970 = 2_440_588;
    private static final long MICROS_A_DAY = 86_400_000_000L;
    private static final long NANOS_A_DAY = MICROS_A_DAY * 1000;
    private static final long FIRST_DAY = LocalDate.of(1, 1, 1).toEpochDay();
    private static final long LAST_DAY = LocalDate.of(9999, 12, 31).toEpochDay();
    private static final long MOST = 999_999_999_999_999_999L;

    /** Null where such values are not read. */
    static @Nullable ParquetField of(ColumnDescriptor column) {
        PrimitiveType type = column.getPrimitiveType();
        LogicalTypeAnnotation means = type.getLogicalTypeAnnotation();
        PrimitiveTypeName stands = type.getPrimitiveTypeName();
        if (column.getMaxRepetitionLevel() > 0 || column.getPath().length > 1) {
            return null;
        }
        if (means instanceof DecimalLogicalTypeAnnotation decimal) {
            Kind kind = stands == PrimitiveTypeName.INT32
                    ? Kind.INT
                    : stands == PrimitiveTypeName.INT64 ? Kind.LONG : Kind.BYTES_DECIMAL;
            boolean fits = decimal.getScale() >= 0 && decimal.getScale() <= Type.MOST_DIGITS;
            return new ParquetField(column, kind, fits ? Type.decimal(decimal.getScale()) : Type.REAL);
        }
        if (means instanceof TimestampLogicalTypeAnnotation time) {
            Kind kind = time.getUnit() == TimeUnit.MILLIS
                    ? Kind.MILLIS
                    : time.getUnit() == TimeUnit.MICROS ? Kind.LONG : Kind.NANOS;
            return new ParquetField(column, kind, time.isAdjustedToUTC() ? Type.INSTANT : Type.DATETIME);
        }
        if (means instanceof TimeLogicalTypeAnnotation) {
            return new ParquetField(column, Kind.TIME, Type.TEXT);
        }
        return plain(column, stands, means);
    }

    private static @Nullable ParquetField plain(
            ColumnDescriptor column, PrimitiveTypeName stands, @Nullable LogicalTypeAnnotation means) {
        String annotated = means == null ? "" : means.toString();
        return switch (stands) {
            case INT32 ->
                annotated.equals("DATE")
                        ? new ParquetField(column, Kind.INT, Type.DATE)
                        : isUnsigned(means)
                                ? new ParquetField(column, Kind.UNSIGNED, Type.INTEGER)
                                : whole(column, Kind.INT, means);
            case INT64 ->
                isUnsigned(means)
                        ? new ParquetField(column, Kind.UNSIGNED, Type.INTEGER)
                        : whole(column, Kind.LONG, means);
            case INT96 -> new ParquetField(column, Kind.INT96, Type.DATETIME);
            case FLOAT -> new ParquetField(column, Kind.FLOAT, Type.REAL);
            case DOUBLE -> new ParquetField(column, Kind.DOUBLE, Type.REAL);
            case BOOLEAN -> new ParquetField(column, Kind.TRUTH, Type.TRUTH);
            case BINARY ->
                means == null || annotated.matches("STRING|ENUM|JSON")
                        ? new ParquetField(column, Kind.TEXT, Type.TEXT)
                        : null;
            case FIXED_LEN_BYTE_ARRAY ->
                annotated.equals("UUID") ? new ParquetField(column, Kind.UUID, Type.TEXT) : null;
        };
    }

    private static @Nullable ParquetField whole(
            ColumnDescriptor column, Kind kind, @Nullable LogicalTypeAnnotation means) {
        boolean known = means == null || means instanceof IntLogicalTypeAnnotation;
        return known ? new ParquetField(column, kind, Type.INTEGER) : null;
    }

    private static boolean isUnsigned(@Nullable LogicalTypeAnnotation means) {
        return means instanceof IntLogicalTypeAnnotation whole && !whole.isSigned();
    }

    String name() {
        return descriptor.getPath()[0];
    }

    /** The same column read as real numbers: of exact ones the nearest. */
    ParquetField asReal() {
        return new ParquetField(descriptor, kind, Type.REAL);
    }

    /**
     * A whole number, decimal in units of its last digit, day or time as our columns hold them; a truth as 0 or 1.
     *
     * @throws Unfit when the type does not hold it
     */
    long whole(ParquetRaw value) {
        return switch (kind) {
            case TRUTH -> value.truth() ? 1 : 0;
            case INT -> type.isExact() ? value.whole32() : day(value.whole32());
            case LONG -> type.isExact() ? digits(value.whole64()) : micros(value.whole64());
            case MILLIS -> millis(value.whole64());
            case NANOS -> micros(Math.floorDiv(value.whole64(), 1000L));
            case INT96 -> micros(int96(value.bytes()));
            default -> digits(units(value));
        };
    }

    /** A number as the nearest double. */
    double number(ParquetRaw value) {
        return switch (kind) {
            case DOUBLE -> value.real();
            case FLOAT -> Double.parseDouble(Float.toString(value.single()));
            default -> new BigDecimal(units(value), scale()).doubleValue();
        };
    }

    /** An exact number in units of its last digit. */
    private BigInteger units(ParquetRaw value) {
        return switch (kind) {
            case INT -> BigInteger.valueOf(value.whole32());
            case UNSIGNED -> unsigned(value);
            case BYTES_DECIMAL -> new BigInteger(value.bytes().getBytesUnsafe());
            default -> BigInteger.valueOf(value.whole64());
        };
    }

    private BigInteger unsigned(ParquetRaw value) {
        return descriptor.getPrimitiveType().getPrimitiveTypeName() == PrimitiveTypeName.INT32
                ? BigInteger.valueOf(Integer.toUnsignedLong(value.whole32()))
                : new BigInteger(Long.toUnsignedString(value.whole64()));
    }

    private int scale() {
        return descriptor.getPrimitiveType().getLogicalTypeAnnotation() instanceof DecimalLogicalTypeAnnotation decimal
                ? decimal.getScale()
                : 0;
    }

    private long digits(long units) {
        return units <= MOST && units >= -MOST ? units : digits(BigInteger.valueOf(units));
    }

    private long digits(BigInteger units) {
        if (units.abs().compareTo(BigInteger.valueOf(MOST)) <= 0) {
            return units.longValue();
        }
        throw new Unfit(
                "'" + new BigDecimal(units, type.scale()).toPlainString() + "'",
                "has more than the "
                        + Type.MOST_DIGITS + " digits of " + type.withArticle().replaceAll("\\(.*", "")
                        + ".\n  Read it as a real number: fields " + name() + " real");
    }

    private static long day(long days) {
        if (days < FIRST_DAY || days > LAST_DAY) {
            throw new Unfit("day " + days + " from 1970", "lies outside the years 1 to 9999.");
        }
        return days;
    }

    private static long micros(long micros) {
        day(Math.floorDiv(micros, MICROS_A_DAY));
        return micros;
    }

    private static long millis(long millis) {
        day(Math.floorDiv(millis, MICROS_A_DAY / 1000));
        return millis * 1000;
    }

    private static long int96(Binary value) {
        ByteBuffer bytes = value.toByteBuffer().order(ByteOrder.LITTLE_ENDIAN);
        long nanos = bytes.getLong(bytes.position());
        long day = bytes.getInt(bytes.position() + Long.BYTES) - JULIAN_OF_1970;
        return day(day) * MICROS_A_DAY + Math.floorDiv(nanos, 1000L);
    }

    /**
     * The bytes of a text.
     *
     * @throws Unfit when they are none
     */
    byte[] text(ParquetRaw value) {
        return switch (kind) {
            case TIME -> time(value).getBytes(StandardCharsets.US_ASCII);
            case UUID -> uuid(value.bytes()).getBytes(StandardCharsets.US_ASCII);
            default -> utf8(value.bytes().getBytesUnsafe());
        };
    }

    private static byte[] utf8(byte[] bytes) {
        for (byte b : bytes) {
            if (b < 0) {
                try {
                    StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(bytes));
                    return bytes;
                } catch (CharacterCodingException e) {
                    throw new Unfit("a value", "holds bytes that are no text (not UTF-8).");
                }
            }
        }
        return bytes;
    }

    private static String uuid(Binary value) {
        ByteBuffer both = value.toByteBuffer();
        return new UUID(both.getLong(), both.getLong()).toString();
    }

    private String time(ParquetRaw value) {
        TimeUnit unit =
                ((TimeLogicalTypeAnnotation) descriptor.getPrimitiveType().getLogicalTypeAnnotation()).getUnit();
        long nanos = unit == TimeUnit.MILLIS
                ? value.whole32() * 1_000_000L
                : value.whole64() * (unit == TimeUnit.MICROS ? 1000L : 1L);
        if (nanos < 0 || nanos >= NANOS_A_DAY) {
            throw new Unfit(nanos + " ns", "is no time of day.");
        }
        return LocalTime.ofNanoOfDay(nanos).toString();
    }

    /** What the file tells of the values of a group of rows; null where it tells nothing, or a value is missing. */
    @Nullable
    Bounds bounds(@Nullable Statistics<?> told) {
        if (told == null || !told.hasNonNullValue() || !told.isNumNullsSet() || told.getNumNulls() > 0) {
            return null;
        }
        try {
            return bounds(told.genericGetMin(), told.genericGetMax());
        } catch (Unfit e) {
            return null; // it is told where it is read
        }
    }

    private @Nullable Bounds bounds(Object least, Object greatest) {
        if (type.equals(Type.REAL)) {
            return null;
        }
        return switch (kind) {
            case INT -> longs((Integer) least, (Integer) greatest);
            case LONG -> longs((Long) least, (Long) greatest);
            case MILLIS -> longs(millis((Long) least), millis((Long) greatest));
            case TEXT -> textBounds((Binary) least, (Binary) greatest);
            default -> null;
        };
    }

    private Bounds longs(long least, long greatest) {
        for (long end : new long[] {least, greatest}) {
            if (type.isExact()) {
                digits(end);
            } else if (type.equals(Type.DATE)) {
                day(end);
            } else {
                micros(end);
            }
        }
        return new Bounds(new LongColumn(type, new long[] {least, greatest}, 2, null));
    }

    /** Ends may be cut, the greatest then so that it is not less than any value. */
    private static @Nullable Bounds textBounds(Binary least, Binary greatest) {
        try {
            String from = StandardCharsets.UTF_8
                    .newDecoder()
                    .decode(least.toByteBuffer())
                    .toString();
            String to = StandardCharsets.UTF_8
                    .newDecoder()
                    .decode(greatest.toByteBuffer())
                    .toString();
            return new Bounds(Column.of(Type.TEXT, Arrays.asList(from, to)));
        } catch (CharacterCodingException e) {
            return null;
        }
    }
}
