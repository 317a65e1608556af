package dev.fiesta.engine;

import dev.fiesta.step.GroupStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan;
import java.util.BitSet;
import java.util.List;

/** Works out backwards which slots are needed before each step of a table. */
final class Liveness {
    private Liveness() {}

    /**
     * The slots needed before each step, and behind the last.
     *
     * @param wanted the visible fields that somebody wants, by place
     */
    static BitSet[] of(TablePlan table, BitSet wanted) {
        List<Step> steps = table.steps();
        BitSet[] needed = new BitSet[steps.size() + 1];
        needed[steps.size()] = last(table, wanted);
        for (int i = steps.size() - 1; i >= 0; i--) {
            needed[i] = steps.get(i).before(needed[i + 1]);
        }
        return needed;
    }

    private static BitSet last(TablePlan table, BitSet wanted) {
        BitSet live = new BitSet();
        List<Integer> passedOn = table.passedOn();
        wanted.stream().forEach(f -> live.set(passedOn.get(f)));
        if (table.totals() != null) {
            GroupStep group = table.totals().rows().group();
            live.set(0, group.keys().size());
            live.set(group.numberSlot());
        }
        if (table.crossing() != null) {
            table.crossing().slots().forEach(live::set);
            table.crossing().marks().stream().filter(m -> m >= 0).forEach(live::set);
            live.set(0, table.crossing().rows() + table.crossing().across());
            live.set(table.crossing().recomputed().group().numberSlot());
        }
        return live;
    }
}
