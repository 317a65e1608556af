package dev.fiesta.source.files;

import dev.fiesta.problem.MachineException;
import dev.fiesta.value.Packing;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.function.Consumer;

/**
 * A file that stands at the same path for several machines.
 *
 * @param name as it is told of
 * @param changed when it was last changed, in milliseconds since 1970
 */
public record SharedFile(String name, Path path, long size, long changed) {
    /** A file as it is now. */
    public static SharedFile of(String name, Path path) throws IOException {
        return new SharedFile(
                name,
                path.toAbsolutePath(),
                Files.size(path),
                Files.getLastModifiedTime(path).toMillis());
    }

    /** Writes what it is, for {@link #read}. */
    public void write(DataOutput out) throws IOException {
        Packing.text(out, name);
        Packing.text(out, path.toString());
        out.writeLong(size);
        out.writeLong(changed);
    }

    /**
     * A file as another machine told it.
     *
     * @param refuse fails for files that may not be read, before they are looked at
     * @throws MachineException when the one here is not the one that was looked at, or cannot be read
     */
    public static SharedFile read(DataInput in, Consumer<Path> refuse) throws IOException {
        SharedFile told = new SharedFile(Packing.text(in), Path.of(Packing.text(in)), in.readLong(), in.readLong());
        refuse.accept(told.path);
        try {
            if (!of(told.name, told.path).equals(told)) {
                throw new MachineException(
                        "'" + told.name + "' is another file on this machine than where it was asked for", null);
            }
            return told;
        } catch (IOException e) {
            throw new MachineException("'" + told.name + "' cannot be read", e);
        }
    }
}
