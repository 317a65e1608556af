package dev.fiesta.operate.steps;

import dev.fiesta.operate.AppendOperator;
import dev.fiesta.operate.CheckOperator;
import dev.fiesta.operate.CheckSumOperator;
import dev.fiesta.operate.GaplessOperator;
import dev.fiesta.operate.Ground;
import dev.fiesta.operate.Operator;
import dev.fiesta.operate.join.JoinOperator;
import dev.fiesta.operate.sort.DistinctOperator;
import dev.fiesta.operate.sort.SampleOperator;
import dev.fiesta.operate.sort.SortOperator;
import dev.fiesta.operate.sort.TopNOperator;
import dev.fiesta.operate.window.WindowOperator;
import dev.fiesta.step.AppendStep;
import dev.fiesta.step.CheckStep;
import dev.fiesta.step.CheckSumStep;
import dev.fiesta.step.DistinctStep;
import dev.fiesta.step.FirstsStep;
import dev.fiesta.step.GaplessStep;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.SampleStep;
import dev.fiesta.step.SortStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.WalksStep;
import java.util.HashMap;
import java.util.Map;

/** The operator of each step that needs all rows at once. */
public final class Operators {
    private static final Map<Class<? extends Step>, Maker<Step>> MAKERS = new HashMap<>();

    static {
        add(WalksStep.class, WindowOperator::new);
        add(SortStep.class, SortOperator::new);
        add(FirstsStep.class, TopNOperator::new);
        add(DistinctStep.class, DistinctOperator::new);
        add(SampleStep.class, SampleOperator::new);
        add(MatchStep.class, JoinOperator::new);
        add(AppendStep.class, AppendOperator::new);
        add(GaplessStep.class, GaplessOperator::new);
        add(CheckStep.class, CheckOperator::new);
        add(CheckSumStep.class, CheckSumOperator::new);
    }

    private Operators() {}

    private interface Maker<S extends Step> {
        Operator of(S step, Ground ground);
    }

    private static <S extends Step> void add(Class<S> step, Maker<S> maker) {
        MAKERS.put(step, (of, ground) -> maker.of(step.cast(of), ground));
    }

    /** The one of a step. */
    public static Operator of(Step step, Ground ground) {
        Maker<Step> maker = MAKERS.get(step.getClass());
        if (maker == null) {
            throw new IllegalStateException(step.word() + " works batch by batch");
        }
        return maker.of(step, ground);
    }
}
