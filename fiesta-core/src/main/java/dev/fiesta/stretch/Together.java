package dev.fiesta.stretch;

import dev.fiesta.crew.GivenTask;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.MachineException;
import dev.fiesta.source.PiecedScan;
import dev.fiesta.source.Portable;
import dev.fiesta.stretch.GivenStretches.Given;
import dev.fiesta.stretch.Head.Outcome;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutput;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Semaphore;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * The reading of an input by a crew. Its members read stretches of it, each from where its first record seems to start; what
 * comes of them is taken in here in their order, and a stretch that began elsewhere than the one before it ended is read again.
 * While a table wants only the first rows, it is read here: nobody else knows how many are left to be wanted.
 */
public final class Together implements AutoCloseable {
    private final Sharing sharing;
    private final Portable source;
    private final PiecedScan scan;
    private final int threads;
    private final int step;
    /** What came of stretches, in order, where it stands until all is done. */
    private final List<GivenTask> kept = new ArrayList<>();

    private volatile int at;

    /**
     * @param scan the reading that knows where pieces start once all is through
     * @param threads that take in what comes
     */
    public Together(Sharing sharing, Portable source, PiecedScan scan, int threads) {
        this.threads = threads;
        this.sharing = sharing;
        this.source = source;
        this.scan = scan;
        this.step = Sharing.step(sharing.crew(), source, scan);
    }

    /** {@return with whom, and how} */
    public Sharing sharing() {
        return sharing;
    }

    /** {@return into how many parts members put rows that they go on with} */
    public int parts() {
        return sharing.parts(scan);
    }

    /** {@return the part that is through, from 0 to 1} */
    public double share() {
        return (double) at / scan.pieces();
    }

    /** Tells others what to find. */
    @FunctionalInterface
    public interface Asking {
        /**
         * Writes a task.
         *
         * @param from the first piece, {@code to} the first behind them
         * @param start where the first record of the first piece starts, or {@link PiecedScan#UNKNOWN}
         * @param answers the names of those that are to be merged; none to read the pieces
         */
        void write(int from, int to, long start, List<String> answers, DataOutput out) throws IOException;
    }

    /**
     * Reads as long as records must be read in their order.
     *
     * @return whether there is more to be read
     */
    public boolean readHere(Findings findings) {
        for (int some = 1; at < scan.pieces() && findings.anyCounts(); some = Math.min(step, 2 * some)) {
            int to = Math.min(at + some, scan.pieces());
            try (PiecedScan here = source.stretch(at, to, scan.start(at))) {
                findings.read(here);
                publish(to, IntStream.rangeClosed(at, to).mapToLong(here::start).toArray());
                if (findings.hasEnough()) {
                    return false;
                }
            }
        }
        return at < scan.pieces();
    }

    /** Goes on behind a stretch whose pieces start there. */
    private void publish(int to, long[] starts) {
        for (int i = 0; i < starts.length; i++) {
            scan.publish(at + i, starts[i]);
        }
        at = to;
    }

    /** Has others read what is left, and takes in what they find. */
    public void readByOthers(Findings findings, Asking asking) {
        Semaphore news = new Semaphore(0);
        try (TakenIn taken = new TakenIn(threads, news::release);
                GivenStretches given = new GivenStretches(
                        sharing.crew(),
                        (from, to, answers) -> give(out -> asking.write(from, to, scan.start(from), answers, out)),
                        step,
                        at,
                        scan.pieces(),
                        findings.reduces(),
                        news::release)) {
            while (at < scan.pieces()) {
                given.go();
                if (given.firstIsDone() && taken.hasRoom()) {
                    Given first = given.takeFirst();
                    if (!takeIn(first, findings, taken)) {
                        given.again(first);
                    }
                } else {
                    await(news);
                }
            }
            taken.await();
        }
    }

    /** {@return what came of the stretches that others have read, in order, where it stands} */
    public List<GivenTask> standing() {
        return kept;
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

    /** Writes what is asked. */
    @FunctionalInterface
    public interface Task {
        void write(DataOutput out) throws IOException;
    }

    /** Lets somebody do a task. */
    public GivenTask give(Task task) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try {
            task.write(new DataOutputStream(bytes));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return GivenTask.of(sharing.work(), sharing.task().apply(bytes.toByteArray()));
    }

    /** Takes a stretch in, or has it taken in beside others; whether it began where it should, and could be. */
    private boolean takeIn(Given stretch, Findings findings, TakenIn taken) {
        boolean handedOn = false;
        DataInputStream in = opened(stretch);
        if (in == null) {
            return false;
        }
        try {
            Head head = Head.read(in);
            if (head.outcome() == Outcome.APART || head.first() != scan.start(stretch.from())) {
                return false;
            }
            if (head.outcome() == Outcome.FAILED) {
                RuntimeException failure = FailureBytes.read(in);
                stretch.close();
                taken.await(); // what stands before it is told before it
                throw failure instanceof FailureBytes.WidenedElsewhere wider ? source.widened(wider.fields()) : failure;
            }
            boolean stands = findings.stands();
            if (stands) {
                kept.add(stretch.asked());
            }
            taken.add(() -> {
                try (in) {
                    findings.read(in);
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
