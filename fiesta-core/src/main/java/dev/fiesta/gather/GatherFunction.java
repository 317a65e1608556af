package dev.fiesta.gather;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.compute.Arguments;
import dev.fiesta.value.Type;
import java.util.function.Supplier;

/**
 * A function that gathers many rows into one figure: its entry in the catalogue and how it is bound to arguments.
 *
 * @param entry its line in the catalogue
 * @param looksAtOrder whether the order of rows decides, so that {@code along} may order them
 * @param rule settles its types
 */
public record GatherFunction(Entry entry, boolean looksAtOrder, Rule rule) {
    /** Settles the types of a call. */
    @FunctionalInterface
    public interface Rule {
        /** @throws dev.fiesta.compute.Misuse when the arguments do not fit */
        Bound bind(Arguments args);
    }

    /**
     * A call with its types settled.
     *
     * @param type type of the figure
     * @param maker makes an empty accumulator
     */
    public record Bound(Type type, Supplier<Accumulator> maker) {}

    public String name() {
        return entry.name();
    }
}
