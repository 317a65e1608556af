package dev.fiesta.engine;

import dev.fiesta.step.MatchStep;
import dev.fiesta.step.Step;
import java.util.List;
import java.util.function.ToIntFunction;
import org.jspecify.annotations.Nullable;

/**
 * Steps of a table that work batch by batch, and where rows go from there: into what takes them in, and into tables over it.
 *
 * @param order how many lanes there are before it
 * @param first the first of its steps here, {@code end} the first behind them
 * @param sink what takes its rows in, or null
 * @param takesIn whether that is what the next step does
 */
record Lane(
        Way way, int order, int first, int end, @Nullable Sink sink, boolean takesIn, List<Lane> children) {
    private static final int MANY = 1 << 20;

    /** Whether rows are wanted here: of an order of rows there may be enough. */
    boolean isOpen() {
        return (sink != null && sink.left() > 0) || children.stream().anyMatch(Lane::isOpen);
    }

    /** Whether it, or one behind it, wants only the first rows. */
    boolean isCounted() {
        return (sink != null && sink.left() < Long.MAX_VALUE)
                || children.stream().anyMatch(Lane::isCounted);
    }

    /**
     * How many rows become of one, at most.
     *
     * @param joins what a look-up makes of one
     */
    int times(ToIntFunction<MatchStep> joins) {
        long times = 1;
        for (int i = first; i < end; i++) {
            Step step = step(i);
            int own = step instanceof MatchStep match && match.multiplies() ? joins.applyAsInt(match) : step.times();
            times = Math.min(MANY, times * own);
        }
        int behind = children.stream().mapToInt(c -> c.times(joins)).max().orElse(1);
        return (int) Math.min(MANY, times * behind);
    }

    /** Adds it and all behind it, in their order. */
    void addTo(List<Lane> all) {
        all.add(this);
        children.forEach(child -> child.addTo(all));
    }

    Step step(int number) {
        return way.step(number);
    }
}
