package dev.fiesta.engine;

import dev.fiesta.crew.Crew;
import dev.fiesta.crew.GivenTask;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;

/**
 * Rows that members have read and put into parts, where each member may open them.
 *
 * @param answers what came of each stretch, in order; the parts are sections of it
 * @param leastBytes the least bytes of these answers that are worked on by members; less is soon done alone
 * @param sink its number among those whose rows are in parts
 * @param parts how many there are
 * @param ask has somebody go on with a part
 */
record Apart(List<GivenTask> answers, long leastBytes, int sink, int parts, Function<Stretch.Part, GivenTask> ask) {
    /** Whether there is enough to do for others. */
    boolean pays() {
        return answers.stream()
                        .mapToLong(a -> a.found().map(Crew.Answer::bytes).orElse(0L))
                        .sum()
                >= leastBytes;
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
     */
    List<GivenTask> goOn(long more) {
        List<GivenTask> given = new ArrayList<>();
        for (int p = 0; p < parts; p++) {
            given.add(ask.apply(new Stretch.Part(sink, p, p == 0 ? more : 0)));
        }
        return given;
    }
}
