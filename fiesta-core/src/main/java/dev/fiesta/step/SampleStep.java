package dev.fiesta.step;

import dev.fiesta.compute.Expression;
import java.math.BigDecimal;
import java.util.BitSet;
import java.util.List;

/**
 * Rows by chance, decided by a hash of the seed and what makes the row the one it is.
 *
 * @param count the rows kept of each partition, or their part in percent
 * @param within the partition
 * @param identity the slots that make a row the one it is; its place in the table when there are none
 * @param shuffled whether the rows stand in the order of the hashes, not in that of the table
 */
public record SampleStep(
        BigDecimal count, boolean percent, List<Expression> within, long seed, List<Integer> identity, boolean shuffled)
        implements Step {
    @Override
    public String word() {
        return shuffled ? "shuffle" : "sample";
    }

    @Override
    public BitSet before(BitSet after) {
        BitSet before = (BitSet) after.clone();
        Slots.read(within, before);
        identity.forEach(before::set);
        return before;
    }

    @Override
    public Step prepared(Prepared before) {
        return new SampleStep(count, percent, before.values(within), seed, identity, shuffled);
    }

    @Override
    public boolean drops() {
        return !(shuffled && percent);
    }

    @Override
    public List<Expression> together() {
        return isOfPartitions() ? within : List.of();
    }

    @Override
    public boolean staysWithin(List<Expression> keys) {
        return isOfPartitions() && keys.stream().allMatch(k -> within.stream().anyMatch(k::isSameAs));
    }

    /** Whether what is chosen of a partition does not depend on where its rows stand. */
    private boolean isOfPartitions() {
        return !shuffled && !identity.isEmpty();
    }
}
