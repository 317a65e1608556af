package dev.fiesta;

import dev.fiesta.problem.RequestException;
import dev.fiesta.progress.Progress;
import java.time.Duration;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/**
 * How one run goes. Immutable.
 *
 * <pre>{@code
 * Cancellation cancellation = new Cancellation();
 * Result result = table.run(RunOptions.usual().timeout(Duration.ofSeconds(30)).cancelledBy(cancellation));
 * }</pre>
 */
public final class RunOptions {
    private static final RunOptions USUAL = new RunOptions(null, null, null);

    private final @Nullable Duration timeout;
    private final @Nullable Cancellation cancellation;
    private final @Nullable Consumer<Progress> progress;

    private RunOptions(
            @Nullable Duration timeout, @Nullable Cancellation cancellation, @Nullable Consumer<Progress> progress) {
        this.timeout = timeout;
        this.cancellation = cancellation;
        this.progress = progress;
    }

    /** {@return no timeout, nobody who cancels, and the listener of the {@link Fiesta}} */
    public static RunOptions usual() {
        return USUAL;
    }

    /**
     * Stops a run that takes longer.
     *
     * @param most longer than nothing
     * @return these options and this one
     * @throws RequestException when it is not
     */
    public RunOptions timeout(Duration most) {
        if (Given.needed(most, "a timeout").isNegative() || most.isZero()) {
            throw new RequestException("a timeout of " + most + " leaves no time; one is longer than nothing");
        }
        return new RunOptions(most, cancellation, progress);
    }

    /**
     * {@return lets a run be stopped from another thread}
     *
     * @param whoCancels who may stop it
     */
    public RunOptions cancelledBy(Cancellation whoCancels) {
        return new RunOptions(timeout, Given.needed(whoCancels, "a cancellation"), progress);
    }

    /**
     * Tells somebody each phase of this run and where it stands, some times a second at most, from any thread; instead of the listener of the {@link Fiesta}.
     *
     * @param listener who is told
     * @return these options and this one
     */
    public RunOptions progress(Consumer<Progress> listener) {
        return new RunOptions(timeout, cancellation, Given.needed(listener, "a listener"));
    }

    @Nullable
    Duration timeout() {
        return timeout;
    }

    @Nullable
    Cancellation cancellation() {
        return cancellation;
    }

    @Nullable
    Consumer<Progress> progress() {
        return progress;
    }
}
