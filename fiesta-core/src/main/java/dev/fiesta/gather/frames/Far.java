package dev.fiesta.gather.frames;

import dev.fiesta.gather.values.Shelf;
import java.util.Objects;
import java.util.function.Function;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * How a figure moves over frames of which nobody knows how many rows they hold.
 *
 * @param told the rows that it is told of
 * @param maker makes it, of the values in their order where it is told their ranks
 */
public record Far(Told told, Function<Shelf.@Nullable Pages, Sliding> maker) {
    /** Of which rows a figure is told. */
    public enum Told {
        /** All of them. */
        ROWS,
        /** Those with a value. */
        VALUES,
        /** Those with a value; the rank of each among all values is one more argument. */
        RANKS
    }

    public static Far of(Supplier<Sliding> maker) {
        return new Far(Told.ROWS, pages -> maker.get());
    }

    public static Far ofValues(Supplier<Sliding> maker) {
        return new Far(Told.VALUES, pages -> maker.get());
    }

    public static Far ranked(Function<Shelf.Pages, Sliding> maker) {
        return new Far(Told.RANKS, pages -> maker.apply(Objects.requireNonNull(pages)));
    }
}
