package dev.fiesta;

import dev.fiesta.problem.Interrupted;
import dev.fiesta.source.Source;
import dev.fiesta.source.files.FilesSeen;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** An input that tables stand on, opened when the first call needs its fields. */
final class Root {
    private final String name;
    private final Supplier<Source> opener;
    private final Supplier<FilesSeen> files;
    /** Whether the records are asked for again by every run. */
    private final boolean again;

    private @Nullable Source source;
    private @Nullable FilesSeen seen;
    private boolean used;

    /**
     * @param files looks at the files of the source, none where it has none
     * @param again whether the records are asked for again by every run
     */
    Root(String name, Supplier<Source> opener, Supplier<FilesSeen> files, boolean again) {
        this.again = again;
        this.name = name;
        this.opener = opener;
        this.files = files;
    }

    synchronized Source source() {
        if (source == null) {
            try {
                seen = files.get();
                source = opener.get();
            } catch (RuntimeException e) {
                throw Interrupted.orItself(e);
            }
        }
        return source;
    }

    String name() {
        return name;
    }

    boolean isAskedAgain() {
        return again;
    }

    FilesSeen filesSeen() {
        return files.get();
    }

    synchronized void replace(Source wider) {
        source = wider;
    }

    /** Forgets what was known of files that have changed since; whether that was so. */
    synchronized boolean refresh() {
        boolean changed = again && used || seen != null && !files.get().isSame(seen);
        if (changed) {
            source = null;
        }
        used = true;
        return changed;
    }

    synchronized void refuseChange() {
        if (seen != null) {
            seen.refuseChange(files.get());
        }
    }
}
