package dev.fiesta.engine;

import dev.fiesta.plan.Step;

/** A step in the word of its clause. */
final class StepName implements Step.Visitor<String> {
    private static final StepName NAMES = new StepName();

    private StepName() {}

    static String of(Step step) {
        return step.accept(NAMES);
    }

    @Override
    public String filter(Step.Filter step) {
        return "only";
    }

    @Override
    public String compute(Step.Compute step) {
        return "add";
    }

    @Override
    public String walks(Step.Walks step) {
        return "add … within";
    }

    @Override
    public String group(Step.Group step) {
        return "per";
    }

    @Override
    public String sort(Step.Sort step) {
        return "sort";
    }

    @Override
    public String limit(Step.Limit step) {
        return "first";
    }

    @Override
    public String distinct(Step.Distinct step) {
        return "distinct";
    }

    @Override
    public String sample(Step.Sample step) {
        return step.shuffled() ? "shuffle" : "sample";
    }

    @Override
    public String match(Step.Match step) {
        return "match " + step.table().shownName();
    }

    @Override
    public String append(Step.Append step) {
        return "append";
    }

    @Override
    public String turn(Step.Turn step) {
        return "turn";
    }

    @Override
    public String gapless(Step.Gapless step) {
        return "gapless";
    }

    @Override
    public String firsts(Step.Firsts step) {
        return "first";
    }

    @Override
    public String totals(Step.Totals step) {
        return "totals";
    }

    @Override
    public String check(Step.Check step) {
        return "check";
    }

    @Override
    public String checkSum(Step.CheckSum step) {
        return "check";
    }
}
