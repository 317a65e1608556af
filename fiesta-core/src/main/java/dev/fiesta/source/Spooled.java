package dev.fiesta.source;

import dev.fiesta.problem.Interrupted;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
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
        List<RecordSpool> spools = new ArrayList<>();
        if (feeds.size() == 1) {
            spools.add(RecordSpool.of(name, counted, dialect, fields, feeds.get(0)));
        } else {
            ExecutorService threads = Executors.newFixedThreadPool(feeds.size());
            try {
                List<Future<RecordSpool>> running = feeds.stream()
                        .map(feed -> threads.submit(() -> RecordSpool.of(name, counted, dialect, fields, feed)))
                        .toList();
                for (Future<RecordSpool> one : running) {
                    spools.add(got(one));
                }
            } finally {
                threads.shutdownNow();
            }
        }
        return LineSource.of(spools, dialect, fields, DelimitedSource.PIECE);
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
