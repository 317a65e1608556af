package dev.fiesta.operate.steps;

import dev.fiesta.operate.ComputeStage;
import dev.fiesta.operate.FilterStage;
import dev.fiesta.operate.TurnStage;
import dev.fiesta.operate.join.Join;
import dev.fiesta.operate.join.JoinStage;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.ComputeStep;
import dev.fiesta.step.FilterStep;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TurnStep;
import dev.fiesta.value.Batch;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import java.util.function.Function;
import java.util.function.UnaryOperator;

/** What each step does with a batch that works batch by batch, for one worker. */
public final class Stages {
    private static final Map<Class<? extends Step>, Maker<Step>> MAKERS = new HashMap<>();

    static {
        add(FilterStep.class, (step, after, told, joins) -> new FilterStage(step, told)::apply);
        add(ComputeStep.class, (step, after, told, joins) -> new ComputeStage(step, after, told)::apply);
        add(TurnStep.class, (step, after, told, joins) -> new TurnStage(step, after)::apply);
        add(MatchStep.class, (step, after, told, joins) -> new JoinStage(joins.apply(step), told, 1)::apply);
    }

    private Stages() {}

    private interface Maker<S extends Step> {
        UnaryOperator<Batch> of(S step, BitSet after, Notices told, Function<MatchStep, Join> joins);
    }

    private static <S extends Step> void add(Class<S> step, Maker<S> maker) {
        MAKERS.put(step, (of, after, told, joins) -> maker.of(step.cast(of), after, told, joins));
    }

    /**
     * The one of a step.
     *
     * @param after the slots needed behind it
     * @param told takes what there is to tell of rows
     * @param joins what look-ups know together
     */
    public static UnaryOperator<Batch> of(Step step, BitSet after, Notices told, Function<MatchStep, Join> joins) {
        Maker<Step> maker = MAKERS.get(step.getClass());
        if (maker == null) {
            throw new IllegalStateException(step.word() + " needs all rows at once");
        }
        return maker.of(step, after, told, joins);
    }
}
