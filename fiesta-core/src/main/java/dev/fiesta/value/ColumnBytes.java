package dev.fiesta.value;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * Columns as bytes: longs by what each lies above the least of them, in as few bytes as the greatest needs; texts as those that occur,
 * each once, and their numbers. Whoever reads a column back knows its type and its rows.
 */
public final class ColumnBytes {
    private static final VarHandle SHORTS = MethodHandles.byteArrayViewVarHandle(short[].class, ByteOrder.BIG_ENDIAN);
    private static final VarHandle INTS = MethodHandles.byteArrayViewVarHandle(int[].class, ByteOrder.BIG_ENDIAN);
    private static final VarHandle LONGS = MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.BIG_ENDIAN);

    /** Whether some are missing, the bytes of a value, the least value. */
    private static final int HEAD = 1 + 1 + Long.BYTES;

    private ColumnBytes() {}

    /** The bytes of a column, ready to be read. */
    public static ByteBuffer of(Column given) {
        Column column = given.flat();
        if (column instanceof TextColumn texts) {
            return texts(texts);
        }
        int rows = column.size();
        long @Nullable [] valid = column.valid();
        if (column instanceof LongColumn longs) {
            return longs(longs.values(), rows, valid);
        }
        if (column instanceof TruthColumn truths) {
            return whole(truths.bits(), Bits.none(rows).length, valid, rows);
        }
        long[] bits = new long[rows];
        double[] values = ((DoubleColumn) column).values();
        for (int i = 0; i < rows; i++) {
            bits[i] = Double.doubleToRawLongBits(values[i]);
        }
        return whole(bits, rows, valid, rows);
    }

    /** A column of those bytes; they are the whole array of the buffer from its position on. */
    public static Column read(Type type, int rows, ByteBuffer bytes) {
        return switch (type.kind()) {
            case TEXT -> readTexts(rows, bytes);
            case TRUTH -> {
                long[] valid = readValid(bytes, rows);
                yield new TruthColumn(readLongs(bytes, Bits.none(rows).length), rows, valid);
            }
            case REAL -> {
                long[] valid = readValid(bytes, rows);
                long[] bits = readLongs(bytes, rows);
                double[] values = new double[rows];
                for (int i = 0; i < rows; i++) {
                    values[i] = Double.longBitsToDouble(bits[i]);
                }
                yield new DoubleColumn(values, rows, valid);
            }
            default -> {
                long[] valid = readValid(bytes, rows);
                yield new LongColumn(type, readLongs(bytes, rows), rows, valid);
            }
        };
    }

    private static ByteBuffer longs(long[] values, int rows, long @Nullable [] valid) {
        long least = Long.MAX_VALUE;
        long most = Long.MIN_VALUE;
        if (valid == null) {
            for (int i = 0; i < rows; i++) {
                least = Math.min(least, values[i]);
                most = Math.max(most, values[i]);
            }
        } else {
            for (int i = 0; i < rows; i++) {
                if (Bits.get(valid, i)) {
                    least = Math.min(least, values[i]);
                    most = Math.max(most, values[i]);
                }
            }
        }
        if (least > most) {
            return put(new long[rows], rows, valid, rows, 0, 0);
        }
        return put(present(values, rows, valid, least), rows, valid, rows, least, width(most - least));
    }

    /** The values, with the least in the place of those that are missing and mean nothing. */
    private static long[] present(long[] values, int rows, long @Nullable [] valid, long least) {
        if (valid == null) {
            return values;
        }
        long[] present = Arrays.copyOf(values, rows);
        for (int i = 0; i < rows; i++) {
            if (!Bits.get(valid, i)) {
                present[i] = least;
            }
        }
        return present;
    }

    /** The bytes that numbers from 0 to one need; a negative one is too large for fewer than all. */
    private static int width(long most) {
        return most == 0 ? 0 : most >>> 8 == 0 ? 1 : most >>> 16 == 0 ? 2 : most >>> 32 == 0 ? 4 : 8;
    }

    private static ByteBuffer whole(long[] values, int count, long @Nullable [] valid, int rows) {
        return put(values, count, valid, rows, 0, Long.BYTES);
    }

    private static ByteBuffer put(long[] values, int count, long @Nullable [] valid, int rows, long least, int width) {
        int words = valid == null ? 0 : Bits.none(rows).length;
        ByteBuffer bytes = ByteBuffer.allocate(Math.addExact(HEAD + 8 * words, Math.multiplyExact(width, count)));
        bytes.put((byte) (valid == null ? 0 : 1));
        for (int i = 0; i < words; i++) {
            bytes.putLong(Objects.requireNonNull(valid)[i]);
        }
        bytes.put((byte) width).putLong(least);
        byte[] to = bytes.array();
        int at = bytes.position();
        switch (width) {
            case 1 -> {
                for (int i = 0; i < count; i++) {
                    to[at + i] = (byte) (values[i] - least);
                }
            }
            case 2 -> {
                for (int i = 0; i < count; i++) {
                    SHORTS.set(to, at + 2 * i, (short) (values[i] - least));
                }
            }
            case 4 -> {
                for (int i = 0; i < count; i++) {
                    INTS.set(to, at + 4 * i, (int) (values[i] - least));
                }
            }
            case 8 -> {
                for (int i = 0; i < count; i++) {
                    LONGS.set(to, at + 8 * i, values[i] - least);
                }
            }
            default -> {} // all are the least
        }
        return bytes.rewind();
    }

    private static long @Nullable [] readValid(ByteBuffer bytes, int rows) {
        if (bytes.get() == 0) {
            return null;
        }
        long[] valid = Bits.none(rows);
        for (int i = 0; i < valid.length; i++) {
            valid[i] = bytes.getLong();
        }
        return valid;
    }

    private static long[] readLongs(ByteBuffer bytes, int count) {
        int width = bytes.get();
        long least = bytes.getLong();
        byte[] from = bytes.array();
        int at = bytes.arrayOffset() + bytes.position();
        long[] values = new long[count];
        switch (width) {
            case 1 -> {
                for (int i = 0; i < count; i++) {
                    values[i] = least + (from[at + i] & 0xFF);
                }
            }
            case 2 -> {
                for (int i = 0; i < count; i++) {
                    values[i] = least + ((short) SHORTS.get(from, at + 2 * i) & 0xFFFF);
                }
            }
            case 4 -> {
                for (int i = 0; i < count; i++) {
                    values[i] = least + ((int) INTS.get(from, at + 4 * i) & 0xFFFFFFFFL);
                }
            }
            case 8 -> {
                for (int i = 0; i < count; i++) {
                    values[i] = least + (long) LONGS.get(from, at + 8 * i);
                }
            }
            default -> Arrays.fill(values, least);
        }
        bytes.position(bytes.position() + width * count);
        return values;
    }

    /** The texts that occur, then for each row the number of its text, from 1; 0 where it is missing. */
    private static ByteBuffer texts(TextColumn column) {
        int rows = column.size();
        Dictionary dictionary = column.dictionary();
        int[] codes = column.codes();
        int[] own = new int[dictionary.size()];
        int[] used = new int[Math.min(rows, dictionary.size())];
        long[] numbers = new long[rows];
        int count = 0;
        long length = 0;
        for (int i = 0; i < rows; i++) {
            int code = codes[i];
            if (code >= 0) {
                if (own[code] == 0) {
                    length += dictionary.length(code) + (long) Integer.BYTES;
                    used[count++] = code;
                    own[code] = count;
                }
                numbers[i] = own[code];
            }
        }
        ByteBuffer packed = longs(numbers, rows, null);
        ByteBuffer bytes = ByteBuffer.allocate(Math.toIntExact(Integer.BYTES + length + packed.remaining()));
        bytes.putInt(count);
        for (int i = 0; i < count; i++) {
            dictionary.write(used[i], bytes);
        }
        return bytes.put(packed).rewind();
    }

    private static TextColumn readTexts(int rows, ByteBuffer bytes) {
        Dictionary dictionary = new Dictionary();
        int[] known = new int[bytes.getInt() + 1];
        known[0] = -1;
        for (int i = 1; i < known.length; i++) {
            int length = bytes.getInt();
            int from = bytes.arrayOffset() + bytes.position();
            known[i] = dictionary.intern(bytes.array(), from, from + length);
            bytes.position(bytes.position() + length);
        }
        readValid(bytes, rows);
        long[] numbers = readLongs(bytes, rows);
        int[] codes = new int[rows];
        for (int i = 0; i < rows; i++) {
            codes[i] = known[(int) numbers[i]];
        }
        return TextColumn.of(codes, dictionary, rows);
    }
}
