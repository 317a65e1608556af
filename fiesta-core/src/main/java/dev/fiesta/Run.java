package dev.fiesta;

import dev.fiesta.problem.Notices;
import dev.fiesta.source.Source;
import dev.fiesta.store.Resources;
import dev.fiesta.value.Type;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.BiFunction;
import java.util.function.Consumer;

/**
 * Works something out, again from the start where an input needs wider types than were worked out. What an attempt told is thrown
 * away with it; of each field that was widened, however often, the first type and the last are told.
 */
final class Run {
    /**
     * What a run stands on.
     *
     * @param refresh looks before it whether inputs are what they were
     * @param widen is told what to read instead
     * @param refuseChange fails when an input was changed since; asked behind each attempt, also one that failed: what then looks
     *     like a fault may be none
     */
    record Ground(Runnable refresh, Consumer<Source.Widened> widen, Runnable refuseChange) {}

    /** A field of what was read first. */
    private record Field(Source source, String name) {}

    /** What it was and is. */
    private record Types(Type from, Type to) {}

    private final Map<Field, Types> widened = new LinkedHashMap<>();
    private final Map<Source, Source> firsts = new HashMap<>();

    private Run() {}

    static <T> T of(Fiesta fiesta, RunOptions options, Ground ground, BiFunction<Notices, Resources, T> work) {
        return fiesta.stoppable(options, () -> {
            ground.refresh.run();
            return fiesta.within(options, resources -> new Run().attempts(ground, resources, work));
        });
    }

    private <T> T attempts(Ground ground, Resources resources, BiFunction<Notices, Resources, T> work) {
        while (true) {
            try {
                T done = work.apply(notices(), resources);
                ground.refuseChange.run();
                return done;
            } catch (Source.Widened wider) {
                note(wider);
                resources.watch().forget();
                ground.widen.accept(wider);
            } catch (RuntimeException e) {
                ground.refuseChange.run();
                throw e;
            }
        }
    }

    private void note(Source.Widened wider) {
        Source first = firsts.getOrDefault(wider.from(), wider.from());
        firsts.put(wider.source(), first);
        for (Source.Widening field : wider.fields()) {
            widened.merge(
                    new Field(first, field.field()),
                    new Types(field.from(), field.to()),
                    (known, now) -> new Types(known.from, now.to));
        }
    }

    private Notices notices() {
        Notices notices = new Notices();
        widened.forEach((field, types) ->
                notices.count(Notices.Kind.WIDENED, field.name + " (" + types.from + " to " + types.to + ")", 1));
        return notices;
    }
}
