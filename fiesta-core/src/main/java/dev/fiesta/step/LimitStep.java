package dev.fiesta.step;

import java.util.BitSet;

/**
 * Keeps the first rows.
 *
 * @param ends whether nothing need be read behind them
 */
public record LimitStep(long count, boolean ends) implements Step {
    @Override
    public String word() {
        return "first";
    }

    @Override
    public BitSet before(BitSet after) {
        return after;
    }

    @Override
    public boolean isTakenIn() {
        return true;
    }

    @Override
    public boolean drops() {
        return true;
    }
}
