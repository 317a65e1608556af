package dev.fiesta.compute;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import java.util.List;
import java.util.function.IntConsumer;

/** A call of a row function. */
public final class Apply extends Expression {
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
    public record Place(String at, String text) {}

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
        if (!call.bound.mayFail() && args.stream().allMatch(Constant.class::isInstance)) {
            Batch one = Batch.of(1, new Column[0], 0);
            return new Constant(
                    call.type(), call.kernel(new Notices()).eval(one).get(0));
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
                return body.apply(values, batch.size());
            } catch (Fault fault) {
                throw failure(fault);
            }
        };
    }

    private DataException failure(Fault fault) {
        String way = fault.wayOut() == null ? "" : "\n  " + fault.wayOut();
        String message = place.at() + ": " + place.text() + ": " + fault.sentence() + way;
        return new DataException(message, null, 0, null, fault.value());
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
