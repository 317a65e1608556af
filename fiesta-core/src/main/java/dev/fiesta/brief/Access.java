package dev.fiesta.brief;

import dev.fiesta.copy.Copies;
import dev.fiesta.progress.Progress;
import dev.fiesta.progress.Watch;
import dev.fiesta.source.Databases;
import dev.fiesta.source.InputFormat;
import dev.fiesta.source.Source;
import dev.fiesta.source.files.Paths;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** What can be read, by whom, and what of it may be. */
public final class Access {
    private final List<InputFormat> formats;
    private final Databases databases;
    private final @Nullable Copies copies;
    private final @Nullable Reach reach;
    private final String version;
    private final int threads;
    private final Consumer<Progress> progress;

    /**
     * @param formats what is read besides delimited text
     * @param databases who asks queries
     * @param copies where copies of inputs are kept, or null
     * @param folders where files may be read, as {@link #folder} gives them; everywhere, when there are none
     * @param version of this library: copies that another one made are not read
     * @param threads that make copies
     * @param progress is told of them
     */
    public Access(
            List<InputFormat> formats,
            Databases databases,
            @Nullable Copies copies,
            List<Path> folders,
            String version,
            int threads,
            Consumer<Progress> progress) {
        this.formats = List.copyOf(formats);
        this.databases = databases;
        this.copies = copies;
        this.reach = folders.isEmpty() ? null : new Reach(folders);
        this.version = version;
        this.threads = threads;
        this.progress = progress;
    }

    /**
     * {@return a folder as it really is, wherever links lead}
     *
     * @throws dev.fiesta.problem.RequestException when it is none
     */
    public static Path folder(Path folder) {
        return Reach.folder(folder);
    }

    List<InputFormat> formats() {
        return formats;
    }

    Databases databases() {
        return databases;
    }

    /** Whether only some folders may be read. */
    boolean isConfined() {
        return reach != null;
    }

    /** Refuses a path that may not be read, before anything of it is looked at. */
    public void refuseOutside(Path folder, String path) {
        if (reach != null) {
            reach.refuse(folder, path);
        }
    }

    /** The same files, none of which lies where it may not be read. */
    List<Paths.Named> allowed(List<Paths.Named> files) {
        if (reach != null) {
            files.forEach(reach::refuse);
        }
        return files;
    }

    /** The files of an input, or a copy of them where copies are kept and the files can be read more than once. */
    Source copied(
            String input, Supplier<String> how, List<Paths.Named> files, boolean onceOnly, Supplier<Source> open) {
        return copies == null || onceOnly
                ? open.get()
                : copies.of(input, version + "\n" + how.get(), files, open, threads, new Watch(progress));
    }
}
