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
final class Prepared {
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

    /** The step, with what may fail read from slots. States know the step that made them, so a grouping stays as it is. */
    Step step(Step step) {
        if (step instanceof Step.Walks walks) {
            return new Step.Walks(walks.specs().stream().map(this::spec).toList());
        }
        if (step instanceof Step.Sort sort) {
            return new Step.Sort(order(sort.keys()), sort.most());
        }
        if (step instanceof Step.Firsts firsts) {
            return new Step.Firsts(firsts.count(), values(firsts.within()), order(firsts.along()), firsts.rest());
        }
        if (step instanceof Step.Sample s) {
            return new Step.Sample(s.count(), s.percent(), values(s.within()), s.seed(), s.identity(), s.shuffled());
        }
        if (step instanceof Step.Check c && c.condition() != null) {
            return new Step.Check(
                    value(c.condition()), c.unique(), c.rows(), c.count(), c.text(), c.warn(), c.shown(), c.slots());
        }
        return step;
    }

    private Step.WalkSpec spec(Step.WalkSpec spec) {
        return new Step.WalkSpec(
                spec.slot(),
                spec.calculation(),
                values(spec.args()),
                spec.only() == null ? null : value(spec.only()),
                values(spec.within()),
                order(spec.along()),
                spec.period(),
                spec.place());
    }
}
