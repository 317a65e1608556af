package dev.fiesta.step;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import java.util.ArrayList;
import java.util.List;

/**
 * A step that needs all rows, so that nothing of what it works out for each row can fail: what may is worked out before it, row by
 * row, and the step reads the values. So a failure has its row, however many rows are worked on together.
 */
public final class Prepared {
    private final List<Assignment> before = new ArrayList<>();
    private final int firstSlot;

    /** @param firstSlot slots from here on are free */
    public Prepared(int firstSlot) {
        this.firstSlot = firstSlot;
    }

    /** What is worked out before the step. */
    public List<Assignment> before() {
        return before;
    }

    Expression value(Expression expression) {
        if (!expression.mayFail()) {
            return expression;
        }
        int slot = firstSlot + before.size();
        before.add(Assignment.unseen(slot, expression));
        return new FieldRef(slot, expression.type());
    }

    List<Expression> values(List<Expression> expressions) {
        return expressions.stream().map(this::value).toList();
    }

    List<OrderKey> order(List<OrderKey> keys) {
        return keys.stream()
                .map(k -> new OrderKey(value(k.key()), k.descending()))
                .toList();
    }

    /** The step, with what may fail read from slots. States know the step that made them, so a grouping stays as it is. */
    public Step step(Step step) {
        return step.prepared(this);
    }
}
