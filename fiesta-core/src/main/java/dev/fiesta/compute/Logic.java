package dev.fiesta.compute;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Column;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.util.ArrayList;
import java.util.List;
import java.util.function.IntConsumer;

/**
 * {@code and} and {@code or} by three-valued logic. The right side sees only rows that the left does not decide, where it
 * might fail or count.
 */
public final class Logic extends Expression {
    private final boolean and;
    private final Expression left;
    private final Expression right;

    private Logic(boolean and, Expression left, Expression right) {
        super(Type.TRUTH);
        this.and = and;
        this.left = left;
        this.right = right;
    }

    public static Expression and(Expression left, Expression right) {
        return new Logic(true, left, right);
    }

    public static Expression or(Expression left, Expression right) {
        return new Logic(false, left, right);
    }

    /** The sides of an {@code and}, in order; a single expression is its only side. */
    public static List<Expression> conjuncts(Expression condition) {
        if (condition instanceof Logic logic && logic.and) {
            List<Expression> sides = new ArrayList<>(conjuncts(logic.left));
            sides.addAll(conjuncts(logic.right));
            return sides;
        }
        return List.of(condition);
    }

    @Override
    public Kernel kernel(Notices notices) {
        Kernel first = left.kernel(notices);
        Kernel second = right.kernel(notices);
        boolean careful = right.mayFail();
        return batch -> {
            Column a = first.eval(batch);
            Column b = careful ? undecided(a, second, batch) : second.eval(batch);
            return combine(truth(a), truth(b), batch.size());
        };
    }

    private static TruthColumn truth(Column column) {
        return (TruthColumn) Types.widen(column, Type.TRUTH).flat();
    }

    private Column undecided(Column a, Kernel second, Batch batch) {
        TruthColumn known = truth(a);
        int size = batch.size();
        long[] decided = and ? falses(known, size) : known.bits();
        long[] open = Bits.all(size);
        for (int i = 0; i < open.length; i++) {
            open[i] &= ~decided[i];
        }
        int[] rows = RowNumbers.where(open, size);
        if (rows.length == size) {
            return second.eval(batch);
        }
        TruthColumn some = truth(second.eval(batch.select(rows, rows.length)));
        long[] bits = Bits.none(size);
        long[] valid = Bits.all(size);
        for (int i = 0; i < rows.length; i++) {
            if (some.isMissing(i)) {
                Bits.clear(valid, rows[i]);
            } else if (some.isTrue(i)) {
                Bits.set(bits, rows[i]);
            }
        }
        return new TruthColumn(bits, size, valid);
    }

    private static long[] falses(TruthColumn column, int size) {
        long[] bits = column.valid() == null ? Bits.all(size) : column.valid().clone();
        for (int i = 0; i < bits.length; i++) {
            bits[i] &= ~column.bits()[i];
        }
        return bits;
    }

    private TruthColumn combine(TruthColumn a, TruthColumn b, int size) {
        long[] bits = Bits.none(size);
        boolean complete = a.valid() == null && b.valid() == null;
        long[] falseA = complete ? bits : falses(a, size);
        long[] falseB = complete ? bits : falses(b, size);
        long[] valid = complete ? null : Bits.none(size);
        for (int i = 0; i < bits.length; i++) {
            bits[i] = and ? a.bits()[i] & b.bits()[i] : a.bits()[i] | b.bits()[i];
        }
        for (int i = 0; valid != null && i < bits.length; i++) {
            long isFalse = and ? falseA[i] | falseB[i] : falseA[i] & falseB[i];
            valid[i] = bits[i] | isFalse;
        }
        return new TruthColumn(bits, size, valid);
    }

    /** {@code not x}. */
    static Column not(Column column, int size) {
        TruthColumn truth = truth(column);
        return new TruthColumn(falses(truth, size), size, Validity.spread(truth, size));
    }

    @Override
    public boolean neverHolds(Bounds.Known known) {
        return and
                ? left.neverHolds(known) || right.neverHolds(known)
                : left.neverHolds(known) && right.neverHolds(known);
    }

    @Override
    public void fields(IntConsumer field) {
        left.fields(field);
        right.fields(field);
    }

    @Override
    public boolean isSameAs(Expression other) {
        return other instanceof Logic logic
                && logic.and == and
                && logic.left.isSameAs(left)
                && logic.right.isSameAs(right);
    }

    @Override
    public boolean mayFail() {
        return left.mayFail() || right.mayFail();
    }
}
