package dev.fiesta;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** How often a kind of question is asked anew: seldom by each build, often by the nightly one. */
public final class Repeats {
    private static final boolean NIGHTLY = Boolean.getBoolean("fiesta.nightly");

    private Repeats() {}

    public static int of(int usual, int nightly) {
        return NIGHTLY ? nightly : usual;
    }

    /** The one of several ways that a question takes; all of them nightly. */
    public static long[] of(long[] all, int question) {
        return NIGHTLY ? all : new long[] {all[Math.floorMod(question, all.length)]};
    }

    /** Writes a file anew: one that is written over waits for the disk on some systems. */
    public static Path write(Path file, CharSequence text) throws IOException {
        Files.deleteIfExists(file);
        return Files.writeString(file, text);
    }
}
