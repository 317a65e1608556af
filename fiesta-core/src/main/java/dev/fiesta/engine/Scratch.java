package dev.fiesta.engine;

import dev.fiesta.problem.MachineException;
import dev.fiesta.source.TemporaryFiles;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.lang.ref.Cleaner;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Arrays;
import java.util.concurrent.atomic.AtomicLong;
import org.jspecify.annotations.Nullable;

/** Columns in a temporary file, written one behind the other and read from anywhere. For several threads at once. */
final class Scratch {
    /** Where a column stands. */
    record Place(long offset, int bytes, Type type, int rows) {}

    private static final Cleaner CLEANER = Cleaner.create();

    private final FileChannel channel;
    private final Cleaner.Cleanable removal;
    private final AtomicLong end = new AtomicLong();

    private Scratch(FileChannel channel, Path path) {
        this.channel = channel;
        this.removal = CLEANER.register(this, () -> remove(channel, path));
    }

    static Scratch create() {
        Path path = TemporaryFiles.create(".rows");
        try {
            return new Scratch(FileChannel.open(path, StandardOpenOption.READ, StandardOpenOption.WRITE), path);
        } catch (IOException e) {
            throw new MachineException("A temporary file cannot be opened", e);
        }
    }

    private static void remove(FileChannel channel, Path path) {
        try {
            channel.close();
            Files.deleteIfExists(path);
        } catch (IOException e) {
            // The folder goes when the process ends.
        }
    }

    void discard() {
        removal.clean();
    }

    long size() {
        return end.get();
    }

    /** Writes bytes; where they stand. */
    long write(ByteBuffer bytes) {
        int length = bytes.remaining();
        long at = end.getAndAdd(length);
        try {
            for (long to = at; bytes.hasRemaining(); ) {
                to += channel.write(bytes, to);
            }
        } catch (IOException e) {
            throw new MachineException(
                    "What does not fit into memory cannot be written to the temporary folder '"
                            + System.getProperty("java.io.tmpdir") + "': " + e.getMessage()
                            + ". Give more memory (--memory), or another folder (-Djava.io.tmpdir).",
                    e);
        }
        return at;
    }

    ByteBuffer read(long offset, int length) {
        ByteBuffer buffer = ByteBuffer.allocate(length);
        try {
            while (buffer.hasRemaining()) {
                if (channel.read(buffer, offset + buffer.position()) < 0) {
                    throw new IOException("it is shorter than what was written to it");
                }
            }
        } catch (IOException e) {
            throw new MachineException("A temporary file cannot be read back", e);
        }
        return buffer.flip();
    }

    Place write(Column given) {
        Column column = given.flat();
        int rows = column.size();
        int words = (rows + 63) >>> 6;
        long[] valid = column.valid();
        ByteBuffer bytes;
        if (column instanceof TextColumn texts) {
            bytes = texts(texts, rows, words);
        } else {
            int values = column instanceof TruthColumn ? words : rows;
            bytes = ByteBuffer.allocate(1 + 8 * ((valid == null ? 0 : words) + values));
            valid(bytes, valid, words);
            if (column instanceof LongColumn longs) {
                longs(bytes, longs.values(), rows);
            } else if (column instanceof DoubleColumn numbers) {
                bytes.asDoubleBuffer().put(numbers.values(), 0, rows);
                bytes.position(bytes.position() + 8 * rows);
            } else {
                longs(bytes, ((TruthColumn) column).bits(), words);
            }
        }
        bytes.flip();
        int length = bytes.remaining();
        return new Place(write(bytes), length, column.type(), rows);
    }

    private static void valid(ByteBuffer bytes, long @Nullable [] valid, int words) {
        bytes.put((byte) (valid == null ? 0 : 1));
        if (valid != null) {
            longs(bytes, valid, words);
        }
    }

    private static void longs(ByteBuffer bytes, long[] values, int count) {
        bytes.asLongBuffer().put(values, 0, count);
        bytes.position(bytes.position() + 8 * count);
    }

    /** The texts that occur, each once, then a code for each row. */
    private static ByteBuffer texts(TextColumn column, int rows, int words) {
        Dictionary dictionary = column.dictionary();
        int[] codes = column.codes();
        int[] own = new int[dictionary.size()];
        int[] used = new int[Math.min(rows, dictionary.size())];
        int count = 0;
        long length = 0;
        for (int i = 0; i < rows; i++) {
            int code = codes[i];
            if (code >= 0 && own[code] == 0) {
                length += dictionary.length(code) + 4L;
                used[count++] = code;
                own[code] = count;
            }
        }
        long[] valid = column.valid();
        long needed = 1 + 8L * (valid == null ? 0 : words) + 4 + length + 4L * rows;
        ByteBuffer bytes = ByteBuffer.allocate(Math.toIntExact(needed));
        valid(bytes, valid, words);
        bytes.putInt(count);
        for (int i = 0; i < count; i++) {
            dictionary.write(used[i], bytes);
        }
        for (int i = 0; i < rows; i++) {
            bytes.putInt(codes[i] < 0 ? -1 : own[codes[i]] - 1);
        }
        return bytes;
    }

    Column read(Place place) {
        ByteBuffer bytes = read(place.offset(), place.bytes());
        int rows = place.rows();
        int words = (rows + 63) >>> 6;
        long[] valid = bytes.get() == 1 ? longs(bytes, words) : null;
        return switch (place.type().kind()) {
            case REAL -> {
                double[] values = new double[rows];
                bytes.asDoubleBuffer().get(values);
                yield new DoubleColumn(values, rows, valid);
            }
            case TRUTH -> new TruthColumn(Arrays.copyOf(longs(bytes, words), Bits.none(rows).length), rows, valid);
            case TEXT -> {
                Dictionary dictionary = new Dictionary();
                int[] read = new int[bytes.getInt()];
                for (int i = 0; i < read.length; i++) {
                    int length = bytes.getInt();
                    read[i] = dictionary.intern(bytes.array(), bytes.position(), bytes.position() + length);
                    bytes.position(bytes.position() + length);
                }
                int[] codes = new int[rows];
                for (int i = 0; i < rows; i++) {
                    int code = bytes.getInt();
                    codes[i] = code < 0 ? -1 : read[code];
                }
                yield new TextColumn(codes, dictionary, rows, valid);
            }
            default -> new LongColumn(place.type(), longs(bytes, rows), rows, valid);
        };
    }

    private static long[] longs(ByteBuffer bytes, int count) {
        long[] values = new long[count];
        bytes.asLongBuffer().get(values);
        bytes.position(bytes.position() + 8 * count);
        return values;
    }
}
