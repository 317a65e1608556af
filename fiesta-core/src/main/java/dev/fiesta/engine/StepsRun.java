package dev.fiesta.engine;

import dev.fiesta.operate.Ground;
import dev.fiesta.operate.Others;
import dev.fiesta.operate.group.GroupStates;
import dev.fiesta.operate.group.Standing;
import dev.fiesta.operate.join.JoinOperator;
import dev.fiesta.operate.steps.Operators;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Timing;
import dev.fiesta.step.FirstsStep;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TotalsStep;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Ordered;
import dev.fiesta.store.Resources;
import dev.fiesta.store.Stored;
import dev.fiesta.total.Resting;
import dev.fiesta.work.Workers;
import java.util.BitSet;
import java.util.List;
import java.util.function.IntConsumer;
import org.jspecify.annotations.Nullable;

/**
 * Runs steps over rows that stand in memory or in a file: those that work batch by batch together, in one pass by all workers;
 * each of the others over all rows.
 */
final class StepsRun {
    private final Others others;
    private final Flow flow;
    private final Notices notices;
    private final Resources resources;
    private final StepCounts counts;
    private final Memory memory;

    /** @param flow which look-ups work batch by batch */
    StepsRun(Others others, Flow flow, StepCounts counts, Notices notices, Resources resources) {
        this.others = others;
        this.flow = flow;
        this.counts = counts;
        this.notices = notices;
        this.resources = resources;
        this.memory = resources.memory();
    }

    /**
     * @param late what of the rows is not read yet, or null
     * @param at is told the step that is begun
     */
    Standing run(Way written, int first, int end, Standing rows, @Nullable Late late, IntConsumer at) {
        Standing left = rows;
        int lastLate = late == null ? -1 : Carried.end(written, first);
        List<Step> steps = written.steps().subList(0, end);
        for (int i = first; i < end; ) {
            Workers.stopIfInterrupted();
            at.accept(Math.max(0, written.numbers().get(i)));
            left = new Standing(Ordered.moved(left.rows()), left.count(), left.states());
            Way way = written;
            if (late != null && i <= lastLate) {
                left = new Standing(late.read(left.rows(), Carried.named(written, i)), left.count(), left.states());
                way = written.carrying(late::carried);
            }
            hold(steps, i);
            int next = flow.resumesAt(steps, i);
            for (int j = i + 1; late != null && j < next && j <= lastLate; j++) {
                next = late.pending(Carried.named(written, j)).isEmpty() ? next : j;
            }
            if (next > i) {
                left = new Pass(flow, others::lookedUp, counts, notices, resources).read(left, way, i, next);
            } else {
                left = whole(way, i, left);
                next = i + 1;
            }
            i = next;
        }
        return late != null && lastLate >= end
                ? Standing.all(late.read(left.rows(), written.live().get(end)), left.states())
                : left;
    }

    /** Look-ups in tables that do not fit into memory need all rows at once. */
    private void hold(List<Step> steps, int first) {
        int end = first + flow.flowing(steps, first);
        for (Step step : steps.subList(first, end)) {
            if (step instanceof MatchStep match && JoinOperator.isLarge(match, others.stored(match.table()), memory)) {
                flow.hold(match);
            }
        }
    }

    private Standing whole(Way way, int number, Standing rows) {
        Step step = way.step(number);
        long spilled = memory.spilled();
        memory.startPeak();
        long start = System.nanoTime();
        String what = step.word();
        resources.watch().phase(way.shownName() + ": " + what, rows.count(), () -> -1);
        Standing left = step(rows, step, way.live().get(number), way.live().get(number + 1));
        Stored end = left.rows();
        long took = System.nanoTime() - start;
        long held = Math.max(memory.peak(), end.bytes());
        // Of an order there may be only the first rows, of ranks only those that the next step keeps.
        long count = step.keepsRows() ? rows.count() : end.rows();
        way.left(number, count);
        resources
                .watch()
                .add(new Timing(
                        way.name(),
                        way.numbers().get(number),
                        what,
                        rows.count(),
                        count,
                        took,
                        held,
                        memory.spilled() - spilled));
        return new Standing(end, count, left.states());
    }

    private Standing step(Standing rows, Step step, BitSet before, BitSet after) {
        GroupStates states = rows.states();
        if (step instanceof TotalsStep && states != null) {
            return Standing.all(rows.rows(), states.marked(states.numbers(rows.rows())));
        }
        if (step instanceof FirstsStep firsts && firsts.rest() != null && states != null) {
            return new Resting(firsts, firsts.rest(), states, notices, memory).run(rows.rows(), before, after);
        }
        Ground ground = new Ground(others, notices, memory, resources.threads());
        return Standing.all(Operators.of(step, ground).run(rows.rows(), before, after), states);
    }
}
