package dev.fiesta.source;

import dev.fiesta.source.files.TemporaryFiles;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/** A source that other processes can read as well, once they are told what it is: its files stand where they stand for all. */
public interface Portable extends Source {
    /** Whether it can be told to others, once its files stand where they see them. */
    default boolean isPortable() {
        return true;
    }

    /**
     * The same records; files that only this process sees are read from where they are placed.
     *
     * @param place places a file where others see it, and tells where
     */
    Portable placed(UnaryOperator<Path> place);

    /** A file as others see it: those of this process alone are placed. */
    static Path placed(Path file, UnaryOperator<Path> place) {
        return TemporaryFiles.holds(file) ? place.apply(file) : file;
    }

    /**
     * A reading of some of the pieces that {@link #scan} reads.
     *
     * @param from the first, {@code to} the first behind them
     * @param start where the first record of the first piece starts in its file; {@link PiecedScan#UNKNOWN} to guess it
     */
    PiecedScan stretch(int from, int to, long start);

    /** Where records that cannot be read are set aside; null where none are. */
    default @Nullable Aside aside() {
        return null;
    }

    /** Lets somebody look at records that are read for the tables later, and sets none aside meanwhile. */
    default void unnoticed(Runnable look) {
        Aside aside = aside();
        if (aside == null) {
            look.run();
        } else {
            aside.unnoticed(look);
        }
    }

    /** Writes what was set aside of what was read of it, if it sets any aside. */
    default void writeAside(DataOutput out) throws IOException {
        Aside aside = aside();
        if (aside != null) {
            aside.write(out);
        }
    }

    /** Takes note of what was set aside by somebody who reads the same records. */
    default void readAside(DataInput in) throws IOException {
        Aside aside = aside();
        if (aside != null) {
            aside.read(in);
        }
    }

    /** What cells are cells of that are told of, see {@link dev.fiesta.problem.Notices#cell}. */
    default Source ofCells() {
        return this;
    }

    /** The same records with wider types, which somebody else has found to be needed. */
    Widened widened(List<Widening> wider);

    /** Tells what it is, for {@link PortableSources#read}. */
    void write(DataOutput out) throws IOException;
}
