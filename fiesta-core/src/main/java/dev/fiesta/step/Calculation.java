package dev.fiesta.step;

import dev.fiesta.gather.GatherFunction;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Frame;
import dev.fiesta.walk.WalkFunction;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** What a walking calculation works out: exactly one of the two functions is there. */
public record Calculation(
        @Nullable WalkFunction walk,
        WalkFunction.@Nullable Bound walkBound,
        @Nullable GatherFunction gather,
        GatherFunction.@Nullable Bound gatherBound,
        @Nullable Frame frame) {
    public Type type() {
        return walkBound != null
                ? walkBound.type()
                : Objects.requireNonNull(gatherBound).type();
    }

    /** Whether each row gets the part that its value has in what its partition gathers. */
    public boolean isPart() {
        return gather != null && gather.isPart() && frame == null;
    }

    /** The same, gathered over another frame; over the whole partition where it is null. */
    Calculation over(@Nullable Frame other) {
        return new Calculation(walk, walkBound, gather, gatherBound, other);
    }
}
