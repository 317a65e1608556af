package dev.fiesta.gather;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.Entry.Family;
import dev.fiesta.compute.Arguments;
import dev.fiesta.gather.frames.Far;
import dev.fiesta.gather.frames.RankedFrames;
import dev.fiesta.gather.frames.Sliding;
import dev.fiesta.gather.values.AlongKey;
import dev.fiesta.gather.values.Shelf;
import dev.fiesta.value.Type;
import java.util.List;
import java.util.Objects;
import java.util.function.Function;
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
 * @param madeOf what that adds up it is made of, or null
 */
public record GatherFunction(
        Entry entry,
        Rule rule,
        boolean looksAtOrder,
        boolean addsUp,
        boolean isPart,
        @Nullable MadeOf madeOf) {
    /**
     * What adds up from group to group in a figure.
     *
     * @param ratio whether it is one such figure over another, rather than one itself
     * @param above the function that is added up
     * @param base the function that it is divided by, or that tells of how many values it is
     */
    public record MadeOf(boolean ratio, String above, String base) {}

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
     * @param far how it moves over frames of any length, or null
     * @param ordering makes an empty accumulator that orders rows along keys, its last arguments; null where the order of rows means nothing
     */
    public record Bound(
            Type type,
            Supplier<Accumulator> maker,
            @Nullable Moving moving,
            boolean carriesOn,
            @Nullable Far far,
            @Nullable Function<List<AlongKey>, Accumulator> ordering) {
        Bound(Type type, Supplier<Accumulator> maker) {
            this(type, maker, null, false, null, null);
        }

        Bound moving(Moving how) {
            return new Bound(type, maker, how, false, far, ordering);
        }

        Bound carryingOn(Moving how) {
            return new Bound(type, maker, how, true, far, ordering);
        }

        Bound ordered(Function<List<AlongKey>, Accumulator> how) {
            return new Bound(type, maker, moving, carriesOn, far, how);
        }

        /** A figure that moves by the ranks of values among all of them. */
        Bound ranked(Function<Shelf.Pages, Sliding> how) {
            return moving((frames, values, before) -> RankedFrames.over(frames, values[0], how))
                    .far(Far.ranked(how));
        }

        Bound far(Far how) {
            return new Bound(type, maker, moving, carriesOn, how, ordering);
        }

        /** This call over rows ordered along keys, which are then its last arguments. */
        public Bound along(List<AlongKey> keys) {
            Function<List<AlongKey>, Accumulator> how = Objects.requireNonNull(ordering);
            return new Bound(type, () -> how.apply(keys), moving, carriesOn, null, ordering);
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
        return new GatherFunction(entry, rule, false, false, false, null);
    }

    GatherFunction lookingAtOrder() {
        return new GatherFunction(entry, rule, true, addsUp, isPart, madeOf);
    }

    GatherFunction addingUp() {
        return new GatherFunction(entry, rule, looksAtOrder, true, isPart, madeOf);
    }

    GatherFunction asPart() {
        return new GatherFunction(entry, rule, looksAtOrder, addsUp, true, madeOf);
    }

    /** A figure that is added up from group to group. */
    GatherFunction additive(String base) {
        return madeOf(new MadeOf(false, name(), base));
    }

    GatherFunction ratioOf(String above, String base) {
        return madeOf(new MadeOf(true, above, base));
    }

    private GatherFunction madeOf(MadeOf what) {
        return new GatherFunction(entry, rule, looksAtOrder, addsUp, isPart, what);
    }

    public String name() {
        return entry.name();
    }
}
