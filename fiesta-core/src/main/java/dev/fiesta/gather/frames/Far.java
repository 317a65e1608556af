package dev.fiesta.gather.frames;

import dev.fiesta.gather.values.Drawer;
import dev.fiesta.gather.values.Shelf;
import java.util.Objects;
import java.util.function.Function;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * How a figure moves over frames of which nobody knows how many rows they hold.
 *
 * @param told the rows that it is told of
 * @param maker makes it
 */
public record Far(Told told, Maker maker) {
    /** Of which rows a figure is told. */
    public enum Told {
        /** All of them. */
        ROWS,
        /** Those with a value. */
        VALUES,
        /** Those with a value; the rank of each among all values is one more argument. */
        RANKS
    }

    /** Makes a figure. */
    @FunctionalInterface
    public interface Maker {
        /**
         * @param values the values in their order, where it is told their ranks
         * @param drawer takes what is too much to be held; null where all may be
         */
        Sliding make(Shelf.@Nullable Pages values, @Nullable Drawer drawer);
    }

    public static Far of(Supplier<Sliding> maker) {
        return new Far(Told.ROWS, (values, drawer) -> maker.get());
    }

    /** One that holds some of the rows inside. */
    public static Far holding(Function<@Nullable Drawer, Sliding> maker) {
        return new Far(Told.ROWS, (values, drawer) -> maker.apply(drawer));
    }

    public static Far ofValues(Supplier<Sliding> maker) {
        return new Far(Told.VALUES, (values, drawer) -> maker.get());
    }

    public static Far ranked(Function<Shelf.Pages, Sliding> maker) {
        return new Far(Told.RANKS, (values, drawer) -> maker.apply(Objects.requireNonNull(values)));
    }
}
