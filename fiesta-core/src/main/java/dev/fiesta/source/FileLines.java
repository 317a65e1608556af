package dev.fiesta.source;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Lines of files, counted only when somebody asks. */
final class FileLines {
    private FileLines() {}

    /** The place of a byte, {@code sales.csv, line 12}, looked up when it is asked for; the file's name alone when it is gone. */
    static Supplier<@Nullable String> place(String name, Path path, long offset, byte lineEnd) {
        return () -> {
            try (FileChannel channel = FileChannel.open(path, StandardOpenOption.READ)) {
                return name + ", line " + line(channel, offset, lineEnd);
            } catch (IOException e) {
                return name;
            }
        };
    }

    /** The line, from 1, in which a byte stands; 0 when the file cannot be read any more. */
    static long line(FileChannel channel, long offset, byte lineEnd) {
        long line = 1;
        ByteBuffer buffer = ByteBuffer.allocate(1 << 16);
        try {
            for (long at = 0; at < offset; at += buffer.position()) {
                buffer.clear().limit((int) Math.min(buffer.capacity(), offset - at));
                if (channel.read(buffer, at) <= 0) {
                    break;
                }
                for (int i = 0; i < buffer.position(); i++) {
                    line += buffer.get(i) == lineEnd ? 1 : 0;
                }
            }
        } catch (IOException e) {
            return 0;
        }
        return line;
    }
}
