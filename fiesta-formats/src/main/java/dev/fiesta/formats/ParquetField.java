package dev.fiesta.formats;

import dev.fiesta.value.Bits;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.time.LocalTime;
import java.util.Arrays;
import java.util.IdentityHashMap;
import java.util.Map;
import java.util.UUID;
import org.apache.parquet.column.ColumnDescriptor;
import org.apache.parquet.column.ColumnReader;
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

    /** A value that no type of ours holds, or holds otherwise. */
    static final class Unfit extends RuntimeException {
        private static final long serialVersionUID = 1L;
        final int row;
        final String why;

        Unfit(int row, String why) {
            super(why, null, false, false);
            this.row = row;
            this.why = why;
        }
    }

    private static final long JULIAN_OF_1970 = 2_440_588;
    private static final long MICROS_A_DAY = 86_400_000_000L;

    /** Null where such values are not read. */
    static @Nullable ParquetField of(ColumnDescriptor column) {
        PrimitiveType type = column.getPrimitiveType();
        LogicalTypeAnnotation means = type.getLogicalTypeAnnotation();
        PrimitiveTypeName stands = type.getPrimitiveTypeName();
        if (column.getMaxRepetitionLevel() > 0 || column.getPath().length > 1) {
            return null;
        }
        if (means instanceof DecimalLogicalTypeAnnotation decimal) {
            boolean fits = decimal.getScale() >= 0 && decimal.getScale() <= Type.MOST_DIGITS;
            Kind kind = stands == PrimitiveTypeName.INT32
                    ? Kind.INT
                    : stands == PrimitiveTypeName.INT64 ? Kind.LONG : Kind.BYTES_DECIMAL;
            return fits ? new ParquetField(column, kind, Type.decimal(decimal.getScale())) : null;
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

    /** Takes the next values. */
    Column take(ColumnReader reader, int count, Texts texts) {
        int there = descriptor.getMaxDefinitionLevel();
        return switch (kind) {
            case FLOAT, DOUBLE -> numbers(reader, count, there);
            case TRUTH -> truths(reader, count, there);
            case TEXT, UUID, TIME -> texts(reader, count, there, texts);
            default -> longs(reader, count, there);
        };
    }

    private Column longs(ColumnReader reader, int count, int there) {
        long[] values = new long[count];
        long[] valid = Bits.none(count);
        boolean all = true;
        for (int i = 0; i < count; i++) {
            if (reader.getCurrentDefinitionLevel() == there) {
                values[i] = value(reader, i);
                Bits.set(valid, i);
            } else {
                all = false;
            }
            reader.consume();
        }
        return new LongColumn(type, values, count, all ? null : valid);
    }

    private long value(ColumnReader reader, int row) {
        return switch (kind) {
            case INT -> reader.getInteger();
            case UNSIGNED -> unsigned(reader, row);
            case MILLIS -> Math.multiplyExact(reader.getLong(), 1000L);
            case NANOS -> Math.floorDiv(reader.getLong(), 1000L);
            case INT96 -> int96(reader.getBinary());
            case BYTES_DECIMAL -> decimal(reader.getBinary(), row);
            default -> fitting(reader.getLong(), row);
        };
    }

    private long fitting(long value, int row) {
        boolean exact = type.isExact();
        if (exact && (value > MOST || value < -MOST)) {
            throw new Unfit(
                    row,
                    value + (type.scale() > 0 ? " (times 10^-" + type.scale() + ")" : "") + " has more than the "
                            + Type.MOST_DIGITS + " digits of " + type.withArticle());
        }
        return value;
    }

    private static final long MOST = 999_999_999_999_999_999L;

    private long unsigned(ColumnReader reader, int row) {
        if (descriptor.getPrimitiveType().getPrimitiveTypeName() == PrimitiveTypeName.INT32) {
            return Integer.toUnsignedLong(reader.getInteger());
        }
        long value = reader.getLong();
        if (value < 0) {
            throw new Unfit(row, Long.toUnsignedString(value) + " has more than the 18 digits of an integer");
        }
        return fitting(value, row);
    }

    private long decimal(Binary bytes, int row) {
        BigInteger value = new BigInteger(bytes.getBytesUnsafe());
        if (value.bitLength() > 63) {
            throw new Unfit(
                    row,
                    value + " (times 10^-" + type.scale() + ") has more than the " + Type.MOST_DIGITS
                            + " digits of a decimal");
        }
        return fitting(value.longValue(), row);
    }

    private static long int96(Binary value) {
        ByteBuffer bytes = value.toByteBuffer().order(ByteOrder.LITTLE_ENDIAN);
        long nanos = bytes.getLong(bytes.position());
        long day = bytes.getInt(bytes.position() + 8) - JULIAN_OF_1970;
        return day * MICROS_A_DAY + Math.floorDiv(nanos, 1000L);
    }

    private Column numbers(ColumnReader reader, int count, int there) {
        double[] values = new double[count];
        long[] valid = Bits.none(count);
        boolean all = true;
        for (int i = 0; i < count; i++) {
            if (reader.getCurrentDefinitionLevel() == there) {
                values[i] = kind == Kind.DOUBLE
                        ? reader.getDouble()
                        : Double.parseDouble(Float.toString(reader.getFloat()));
                if (Double.isFinite(values[i])) {
                    Bits.set(valid, i);
                } else {
                    values[i] = 0;
                    all = false;
                }
            } else {
                all = false;
            }
            reader.consume();
        }
        return new DoubleColumn(values, count, all ? null : valid);
    }

    private Column truths(ColumnReader reader, int count, int there) {
        long[] bits = Bits.none(count);
        long[] valid = Bits.none(count);
        boolean all = true;
        for (int i = 0; i < count; i++) {
            if (reader.getCurrentDefinitionLevel() == there) {
                Bits.set(valid, i);
                if (reader.getBoolean()) {
                    Bits.set(bits, i);
                }
            } else {
                all = false;
            }
            reader.consume();
        }
        return new TruthColumn(bits, count, all ? null : valid);
    }

    /** The texts of a column met so far; values of a page's dictionary are the same object each time and are looked up by that. */
    static final class Texts {
        private static final int MOST_BYTES = 4 << 20;
        private static final int MOST_KNOWN = 1 << 16;

        private Dictionary dictionary = new Dictionary();
        private final Map<Binary, Integer> known = new IdentityHashMap<>();

        /** Before a batch: codes of one batch are those of one dictionary. */
        void begin() {
            if (dictionary.memory() > MOST_BYTES) {
                dictionary = new Dictionary();
                known.clear();
            } else if (known.size() > MOST_KNOWN) {
                known.clear();
            }
        }

        private int code(Binary value, Kind kind, ColumnReader reader, int row) {
            Integer code = known.get(value);
            if (code == null) {
                byte[] bytes = bytes(value, kind, row);
                code = dictionary.intern(bytes, 0, bytes.length);
                known.put(value, code);
            }
            return code;
        }
    }

    private static byte[] bytes(Binary value, Kind kind, int row) {
        byte[] bytes = value.getBytesUnsafe();
        if (kind == Kind.UUID) {
            ByteBuffer both = ByteBuffer.wrap(bytes);
            return new UUID(both.getLong(), both.getLong()).toString().getBytes(StandardCharsets.US_ASCII);
        }
        for (byte b : bytes) {
            if (b < 0) {
                try {
                    StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(bytes));
                } catch (CharacterCodingException e) {
                    throw new Unfit(row, "a value holds bytes that are no text (not UTF-8)");
                }
                break;
            }
        }
        return bytes;
    }

    private Column texts(ColumnReader reader, int count, int there, Texts texts) {
        texts.begin();
        int[] codes = new int[count];
        for (int i = 0; i < count; i++) {
            if (reader.getCurrentDefinitionLevel() != there) {
                codes[i] = -1;
            } else if (kind == Kind.TIME) {
                codes[i] = texts.dictionary.intern(time(reader));
            } else {
                codes[i] = texts.code(reader.getBinary(), kind, reader, i);
            }
            reader.consume();
        }
        return TextColumn.of(codes, texts.dictionary, count);
    }

    private String time(ColumnReader reader) {
        TimeUnit unit =
                ((TimeLogicalTypeAnnotation) descriptor.getPrimitiveType().getLogicalTypeAnnotation()).getUnit();
        long nanos = unit == TimeUnit.MILLIS
                ? reader.getInteger() * 1_000_000L
                : reader.getLong() * (unit == TimeUnit.MICROS ? 1000L : 1L);
        return LocalTime.ofNanoOfDay(nanos).toString();
    }

    /** What the file tells of the values of a group of rows; null where it tells nothing, or a value is missing. */
    @Nullable
    Bounds bounds(@Nullable Statistics<?> told) {
        if (told == null || !told.hasNonNullValue() || !told.isNumNullsSet() || told.getNumNulls() > 0) {
            return null;
        }
        Object least = told.genericGetMin();
        Object greatest = told.genericGetMax();
        return switch (kind) {
            case INT -> longs(((Integer) least).longValue(), ((Integer) greatest).longValue());
            case LONG -> longs((Long) least, (Long) greatest);
            case MILLIS -> longs((Long) least * 1000, (Long) greatest * 1000);
            case TEXT -> textBounds((Binary) least, (Binary) greatest);
            default -> null;
        };
    }

    private Bounds longs(long least, long greatest) {
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
