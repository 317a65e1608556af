package dev.fiesta.engine;

import dev.fiesta.compute.Expression;
import dev.fiesta.plan.Step;
import dev.fiesta.plan.TablePlan;
import java.util.BitSet;
import java.util.List;

/** Works out backwards which slots are needed before each step of a table. */
final class Liveness implements Step.Visitor<BitSet> {
    private BitSet live = new BitSet();

    private Liveness() {}

    /**
     * The slots needed before each step, and behind the last.
     *
     * @param wanted the visible fields that somebody wants, by place
     */
    static BitSet[] of(TablePlan table, BitSet wanted) {
        Liveness liveness = new Liveness();
        List<Step> steps = table.steps();
        BitSet[] needed = new BitSet[steps.size() + 1];
        List<Integer> passedOn = table.passedOn();
        wanted.stream().forEach(f -> liveness.live.set(passedOn.get(f)));
        if (table.totals() != null) {
            Step.Group group = table.totals().rows().group();
            liveness.live.set(0, group.keys().size());
            liveness.live.set(group.numberSlot());
        }
        if (table.crossing() != null) {
            table.crossing().slots().forEach(liveness.live::set);
            table.crossing().marks().stream().filter(m -> m >= 0).forEach(liveness.live::set);
            liveness.live.set(0, table.crossing().rows() + table.crossing().across());
            liveness.live.set(table.crossing().recomputed().group().numberSlot());
        }
        needed[steps.size()] = (BitSet) liveness.live.clone();
        for (int i = steps.size() - 1; i >= 0; i--) {
            liveness.live = steps.get(i).accept(liveness);
            needed[i] = (BitSet) liveness.live.clone();
        }
        return needed;
    }

    /** The slots that a step looks at itself; of what it works out row by row, those of what may fail. */
    static BitSet reads(Step step) {
        return step.accept(new Liveness());
    }

    /** The slots that a step looks at itself, where some are needed behind it. */
    static BitSet reads(Step step, BitSet after) {
        if (!(step instanceof Step.Compute compute)) {
            return reads(step);
        }
        Liveness liveness = new Liveness();
        liveness.live = (BitSet) after.clone();
        BitSet named = new BitSet();
        for (int i = compute.assignments().size() - 1; i >= 0; i--) {
            Step.Assignment assignment = compute.assignments().get(i);
            if (isNeeded(assignment, liveness.live)) {
                assignment.value().fields(named::set);
                liveness.reads(assignment.value());
            }
        }
        return named;
    }

    private BitSet reads(Expression expression) {
        expression.fields(live::set);
        return live;
    }

    private void reads(List<Expression> expressions) {
        expressions.forEach(this::reads);
    }

    private void orders(List<Step.OrderKey> keys) {
        keys.forEach(k -> reads(k.key()));
    }

    /** Whether a slot must be worked out: somebody needs it, or it may fail. */
    static boolean isNeeded(Step.Assignment assignment, BitSet after) {
        return after.get(assignment.slot()) || assignment.value().mayFail();
    }

    @Override
    public BitSet filter(Step.Filter step) {
        reads(step.conjuncts());
        return live;
    }

    @Override
    public BitSet compute(Step.Compute step) {
        List<Step.Assignment> all = step.assignments();
        for (int i = all.size() - 1; i >= 0; i--) {
            boolean needed = isNeeded(all.get(i), live);
            live.clear(all.get(i).slot());
            if (needed) {
                reads(all.get(i).value());
            }
        }
        return live;
    }

    @Override
    public BitSet walks(Step.Walks step) {
        step.specs().forEach(s -> live.clear(s.slot()));
        for (Step.WalkSpec spec : step.specs()) {
            reads(spec.args());
            reads(spec.within());
            orders(spec.along());
            if (spec.only() != null) {
                reads(spec.only());
            }
        }
        return live;
    }

    @Override
    public BitSet group(Step.Group step) {
        live = new BitSet();
        reads(step.keys());
        for (Step.GatherSpec spec : step.gathers()) {
            reads(spec.args());
            orders(spec.along());
            if (spec.only() != null) {
                reads(spec.only());
            }
        }
        return live;
    }

    @Override
    public BitSet sort(Step.Sort step) {
        orders(step.keys());
        return live;
    }

    @Override
    public BitSet limit(Step.Limit step) {
        return live;
    }

    @Override
    public BitSet distinct(Step.Distinct step) {
        step.slots().forEach(live::set);
        return live;
    }

    @Override
    public BitSet sample(Step.Sample step) {
        reads(step.within());
        step.identity().forEach(live::set);
        return live;
    }

    @Override
    public BitSet match(Step.Match step) {
        step.bring().forEach(b -> live.clear(b.slot()));
        step.ours().forEach(live::set);
        if (step.latestOurs() >= 0) {
            live.set(step.latestOurs());
        }
        return live;
    }

    @Override
    public BitSet append(Step.Append step) {
        return mapped(step.ours());
    }

    private BitSet mapped(List<Integer> origin) {
        BitSet before = new BitSet();
        live.stream().filter(s -> s < origin.size() && origin.get(s) >= 0).forEach(s -> before.set(origin.get(s)));
        live = before;
        return live;
    }

    @Override
    public BitSet turn(Step.Turn step) {
        boolean value = live.get(step.kept().size() + 1);
        mapped(step.kept());
        if (value) {
            step.slots().forEach(live::set);
        }
        return live;
    }

    @Override
    public BitSet gapless(Step.Gapless step) {
        live.set(step.slot());
        step.within().forEach(live::set);
        return live;
    }

    @Override
    public BitSet firsts(Step.Firsts step) {
        orders(step.along());
        reads(step.within());
        Step.Rest rest = step.rest();
        if (rest != null) {
            live.set(rest.rows().group().numberSlot());
            rest.kept().forEach(live::set);
            live.set(rest.labelSlot());
        }
        return live;
    }

    @Override
    public BitSet totals(Step.Totals step) {
        return live;
    }

    @Override
    public BitSet checkSum(Step.CheckSum step) {
        live.set(step.slot());
        return live;
    }

    @Override
    public BitSet check(Step.Check step) {
        if (step.condition() != null) {
            reads(step.condition());
        }
        step.unique().forEach(live::set);
        step.slots().forEach(live::set);
        return live;
    }
}
