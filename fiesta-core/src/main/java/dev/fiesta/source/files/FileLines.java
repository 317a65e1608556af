package dev.fiesta.source.files;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.StandardOpenOption;
import java.util.function.Supplier;
import java.util.function.ToLongFunction;
import org.jspecify.annotations.Nullable;

/** Lines of files, counted only when somebody asks. */
public final class FileLines {
    private FileLines() {}

    /** The place of a record that is counted otherwise than in lines. */
    public static Supplier<@Nullable String> place(
            Paths.Named file, String counted, ToLongFunction<FileChannel> number) {
        return () -> {
            try (FileChannel channel = FileChannel.open(file.path(), StandardOpenOption.READ)) {
                return file.name() + ", " + counted + " " + number.applyAsLong(channel);
            } catch (IOException e) {
                return file.name();
            }
        };
    }

    /** The number that stands in digits at a byte; 0 when the file cannot be read any more. */
    public static long numberAt(FileChannel channel, long start) {
        ByteBuffer buffer = ByteBuffer.allocate(20);
        try {
            channel.read(buffer, start);
        } catch (IOException e) {
            return 0;
        }
        long number = 0;
        for (int i = 0; i < buffer.position() && buffer.get(i) >= '0' && buffer.get(i) <= '9'; i++) {
            number = number * 10 + buffer.get(i) - '0';
        }
        return number;
    }

    /** The line, from 1, in which a byte stands; 0 when the file cannot be read any more. */
    public static long line(FileChannel channel, long offset, byte lineEnd) {
        long line = 1;
        byte[] bytes = new byte[1 << 16];
        ByteBuffer buffer = ByteBuffer.wrap(bytes);
        try {
            for (long at = 0; at < offset; at += buffer.position()) {
                buffer.clear().limit((int) Math.min(buffer.capacity(), offset - at));
                if (channel.read(buffer, at) <= 0) {
                    break;
                }
                for (int i = 0; i < buffer.position(); i++) {
                    line += bytes[i] == lineEnd ? 1 : 0;
                }
            }
        } catch (IOException e) {
            return 0;
        }
        return line;
    }
}
