package dev.fiesta.source;

import dev.fiesta.problem.Interrupted;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.TemporaryFiles;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;

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
                : sideBySide(feeds.stream()
                        .<Callable<RecordSpool>>map(feed -> () -> RecordSpool.of(name, counted, dialect, fields, feed))
                        .toList());
        return LineSource.of(spools, dialect, fields, DelimitedSource.PIECE);
    }

    /** Where one fails, what the others have written goes. */
    private static List<RecordSpool> sideBySide(List<Callable<RecordSpool>> all) {
        ExecutorService threads = Executors.newFixedThreadPool(all.size());
        List<Future<RecordSpool>> running = all.stream().map(threads::submit).toList();
        List<RecordSpool> spools = new ArrayList<>();
        try {
            for (Future<RecordSpool> one : running) {
                spools.add(got(one));
            }
            return spools;
        } finally {
            threads.shutdownNow();
            if (spools.size() < all.size()) {
                running.forEach(Spooled::drop);
            }
        }
    }

    private static void drop(Future<RecordSpool> one) {
        try {
            TemporaryFiles.drop(one.get().path());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (ExecutionException e) {
            // It has dropped its file itself.
        }
    }

    private static RecordSpool got(Future<RecordSpool> one) {
        try {
            return one.get();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new Interrupted();
        } catch (ExecutionException e) {
            if (e.getCause() instanceof RuntimeException failure) {
                throw failure;
            }
            throw new IllegalStateException(e.getCause());
        }
    }
}
