package dev.fiesta.step;

import dev.fiesta.compute.Expression;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The first rows of each partition, or of the whole along an order.
 *
 * @param along the order; empty for the rows as they stand, which then stay where they are
 * @param rest how the others become one more row, or null
 */
public record FirstsStep(
        long count,
        List<Expression> within,
        List<OrderKey> along,
        @Nullable Rest rest) implements Step {
    /**
     * How the rows left out become one more.
     *
     * @param labelSlot the key that shows the label
     * @param kept keys whose value the rest row keeps, by place
     */
    public record Rest(String label, int labelSlot, List<Integer> kept, Recomputed rows) {}

    @Override
    public String word() {
        return "first";
    }

    @Override
    public BitSet before(BitSet after) {
        BitSet before = (BitSet) after.clone();
        Slots.readKeys(along, before);
        Slots.read(within, before);
        if (rest != null) {
            before.set(rest.rows().group().numberSlot());
            rest.kept().forEach(before::set);
            before.set(rest.labelSlot());
        }
        return before;
    }

    @Override
    public Step prepared(Prepared before) {
        return new FirstsStep(count, before.values(within), before.order(along), rest);
    }

    @Override
    public boolean drops() {
        return true;
    }
}
