package dev.fiesta.language;

import dev.fiesta.value.Type;
import dev.fiesta.value.Unit;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** An expression as written. Each node knows its place, and {@link Printer} writes it back. */
public sealed interface Expr {
    /** Where it stands. */
    Span at();

    <R extends @Nullable Object> R accept(Visitor<R> visitor);

    /** A value written out; the value is null for {@code missing}. */
    record Literal(Type type, @Nullable Object value, Span at) implements Expr {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.literal(this);
        }
    }

    /** A span of time such as {@code 7 days}. */
    record Period(int amount, Unit unit, Span at) implements Expr {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.period(this);
        }
    }

    /** A field, key or figure. */
    record Name(String name, Span at) implements Expr {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.name(this);
        }
    }

    /** A parameter: {@code :name}. */
    record Parameter(String name, Span at) implements Expr {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.parameter(this);
        }
    }

    /** {@code -x}. */
    record Negate(Expr operand, Span at) implements Expr {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.negate(this);
        }
    }

    /** {@code not x}. */
    record Not(Expr operand, Span at) implements Expr {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.not(this);
        }
    }

    /** Two operands and an operator. */
    record Binary(Op op, Expr left, Expr right, Span at) implements Expr {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.binary(this);
        }
    }

    /** {@code x between low and high}, both included. */
    record Between(Expr operand, Expr low, Expr high, Span at) implements Expr {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.between(this);
        }
    }

    /** {@code x in (a, b)} or {@code x in :list}. */
    record In(Expr operand, List<Expr> choices, Span at) implements Expr {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.in(this);
        }
    }

    /** {@code x is missing}. */
    record IsMissing(Expr operand, Span at) implements Expr {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.isMissing(this);
        }
    }

    /** {@code if … then … else …}; without a last {@code else}, {@code otherwise} is null. */
    record If(List<Branch> branches, @Nullable Expr otherwise, Span at) implements Expr {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.conditional(this);
        }
    }

    /** One condition and its value. */
    record Branch(Expr condition, Expr value) {}

    /** {@code reword(x, 'a' as 'b', … else 'c')}; without {@code else}, other texts stay. */
    record Reword(
            Expr operand, List<Branch> words, @Nullable Expr otherwise, Span at) implements Expr {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.reword(this);
        }
    }

    /** A call of a function. */
    record Call(String name, List<Expr> args, Modifiers modifiers, Span at, Span nameAt) implements Expr {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.call(this);
        }
    }

    /**
     * What may follow the arguments inside a call's brackets.
     *
     * @param only the condition, or null
     * @param within the partition keys, empty for {@code within all}, null when not written
     * @param along the order, empty when not written
     * @param frame the frame, or null
     */
    record Modifiers(
            @Nullable Expr only,
            @Nullable List<Expr> within,
            List<SortKey> along,
            @Nullable Frame frame) {
        public static final Modifiers NONE = new Modifiers(null, null, List.of(), null);

        public boolean isEmpty() {
            return only == null && within == null && along.isEmpty() && frame == null;
        }
    }

    /** One key of an order. */
    record SortKey(Expr key, boolean descending) {}

    /**
     * The rows that a moving calculation looks at.
     *
     * @param from rows from this one, negative before it; {@link #START} for the start of the partition
     * @param to rows from this one, included; {@link #END} for the end of the partition
     * @param span for frames by value, the span looked over; rows are then not counted
     * @param forward for frames by value, whether the span lies ahead
     * @param full missing unless the frame lies wholly inside the partition
     * @param atLeast missing unless so many values are in the frame; 0 for no such condition
     */
    record Frame(int from, int to, @Nullable Expr span, boolean forward, boolean full, int atLeast, Span at) {
        public static final int START = Integer.MIN_VALUE;
        public static final int END = Integer.MAX_VALUE;
    }

    /** One method for each kind of node. */
    interface Visitor<R extends @Nullable Object> {
        R literal(Literal node);

        R period(Period node);

        R name(Name node);

        R parameter(Parameter node);

        R negate(Negate node);

        R not(Not node);

        R binary(Binary node);

        R between(Between node);

        R in(In node);

        R isMissing(IsMissing node);

        R conditional(If node);

        R reword(Reword node);

        R call(Call node);
    }
}
