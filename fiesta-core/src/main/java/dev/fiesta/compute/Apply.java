package dev.fiesta.compute;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Column;
import dev.fiesta.value.Texts;
import java.util.ArrayList;
import java.util.List;
import java.util.function.IntConsumer;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** A call of a row function. */
public final class Apply extends Expression {
    private static final int LONGEST = 60;

    private final RowFunction function;
    private final RowFunction.Bound bound;
    private final List<Expression> args;
    private final Place place;

    /**
     * Where a call stands, for failures.
     *
     * @param at source and line, such as {@code takings.brief:12}
     * @param text the call as written
     */
    public record Place(String at, String text) {
        /** A fault, told with this place. */
        public DataException failure(Fault fault) {
            return new DataException(at + ": " + text + ": " + fault.text());
        }

        /** A fault in a row of a batch, told with this place. */
        public DataException failure(Fault fault, Batch batch) {
            Supplier<@Nullable String> whence = fault.row() < 0 ? () -> null : batch.place(fault.row());
            return new DataException(fault.value(), () -> at + ": " + text + ": " + fault.text(whence.get()));
        }
    }

    private Apply(RowFunction function, RowFunction.Bound bound, List<Expression> args, Place place) {
        super(bound.type());
        this.function = function;
        this.bound = bound;
        this.args = List.copyOf(args);
        this.place = place;
    }

    /**
     * A call, worked out at once when all its arguments are constants and it cannot fail.
     *
     * @throws Misuse when the arguments do not fit
     */
    public static Expression of(RowFunction function, Arguments arguments, Place place) {
        List<Expression> args = arguments.list();
        Apply call = new Apply(function, function.rule().bind(arguments), args, place);
        if (call.bound.counts() == null && args.stream().allMatch(Constant.class::isInstance)) {
            Batch one = Batch.of(1, new Column[0], 0);
            try {
                return new Constant(
                        call.type(), call.kernel(new Notices()).eval(one).get(0));
            } catch (DataException e) {
                return call; // told when a row needs it
            }
        }
        return call;
    }

    @Override
    public Kernel kernel(Notices notices) {
        Kernel[] kernels = args.stream().map(a -> a.kernel(notices)).toArray(Kernel[]::new);
        RowFunction.Body body = bound.maker().make(notices);
        return batch -> {
            Column[] values = new Column[kernels.length];
            for (int i = 0; i < values.length; i++) {
                values[i] = kernels[i].eval(batch);
            }
            try {
                Column result = body.apply(values, batch.size());
                if (bound.counts() != null) {
                    count(bound.counts(), values, result, batch, notices);
                }
                return result;
            } catch (Fault fault) {
                throw place.failure(fault, batch);
            }
        };
    }

    /** Counts the rows that have no result although all arguments are there; the first of them is the example. */
    private void count(Notices.Kind kind, Column[] values, Column result, Batch batch, Notices notices) {
        int there = 0;
        int lacking = 0;
        int first = -1;
        for (int i = 0; i < batch.size(); i++) {
            boolean all = true;
            for (int a = 0; a < values.length && all; a++) {
                all = !values[a].isMissing(i);
            }
            there += all ? 1 : 0;
            if (all && result.isMissing(i)) {
                first = lacking++ == 0 ? i : first;
            }
        }
        notices.count(kind, place.text(), lacking, there);
        if (lacking > 0) {
            String shown = shown(values, first);
            Supplier<@Nullable String> whence = batch.place(first);
            notices.example(
                    kind, place.text(), batch.sequence(), batch.first() + first, new Notices.Met(shown, whence));
        }
    }

    /** The call with its values: {@code 12.50 / 0}; of a conversion just the value. */
    private String shown(Column[] values, int row) {
        List<String> texts = new ArrayList<>();
        for (Column value : values) {
            Object held = value.get(row);
            String text = String.valueOf(held instanceof String t ? "'" + t + "'" : held == null ? "" : Texts.of(held));
            texts.add(text.length() > LONGEST ? text.substring(0, LONGEST - 1) + "…" : text);
        }
        String name = function.name();
        if (bound.counts() == Notices.Kind.TRY_FAILED) {
            return texts.get(0);
        }
        return Character.isLetter(name.charAt(0)) || texts.size() != 2
                ? name + "(" + String.join(", ", texts) + ")"
                : String.join(" " + name + " ", texts);
    }

    /** Of a function that keeps order, the ends of its values are those of the ends of its argument. */
    @Override
    @Nullable
    Bounds bounds(Bounds.Known known) {
        Bounds of = function.keepsOrder() && args.size() == 1 && !mayFail()
                ? args.get(0).bounds(known)
                : null;
        if (of == null) {
            return null;
        }
        Column ends = bound.maker().make(new Notices()).apply(new Column[] {of.ends()}, 2);
        return ends.isMissing(0) || ends.isMissing(1) ? null : new Bounds(ends);
    }

    @Override
    public boolean neverHolds(Bounds.Known known) {
        RowFunction.Chance chance = function.chance();
        if (chance == null) {
            return false;
        }
        List<Bounds> all = new ArrayList<>();
        for (Expression arg : args) {
            Bounds one = arg.bounds(known);
            if (one == null) {
                return false;
            }
            all.add(one);
        }
        return !chance.mayHold(all);
    }

    @Override
    public void fields(IntConsumer field) {
        args.forEach(a -> a.fields(field));
    }

    @Override
    public boolean isSameAs(Expression other) {
        return other instanceof Apply call && call.function == function && areSame(args, call.args);
    }

    @Override
    public boolean mayFail() {
        return bound.mayFail() || args.stream().anyMatch(Expression::mayFail);
    }
}
