package dev.fiesta.progress;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Consumer;
import java.util.function.DoubleSupplier;

/** Tells a listener of each phase of a run, then where it stands, some times a second at most; notes what steps did. Thread-safe. */
public final class Watch {
    private static final long PAUSE_NANOS = 100_000_000;

    private final Consumer<Progress> listener;
    private final List<Timing> timings = new ArrayList<>();
    private final AtomicLong rows = new AtomicLong();
    private final AtomicLong lastTold = new AtomicLong(System.nanoTime() - PAUSE_NANOS);
    private volatile String phase = "";
    private volatile DoubleSupplier share = () -> -1;

    public Watch(Consumer<Progress> listener) {
        this.listener = listener;
    }

    /**
     * A new phase.
     *
     * @param name its name
     * @param known the rows it works on, 0 when they come while it goes on
     * @param done the part that is done, negative where nobody knows
     */
    public void phase(String name, long known, DoubleSupplier done) {
        phase = name;
        share = done;
        rows.set(known);
        lastTold.set(System.nanoTime());
        listener.accept(new Progress(phase, known, done.getAsDouble()));
    }

    /**
     * So many rows more in this phase.
     *
     * @param more how many more
     */
    public void rows(long more) {
        rows.addAndGet(more);
        tell();
    }

    private void tell() {
        long now = System.nanoTime();
        long last = lastTold.get();
        if (now - last >= PAUSE_NANOS && lastTold.compareAndSet(last, now)) {
            listener.accept(new Progress(phase, rows.get(), share.getAsDouble()));
        }
    }

    /**
     * Notes what a step did.
     *
     * @param timing what a step did
     */
    public synchronized void add(Timing timing) {
        timings.add(timing);
    }

    /** Forgets what the steps did: they do it again. */
    public synchronized void forget() {
        timings.clear();
    }

    /** {@return what the steps did, in the order in which they ended} */
    public synchronized List<Timing> timings() {
        return List.copyOf(timings);
    }
}
