package dev.fiesta.source;

import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.SideBySide;
import dev.fiesta.source.files.TemporaryFiles;
import java.io.IOException;
import java.util.List;
import java.util.concurrent.Callable;

/** Records that are handed over once, by whoever can only read them one after another. */
public final class Spooled {
    private Spooled() {}

    /** Hands records over. */
    @FunctionalInterface
    public interface Feed {
        void to(RecordFormat.Records records) throws IOException;
    }

    /**
     * Takes the records of all feeds, which run side by side, into files of their own: those of the first, then those of the next.
     *
     * @param name of where they come from, as it is told
     * @param counted what they are counted in: {@code row}
     * @param fields what was told of fields
     */
    public static Source of(String name, String counted, Dialect dialect, List<FieldSpec> fields, List<Feed> feeds) {
        List<RecordSpool> spools = feeds.size() == 1
                ? List.of(RecordSpool.of(name, counted, dialect, fields, feeds.get(0)))
                : SideBySide.of(
                        feeds.stream()
                                .<Callable<RecordSpool>>map(
                                        feed -> () -> RecordSpool.of(name, counted, dialect, fields, feed))
                                .toList(),
                        feeds.size(),
                        spool -> TemporaryFiles.drop(spool.path()));
        return LineSource.of(spools, dialect, fields, DelimitedSource.PIECE);
    }
}
