package dev.fiesta.gather;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.Entry.Family;
import dev.fiesta.compute.Arguments;
import dev.fiesta.value.Type;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * A function that gathers many rows into one figure: its entry in the catalogue, how it is bound to arguments, and what it can do.
 *
 * @param entry its line in the catalogue
 * @param rule settles its types
 * @param looksAtOrder whether the order of rows decides, so that {@code along} may order them
 * @param addsUp whether it is 0 where there are no rows
 * @param isPart whether it is a part of a wider group, of all where none is named; its accumulators are {@link Part}s
 */
public record GatherFunction(Entry entry, Rule rule, boolean looksAtOrder, boolean addsUp, boolean isPart) {
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
     * @param moving how it moves with the row; null where each frame is gathered anew
     * @param carriesOn whether {@code moving} takes what the rows before have gathered
     */
    public record Bound(
            Type type,
            Supplier<Accumulator> maker,
            @Nullable Moving moving,
            boolean carriesOn) {
        Bound(Type type, Supplier<Accumulator> maker) {
            this(type, maker, null, false);
        }

        Bound moving(Moving how) {
            return new Bound(type, maker, how, false);
        }

        Bound carryingOn(Moving how) {
            return new Bound(type, maker, how, true);
        }

        /** An empty accumulator with room for some groups. */
        public Accumulator empty(int groups) {
            Accumulator empty = maker.get();
            empty.grow(groups);
            return empty;
        }
    }

    static GatherFunction of(String name, String usage, String about, String example, String result, Rule rule) {
        Entry entry = new Entry(name, Family.GATHERING, usage, about, example, result);
        return new GatherFunction(entry, rule, false, false, false);
    }

    GatherFunction lookingAtOrder() {
        return new GatherFunction(entry, rule, true, addsUp, isPart);
    }

    GatherFunction addingUp() {
        return new GatherFunction(entry, rule, looksAtOrder, true, isPart);
    }

    GatherFunction asPart() {
        return new GatherFunction(entry, rule, looksAtOrder, addsUp, true);
    }

    public String name() {
        return entry.name();
    }
}
