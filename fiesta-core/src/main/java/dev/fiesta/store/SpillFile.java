package dev.fiesta.store;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Remedy;
import dev.fiesta.source.files.TemporaryFiles;
import dev.fiesta.value.Column;
import dev.fiesta.value.ColumnBytes;
import dev.fiesta.value.Type;
import dev.fiesta.work.Place;
import java.io.IOException;
import java.lang.ref.Cleaner;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.concurrent.atomic.AtomicLong;

/** Columns in a temporary file, written one behind the other and read from anywhere. For several threads at once. */
public final class SpillFile {
    /** Where a column stands. */
    public record Place(long offset, int bytes, Type type, int rows) {}

    private static final Cleaner CLEANER = Cleaner.create();

    private final FileChannel channel;
    private final Cleaner.Cleanable removal;
    private final AtomicLong end = new AtomicLong();

    private SpillFile(FileChannel channel, Path path) {
        this.channel = channel;
        this.removal = CLEANER.register(this, () -> remove(channel, path));
    }

    static SpillFile create() {
        Path path = TemporaryFiles.create(".rows");
        try {
            return new SpillFile(FileChannel.open(path, StandardOpenOption.READ, StandardOpenOption.WRITE), path);
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
    public long write(ByteBuffer bytes) {
        int length = bytes.remaining();
        long at = end.getAndAdd(length);
        try {
            for (long to = at; bytes.hasRemaining(); ) {
                to += channel.write(bytes, to);
            }
        } catch (IOException e) {
            throw Remedy.offered(TemporaryFiles.unwritable("What does not fit into memory", e), Remedy.Kind.MEMORY, "");
        }
        return at;
    }

    public ByteBuffer read(long offset, int length) {
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

    public Place write(Column column) {
        ByteBuffer bytes = ColumnBytes.of(column);
        int length = bytes.remaining();
        return new Place(write(bytes), length, column.type(), column.size());
    }

    public Column read(Place place) {
        return ColumnBytes.read(place.type(), place.rows(), read(place.offset(), place.bytes()));
    }
}
