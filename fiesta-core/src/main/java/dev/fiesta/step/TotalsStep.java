package dev.fiesta.step;

import java.util.BitSet;

/**
 * Total rows: notes which groups stand here. The rows themselves are worked out last, and no step sees them.
 *
 * @param by how many of the first keys get subtotals; 0 for the grand total only
 */
public record TotalsStep(int by) implements Step {
    @Override
    public String word() {
        return "totals";
    }

    @Override
    public BitSet before(BitSet after) {
        return after;
    }
}
