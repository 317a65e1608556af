package dev.fiesta.engine;

import dev.fiesta.operate.AppendOperator;
import dev.fiesta.operate.CheckOperator;
import dev.fiesta.operate.CheckSumOperator;
import dev.fiesta.operate.GaplessOperator;
import dev.fiesta.operate.Ground;
import dev.fiesta.operate.Operator;
import dev.fiesta.operate.TurnOperator;
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
import dev.fiesta.step.TurnStep;
import dev.fiesta.step.WalksStep;

/** The operator of each step that needs all rows at once. */
final class Operators {
    private Operators() {}

    static Operator of(Step step, Ground ground) {
        if (step instanceof WalksStep walks) {
            return new WindowOperator(walks, ground);
        }
        if (step instanceof SortStep sort) {
            return new SortOperator(sort, ground);
        }
        if (step instanceof FirstsStep firsts) {
            return new TopNOperator(firsts, ground);
        }
        if (step instanceof DistinctStep distinct) {
            return new DistinctOperator(distinct, ground);
        }
        if (step instanceof SampleStep sample) {
            return new SampleOperator(sample, ground);
        }
        if (step instanceof MatchStep match) {
            return new JoinOperator(match, ground);
        }
        if (step instanceof AppendStep append) {
            return new AppendOperator(append, ground);
        }
        if (step instanceof TurnStep turn) {
            return new TurnOperator(turn, ground);
        }
        if (step instanceof GaplessStep gapless) {
            return new GaplessOperator(gapless, ground);
        }
        if (step instanceof CheckStep check) {
            return new CheckOperator(check, ground);
        }
        if (step instanceof CheckSumStep check) {
            return new CheckSumOperator(check, ground);
        }
        throw new IllegalStateException(step.word() + " works batch by batch");
    }
}
