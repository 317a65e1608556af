package dev.fiesta.gather;

import java.util.Objects;
import java.util.function.Function;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * How a figure moves over frames of which nobody knows how many rows they hold.
 *
 * @param ranked whether it needs for each value its rank among all of them, as one more argument
 * @param maker makes it, of the values in their order where it is ranked
 */
public record Far(boolean ranked, Function<Shelf.@Nullable Pages, Sliding> maker) {
    static Far of(Supplier<Sliding> maker) {
        return new Far(false, pages -> maker.get());
    }

    static Far ranked(Function<Shelf.Pages, Sliding> maker) {
        return new Far(true, pages -> maker.apply(Objects.requireNonNull(pages)));
    }
}
