package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.source.files.Utf8;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.util.Arrays;
import java.util.Objects;
import java.util.function.BiConsumer;
import java.util.function.LongConsumer;
import org.jspecify.annotations.Nullable;

/** Reads the lines of one file that start in a range of its bytes. Belongs to one worker. */
final class LineReader {
    static final int MOST_IN_A_LINE = 16 << 20;
    private static final int AHEAD = 1 << 12;

    private final LineSource source;
    private final LineSource.Part part;
    private final FileChannel channel;
    private byte[] bytes = new byte[AHEAD];
    private long base;
    private int filled;
    private long lineStart;
    private long behind;

    private final @Nullable BiConsumer<Long, String> odd;

    LineReader(LineSource source, LineSource.Part part, FileChannel channel) {
        this(source, part, channel, null);
    }

    /** @param odd is told a line that is no record, which then is read as one without fields, and why; null where it fails */
    LineReader(LineSource source, LineSource.Part part, FileChannel channel, @Nullable BiConsumer<Long, String> odd) {
        this.odd = odd;
        this.source = source;
        this.part = part;
        this.channel = channel;
    }

    /**
     * Hands the fields of the records in lines that start from {@code from} to before {@code to} over.
     *
     * @param end is told behind each record where its line starts in the file
     */
    void read(long from, long to, LineFormat.Fields fields, LongConsumer end) {
        base = Math.max(0, from - 1);
        filled = 0;
        fill(to);
        int at = from == 0 ? start() : endOfLine(0) + 1;
        while (base + at < to && at < filled) {
            int lineEnd = endOfLine(at);
            lineStart = base + at;
            behind = base + lineEnd;
            if (record(at, lineEnd > at && bytes[lineEnd - 1] == '\r' ? lineEnd - 1 : lineEnd, fields)) {
                end.accept(lineStart);
            }
            at = lineEnd + 1;
        }
    }

    /** Where the line of the record that was handed over last ends in the file. */
    long behind() {
        return behind;
    }

    /** Where records begin: behind a byte-order mark and the lines that are skipped. */
    private int start() {
        boolean marked = filled >= 3 && bytes[0] == (byte) 0xEF && bytes[1] == (byte) 0xBB && bytes[2] == (byte) 0xBF;
        int at = marked ? 3 : 0;
        for (int skipped = 0; skipped < source.dialect().skip() && at < filled; skipped++) {
            at = endOfLine(at) + 1;
        }
        return at;
    }

    /** False when the line is empty. */
    private boolean record(int start, int end, LineFormat.Fields fields) {
        int at = start;
        while (at < end && bytes[at] == ' ') {
            at++;
        }
        if (at == end || bytes[start] == source.dialect().comment()) {
            return false;
        }
        try {
            if (!Utf8.isValid(bytes, start, end)) {
                throw new LineFormat.Unreadable("it holds bytes that are not UTF-8; tell the input its encoding");
            }
            part.format().read(bytes, start, end, fields);
            return true;
        } catch (LineFormat.Unreadable e) {
            if (odd != null) {
                odd.accept(lineStart, Objects.requireNonNull(e.getMessage()));
                return true;
            }
            throw failure(e.getMessage() + ".");
        }
    }

    private DataException failure(String why) {
        return failure(lineStart, why);
    }

    /** @param start where the line starts in the file */
    DataException failure(long start, String why) {
        long line = part.number(channel, start);
        String name = part.file().name();
        return new DataException(name + ", " + part.counted() + " " + line + ": " + why, name, line, null, null);
    }

    /** The place of the first line end from a place on, or the end of the file. */
    private int endOfLine(int from) {
        int at = from;
        while (true) {
            while (at < filled && bytes[at] != '\n') {
                at++;
            }
            if (at < filled || base + filled >= part.size()) {
                return at;
            }
            if (at - from > MOST_IN_A_LINE) {
                lineStart = base + from;
                throw failure("the line is longer than 16 MiB.");
            }
            fill(base + filled + Math.max(AHEAD, filled / 2));
        }
    }

    private void fill(long to) {
        int wanted = Math.toIntExact(Math.min(part.size(), to + AHEAD) - base);
        if (wanted > bytes.length) {
            bytes = Arrays.copyOf(bytes, wanted);
        }
        ByteBuffer buffer = ByteBuffer.wrap(bytes, filled, Math.max(0, wanted - filled));
        try {
            while (buffer.hasRemaining()) {
                if (channel.read(buffer, base + buffer.position()) < 0) {
                    String name = part.file().name();
                    throw new DataException(name + " became shorter while it was read.", name, 0, null, null);
                }
            }
        } catch (IOException e) {
            throw new MachineException("'" + part.file().name() + "' cannot be read", e);
        }
        filled = Math.max(filled, wanted);
    }
}
