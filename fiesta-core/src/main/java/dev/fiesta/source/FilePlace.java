package dev.fiesta.source;

import dev.fiesta.source.files.FileLines;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Packing;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.nio.file.Path;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * The place of a byte in a file of lines, {@code sales.csv, line 12}, looked up when it is asked for: lines before it are counted
 * then.
 *
 * @param name of the file, told alone when it is gone
 * @param home where the one who asks sees it
 * @param lineEnd the byte that ends lines
 */
public record FilePlace(String name, Path path, Path home, long offset, byte lineEnd)
        implements Supplier<@Nullable String> {
    @Override
    public @Nullable String get() {
        return FileLines.place(
                        new Paths.Named(name, path),
                        LineSource.LINE,
                        channel -> FileLines.line(channel, offset, lineEnd))
                .get();
    }

    /** Writes it, for {@link #read}. */
    public void write(DataOutput out) throws IOException {
        Packing.text(out, name);
        Packing.text(out, home.toAbsolutePath().toString());
        out.writeLong(offset);
        out.writeByte(lineEnd);
    }

    public static FilePlace read(DataInput in) throws IOException {
        String name = Packing.text(in);
        Path home = Path.of(Packing.text(in));
        return new FilePlace(name, home, home, in.readLong(), in.readByte());
    }
}
