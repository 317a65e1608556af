package dev.fiesta.copy;

import dev.fiesta.progress.Watch;
import dev.fiesta.source.Source;
import dev.fiesta.source.files.Paths;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Supplier;

/** Copies of files of any size. */
public final class SmallCopies {
    private SmallCopies() {}

    /** Copies in a folder that tell nobody. */
    public static Copies in(Path folder, List<String> told) {
        return new Copies(folder, 1 << 30, 0, told::add);
    }

    /** The records of a file, copied first; the copy is made anew. */
    public static Source of(Path folder, Path file, int threads, Supplier<Source> open) {
        Copies copies = in(folder, new ArrayList<>());
        copies.clear();
        List<Paths.Named> files = List.of(new Paths.Named(file.getFileName().toString(), file));
        return copies.of("sales", "as they are", files, open, threads, new Watch(progress -> {}));
    }
}
