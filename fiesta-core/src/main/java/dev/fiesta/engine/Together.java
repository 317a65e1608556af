package dev.fiesta.engine;

import dev.fiesta.crew.GivenTask;
import dev.fiesta.engine.GivenStretches.Given;
import dev.fiesta.engine.StretchHead.Outcome;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.MachineException;
import dev.fiesta.source.PiecedScan;
import dev.fiesta.source.Portable;
import dev.fiesta.step.MatchStep;
import dev.fiesta.store.RowBytes;
import dev.fiesta.store.Rows;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Semaphore;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * The reading of an input by a crew. Its members read stretches of it, each from where its first record seems to start; what
 * comes of them is taken in here in their order, and a stretch that began elsewhere than the one before it ended is read again.
 * While a table wants only the first rows, it is read here: nobody else knows how many are left to be wanted.
 */
final class Together implements AutoCloseable {
    private final Sharing sharing;
    private final Portable source;
    private final PiecedScan scan;
    private final Stretch pattern;
    private final Function<MatchStep, Rows> lookUps;
    private final int threads;
    private final int step;
    /** What came of stretches whose rows are in parts, in order: it stands there until others have gone on with them. */
    private final List<GivenTask> kept = new ArrayList<>();

    private volatile int at;

    /**
     * @param scan the reading that knows where pieces start once all is through
     * @param pattern what stretches are read for
     * @param lookUps what a look-up reads of the other table
     * @param threads that take in what comes
     */
    Together(
            Sharing sharing,
            Portable source,
            PiecedScan scan,
            Stretch pattern,
            Function<MatchStep, Rows> lookUps,
            int threads) {
        this.threads = threads;
        this.sharing = sharing;
        this.source = source;
        this.scan = scan;
        this.pattern = pattern;
        this.lookUps = lookUps;
        this.step = Sharing.step(sharing.crew(), source, scan);
    }

    /** Into how many parts members put rows that they go on with. */
    int parts() {
        return sharing.parts(scan);
    }

    /** The part that is through, from 0 to 1. */
    double share() {
        return (double) at / scan.pieces();
    }

    /** @param told is told who reads, once others do */
    void read(PassParts parts, Consumer<String> told) {
        for (int some = 1; at < scan.pieces() && parts.anyCounts(); some = Math.min(step, 2 * some)) {
            int to = Math.min(at + some, scan.pieces());
            try (PiecedScan here = source.stretch(at, to, scan.start(at))) {
                parts.read(here);
                publish(to, IntStream.rangeClosed(at, to).mapToLong(here::start).toArray());
                if (parts.hasEnough()) {
                    return;
                }
            }
        }
        if (at < scan.pieces()) {
            told.accept(sharing.readers());
            readByOthers(parts);
        }
    }

    /** Goes on behind a stretch whose pieces start there. */
    private void publish(int to, long[] starts) {
        for (int i = 0; i < starts.length; i++) {
            scan.publish(at + i, starts[i]);
        }
        at = to;
    }

    private void readByOthers(PassParts parts) {
        Stretch asked = pattern.of(parts.closed(), parts.sign(), laid(parts.lookedUp()), parts());
        Semaphore news = new Semaphore(0);
        try (TakenIn taken = new TakenIn(threads, news::release);
                GivenStretches given = new GivenStretches(
                        sharing.crew(),
                        (from, to, answers) -> give(asked.of(from, to, scan.start(from), answers)),
                        step,
                        at,
                        scan.pieces(),
                        parts.reduces(),
                        news::release)) {
            while (at < scan.pieces()) {
                given.go();
                if (given.firstIsDone() && taken.hasRoom()) {
                    Given first = given.takeFirst();
                    if (!takeIn(first, parts, taken)) {
                        given.again(first);
                    }
                } else {
                    await(news);
                }
            }
            taken.await();
        }
        List<PartedRows> parted = parts.parted();
        for (int i = 0; i < parted.size(); i++) {
            parted.get(i).apart(new Apart(sharing, kept, i, parts(), (part, names) -> give(asked.of(part, names))));
        }
    }

    @Override
    public void close() {
        kept.forEach(GivenTask::close);
    }

    private static void await(Semaphore news) {
        try {
            news.acquire();
            news.drainPermits();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new Interrupted();
        }
    }

    /** Lays the other tables down that are looked up. */
    private List<String> laid(List<MatchStep> lookedUp) {
        List<String> names = new ArrayList<>();
        for (MatchStep match : lookedUp) {
            Rows rows = lookUps.apply(match);
            names.add(sharing.work().lay(out -> RowBytes.write(rows, rows.there(), new DataOutputStream(out))));
        }
        return names;
    }

    private GivenTask give(Stretch stretch) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try {
            stretch.write(new DataOutputStream(bytes));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return GivenTask.of(sharing.work(), sharing.task().apply(bytes.toByteArray()));
    }

    /** Takes a stretch in, or has it taken in beside others; whether it began where it should, and could be. */
    private boolean takeIn(Given stretch, PassParts parts, TakenIn taken) {
        boolean handedOn = false;
        DataInputStream in = opened(stretch);
        if (in == null) {
            return false;
        }
        try {
            StretchHead head = StretchHead.read(in);
            if (head.outcome() == Outcome.APART || head.first() != scan.start(stretch.from())) {
                return false;
            }
            if (head.outcome() == Outcome.FAILED) {
                RuntimeException failure = FailureBytes.read(in);
                stretch.close();
                taken.await(); // what stands before it is told before it
                throw failure instanceof FailureBytes.WidenedElsewhere wider ? source.widened(wider.fields()) : failure;
            }
            boolean stands = !parts.parted().isEmpty();
            if (stands) {
                kept.add(stretch.asked());
            }
            taken.add(() -> {
                try (in) {
                    parts.read(in, source.ofCells());
                } finally {
                    if (!stands) {
                        stretch.close();
                    }
                }
            });
            handedOn = true;
            publish(stretch.to(), head.starts());
            return true;
        } catch (IOException e) {
            throw GivenTask.unreadable(e);
        } finally {
            if (!handedOn) {
                close(in);
            }
        }
    }

    /** What came of a stretch; null where its parts could not be merged, which stand as they stood. */
    private static @Nullable DataInputStream opened(Given stretch) {
        try {
            return stretch.asked().open();
        } catch (MachineException e) {
            if (stretch.of().isEmpty()) {
                throw e;
            }
            return null;
        }
    }

    private static void close(DataInputStream in) {
        try {
            in.close();
        } catch (IOException e) {
            throw GivenTask.unreadable(e);
        }
    }
}
