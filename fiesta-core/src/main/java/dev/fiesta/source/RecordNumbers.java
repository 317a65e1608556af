package dev.fiesta.source;

import dev.fiesta.problem.MachineException;
import dev.fiesta.source.files.FileLines;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Numbers of the records of files: of lines, which are counted on the way, or those that stand where records start. */
final class RecordNumbers implements Source.Numbering {
    /** @param lineEnd what ends its lines */
    record File(Path path, byte lineEnd) {}

    private final String counted;
    private final List<File> files;
    private final ByteBuffer buffer = ByteBuffer.allocate(1 << 16);
    private @Nullable FileChannel channel;
    private int file = -1;
    private long at;
    private long line;

    RecordNumbers(String counted, List<File> files) {
        this.counted = counted;
        this.files = files;
    }

    @Override
    public String counted() {
        return counted;
    }

    @Override
    public long of(long origin) {
        try {
            FileChannel open = enter(Source.file(origin));
            long start = Source.start(origin);
            if (!counted.equals(LineSource.LINE)) {
                return FileLines.numberAt(open, start);
            }
            count(open, start);
            return line;
        } catch (IOException e) {
            throw new MachineException("'" + files.get(file).path() + "' cannot be read", e);
        }
    }

    private FileChannel enter(int wanted) throws IOException {
        if (wanted != file || channel == null) {
            close();
            channel = FileChannel.open(files.get(wanted).path(), StandardOpenOption.READ);
            file = wanted;
            at = 0;
            line = 1;
            buffer.limit(0);
        }
        return channel;
    }

    /** Goes on to a byte; the buffer holds what stands from {@link #at} on. */
    private void count(FileChannel from, long to) throws IOException {
        byte end = files.get(file).lineEnd();
        byte[] bytes = buffer.array();
        while (at < to) {
            if (!buffer.hasRemaining()) {
                buffer.clear();
                int read = from.read(buffer, at);
                buffer.flip();
                if (read <= 0) {
                    throw new IOException("it is shorter than it was");
                }
            }
            int first = buffer.position();
            int behind = (int) Math.min(buffer.limit(), first + to - at);
            int ends = 0;
            for (int i = first; i < behind; i++) {
                ends += bytes[i] == end ? 1 : 0;
            }
            line += ends;
            at += behind - first;
            buffer.position(behind);
        }
    }

    @Override
    public void close() {
        try {
            if (channel != null) {
                channel.close();
            }
        } catch (IOException e) {
            line = 0; // nothing was written: there is nothing to lose
        }
        channel = null;
    }
}
