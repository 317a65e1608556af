package dev.fiesta.step;

import dev.fiesta.compute.Apply.Place;
import dev.fiesta.compute.Constant;
import dev.fiesta.compute.Expression;
import dev.fiesta.gather.GatherFunction;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
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
    /** Whether it gathers the same values of the same rows as another, whatever it tells of them. */
    public boolean gathersAs(GatherSpec other) {
        return gathersOf(other) && Expression.areSame(gathered(), other.gathered());
    }

    private boolean gathersOf(GatherSpec other) {
        return Expression.areSame(only, other.only) && along.isEmpty() && other.along.isEmpty();
    }

    /** The arguments without those behind the first that only say what is told of them: the part of a quantile. */
    private List<Expression> gathered() {
        return IntStream.range(0, args.size())
                .filter(i -> i == 0 || !(args.get(i) instanceof Constant))
                .mapToObj(args::get)
                .toList();
    }

    /** Whether it is the same figure as another, written twice. */
    public boolean isSameAs(GatherSpec other) {
        return function == other.function
                && Arrays.equals(wider, other.wider)
                && gathersOf(other)
                && Expression.areSame(args, other.args);
    }
}
