package dev.fiesta.step;

import dev.fiesta.compute.Apply.Place;
import dev.fiesta.compute.Expression;
import dev.fiesta.gather.GatherFunction;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A figure of a group.
 *
 * @param wider the keys, by place, of the wider group it is taken over; null for the group itself
 * @param along the order for functions that look at it
 */
public record GatherSpec(
        GatherFunction function,
        GatherFunction.Bound bound,
        List<Expression> args,
        @Nullable Expression only,
        int @Nullable [] wider,
        List<OrderKey> along,
        Place place) {
    /** Whether it gathers the same values of the same rows as another. */
    public boolean gathersAs(GatherSpec other) {
        return Expression.areSame(only, other.only)
                && along.isEmpty()
                && other.along.isEmpty()
                && Expression.areSame(args, other.args);
    }

    /** Whether it is the same figure as another, written twice. */
    public boolean isSameAs(GatherSpec other) {
        return function == other.function && Arrays.equals(wider, other.wider) && gathersAs(other);
    }
}
