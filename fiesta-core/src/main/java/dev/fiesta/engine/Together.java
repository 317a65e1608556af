package dev.fiesta.engine;

import dev.fiesta.crew.GivenTask;
import dev.fiesta.source.PiecedScan;
import dev.fiesta.source.Portable;
import dev.fiesta.step.MatchStep;
import dev.fiesta.store.Rows;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.function.Function;
import java.util.stream.IntStream;

/**
 * The reading of an input by a crew. Its members read stretches of it, each from where its first record seems to start; what
 * comes of them is taken in here in their order, and a stretch that began elsewhere than the one before it ended is read again.
 * While a table wants only the first rows, it is read here: nobody else knows how many are left to be wanted.
 */
final class Together {
    private final Sharing sharing;
    private final Portable source;
    private final PiecedScan scan;
    private final Stretch pattern;
    private final Function<MatchStep, Rows> lookUps;
    private final int threads;
    private final int step;
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
        this.step = (int) Math.max(1, Math.min(1 << 20, sharing.crew().taskBytes() / scan.pieceBytes()));
    }

    /** A stretch that somebody reads. */
    private record Given(int from, int to, GivenTask asked) {}

    /** The part that is through, from 0 to 1. */
    double share() {
        return scan.pieces() == 0 ? 1 : (double) at / scan.pieces();
    }

    void read(PassParts parts) {
        if (scan.pieces() == 0) {
            parts.read(scan);
        }
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
        Stretch asked = pattern.of(parts.closed(), parts.sign(), laid(parts.lookedUp()));
        Deque<Given> open = new ArrayDeque<>();
        int next = at;
        try (TakenIn taken = new TakenIn(threads)) {
            while (at < scan.pieces()) {
                while (next < scan.pieces() && open.size() < 2 * sharing.crew().members()) {
                    int to = Math.min(next + step, scan.pieces());
                    open.add(give(asked, next, to));
                    next = to;
                }
                Given first = open.remove();
                if (!takeIn(first, parts, taken)) {
                    open.addFirst(give(asked, first.from, first.to));
                }
            }
            taken.await();
        } finally {
            open.forEach(given -> given.asked.close());
        }
    }

    /** Lays the other tables down that are looked up. */
    private List<String> laid(List<MatchStep> lookedUp) {
        List<String> names = new ArrayList<>();
        for (MatchStep match : lookedUp) {
            Rows rows = lookUps.apply(match);
            names.add(sharing.work().lay(out -> rows.write(new DataOutputStream(out))));
        }
        return names;
    }

    private Given give(Stretch asked, int from, int to) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try {
            asked.of(from, to, scan.start(from)).write(new DataOutputStream(bytes));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return new Given(from, to, GivenTask.of(sharing.work(), sharing.task().apply(bytes.toByteArray())));
    }

    /** Takes a stretch in, or has it taken in beside others; whether it began where it should. */
    private boolean takeIn(Given stretch, PassParts parts, TakenIn taken) {
        boolean handedOn = false;
        DataInputStream in = stretch.asked.open();
        try {
            long[] starts = new long[stretch.to - stretch.from + 1];
            for (int i = 0; i < starts.length; i++) {
                starts[i] = in.readLong();
            }
            if (starts[0] != scan.start(stretch.from)) {
                return false;
            }
            if (in.readBoolean()) {
                RuntimeException failure = FailureBytes.read(in);
                taken.await(); // what stands before it is told before it
                throw failure instanceof FailureBytes.WidenedElsewhere wider ? source.widened(wider.fields()) : failure;
            }
            taken.add(() -> {
                try (stretch.asked;
                        in) {
                    parts.read(in, source.ofCells());
                }
            });
            handedOn = true;
            publish(stretch.to, starts);
            return true;
        } catch (IOException e) {
            throw GivenTask.unreadable(e);
        } finally {
            if (!handedOn) {
                close(in);
                stretch.asked.close();
            }
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
