package dev.fiesta.compute;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.util.List;
import java.util.function.IntConsumer;
import org.jspecify.annotations.Nullable;

/** An expression over the fields of a batch, its names and types settled. Immutable. */
public abstract class Expression {
    private final Type type;

    protected Expression(Type type) {
        this.type = type;
    }

    /** The type of the values. */
    public final Type type() {
        return type;
    }

    /** What works it out, for one worker. */
    public abstract Kernel kernel(Notices notices);

    /** Names each field it reads. */
    public abstract void fields(IntConsumer field);

    /**
     * Whether another expression is known to work out the same values, so that one of them is enough. Different
     * expressions may do so without being known to.
     */
    public boolean isSameAs(Expression other) {
        return this == other;
    }

    /** Whether two expressions are known to be the same, or both are absent. */
    public static boolean areSame(@Nullable Expression one, @Nullable Expression other) {
        return one == null ? other == null : other != null && one.isSameAs(other);
    }

    /** Whether two lists of expressions are known to be the same, one by one. */
    public static boolean areSame(
            List<? extends @Nullable Expression> some, List<? extends @Nullable Expression> others) {
        boolean same = some.size() == others.size();
        for (int i = 0; same && i < some.size(); i++) {
            same = areSame(some.get(i), others.get(i));
        }
        return same;
    }

    /** The columns of several, of one batch. */
    public static Column[] columns(List<? extends Expression> expressions, Batch batch, Notices notices) {
        return expressions.stream().map(e -> e.kernel(notices).eval(batch)).toArray(Column[]::new);
    }

    /** What is known of its values from what is known of fields; null where nothing is, or where one may be missing. */
    @Nullable
    Bounds bounds(Bounds.Known known) {
        return null;
    }

    /** Whether a condition is false, and not missing, for all rows of which something is known. */
    public boolean neverHolds(Bounds.Known known) {
        return false;
    }

    /** Whether it counts itself what it leaves missing, so that nobody else need do so. */
    public boolean tellsMissing() {
        return false;
    }

    /** Whether it may fail for a value, or counts something, so that it must not see rows that are not its own. */
    public abstract boolean mayFail();
}
