package dev.fiesta.engine;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.plan.Step;
import java.util.ArrayList;
import java.util.List;

/**
 * A step that needs all rows, so that nothing of what it works out for each row can fail: what may is worked out before it, row by
 * row, and the step reads the values. So a failure has its row, however many rows are worked on together.
 */
final class Prepared implements Step.Visitor<Step> {
    private final List<Step.Assignment> before = new ArrayList<>();
    private final int firstSlot;

    /** @param firstSlot slots from here on are free */
    Prepared(int firstSlot) {
        this.firstSlot = firstSlot;
    }

    /** What is worked out before the step. */
    List<Step.Assignment> before() {
        return before;
    }

    private Expression value(Expression expression) {
        if (!expression.mayFail()) {
            return expression;
        }
        int slot = firstSlot + before.size();
        before.add(Step.Assignment.unseen(slot, expression));
        return new FieldRef(slot, expression.type());
    }

    private List<Expression> values(List<Expression> expressions) {
        return expressions.stream().map(this::value).toList();
    }

    private List<Step.OrderKey> order(List<Step.OrderKey> keys) {
        return keys.stream()
                .map(k -> new Step.OrderKey(value(k.key()), k.descending()))
                .toList();
    }

    @Override
    public Step walks(Step.Walks step) {
        return new Step.Walks(step.specs().stream()
                .map(s -> new Step.WalkSpec(
                        s.slot(),
                        s.calculation(),
                        values(s.args()),
                        s.only() == null ? null : value(s.only()),
                        values(s.within()),
                        order(s.along()),
                        s.period(),
                        s.place()))
                .toList());
    }

    @Override
    public Step sort(Step.Sort step) {
        return new Step.Sort(order(step.keys()), step.most());
    }

    @Override
    public Step firsts(Step.Firsts step) {
        return new Step.Firsts(step.count(), values(step.within()), order(step.along()), step.rest());
    }

    @Override
    public Step sample(Step.Sample step) {
        return new Step.Sample(
                step.count(), step.percent(), values(step.within()), step.seed(), step.identity(), step.shuffled());
    }

    @Override
    public Step check(Step.Check step) {
        return new Step.Check(
                step.condition() == null ? null : value(step.condition()),
                step.unique(),
                step.rows(),
                step.count(),
                step.text(),
                step.warn(),
                step.shown(),
                step.slots());
    }

    @Override
    public Step filter(Step.Filter step) {
        return step;
    }

    @Override
    public Step compute(Step.Compute step) {
        return step;
    }

    /** States know the step that made them, so it stays as it is. */
    @Override
    public Step group(Step.Group step) {
        return step;
    }

    @Override
    public Step limit(Step.Limit step) {
        return step;
    }

    @Override
    public Step distinct(Step.Distinct step) {
        return step;
    }

    @Override
    public Step match(Step.Match step) {
        return step;
    }

    @Override
    public Step append(Step.Append step) {
        return step;
    }

    @Override
    public Step turn(Step.Turn step) {
        return step;
    }

    @Override
    public Step gapless(Step.Gapless step) {
        return step;
    }

    @Override
    public Step totals(Step.Totals step) {
        return step;
    }

    @Override
    public Step checkSum(Step.CheckSum step) {
        return step;
    }
}
