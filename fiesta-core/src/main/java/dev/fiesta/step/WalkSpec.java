package dev.fiesta.step;

import dev.fiesta.compute.Apply.Place;
import dev.fiesta.compute.Expression;
import dev.fiesta.value.Unit;
import dev.fiesta.walk.Frame;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A calculation over partitions, one value for each row.
 *
 * @param within the partition keys
 * @param along the order; empty when a whole partition is gathered
 * @param period how far rows should lie apart along a single key, or null where that does not matter
 */
public record WalkSpec(
        int slot,
        Calculation calculation,
        List<Expression> args,
        @Nullable Expression only,
        List<Expression> within,
        List<OrderKey> along,
        @Nullable Unit period,
        Place place) {
    /** The same over another frame. */
    public WalkSpec over(@Nullable Frame frame) {
        return new WalkSpec(slot, calculation.over(frame), args, only, within, along, period, place);
    }

    /** The same over all rows, as they stand. */
    public WalkSpec overAll() {
        return new WalkSpec(slot, calculation, args, only, List.of(), List.of(), period, place);
    }
}
