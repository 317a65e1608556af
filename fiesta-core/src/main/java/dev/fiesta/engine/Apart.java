package dev.fiesta.engine;

import dev.fiesta.crew.Crew;
import dev.fiesta.crew.GivenTask;
import dev.fiesta.problem.MachineException;
import dev.fiesta.stretch.Sharing;
import java.util.List;
import java.util.function.BiFunction;
import org.jspecify.annotations.Nullable;

/**
 * Rows that members have read and put into parts, where each member may open them.
 *
 * @param answers what came of each stretch, in order; the parts are sections of it
 * @param sink its number among those whose rows are in parts
 * @param parts how many there are
 * @param ask has somebody go on with a part of answers of those names
 */
record Apart(
        Sharing sharing,
        List<GivenTask> answers,
        int sink,
        int parts,
        BiFunction<Stretch.Part, List<String>, GivenTask> ask) {
    /** Whether there is enough to do for others: what one machine would be asked to read alone is soon done alone. */
    boolean pays() {
        return answers.stream()
                        .mapToLong(a -> a.found().map(Crew.Answer::bytes).orElse(0L))
                        .sum()
                >= sharing.crew().leastBytes();
    }

    /** The section of an answer that a part stands in. */
    static int section(int sink, int parts, int part) {
        return 1 + sink * parts + part;
    }

    int section(int part) {
        return section(sink, parts, part);
    }

    /**
     * Has members go on with all parts.
     *
     * @param more the rows that came and need not be seen
     * @param known under which name it lies what each must know of the others, or null
     * @param given takes those tasks, also where not all can be given
     */
    void goOn(long more, @Nullable String known, List<GivenTask> given) {
        List<String> names = answers.stream()
                .map(a -> a.found()
                        .orElseThrow(() -> new MachineException("What a member of the crew has found is gone", null))
                        .name())
                .toList();
        for (int p = 0; p < parts; p++) {
            given.add(ask.apply(new Stretch.Part(sink, p, p == 0 ? more : 0, known), names));
        }
    }
}
