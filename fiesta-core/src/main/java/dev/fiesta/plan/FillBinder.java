package dev.fiesta.plan;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Filled;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Op;
import dev.fiesta.language.Ref;
import dev.fiesta.language.Span;
import dev.fiesta.step.Assignment;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;

/**
 * {@code fill}: a missing value takes the last known one before it, or the first after it. That is what a moving {@code last} or
 * {@code first} sees, over so many rows; for a span of time, where the row that it is known in is not farther away.
 */
final class FillBinder {
    private final Clause.Fill clause;

    FillBinder(Clause.Fill clause) {
        this.clause = clause;
    }

    /** Fills the fields of a table, each at its place. */
    void bind(TableBinding table) {
        if (clause.atMost() instanceof Expr.Period) {
            refuseUndated(
                    table.context,
                    table.row("fill", clause.along().get(0).key(), false).type());
        }
        List<Expression> filled = new ArrayList<>();
        for (Ref field : clause.fields()) {
            Scope.Seen seen = table.seen(field, "fill");
            Expression known = new FieldRef(seen.slot(), seen.type());
            Expression value = table.row("fill", filling(field), false);
            filled.add(new Filled(known, value, table.place(clause) + ": " + field.name()));
        }
        for (int i = 0; i < filled.size(); i++) {
            int slot = table.scope.newSlot();
            String name = clause.fields().get(i).name();
            table.steps.compute(new Assignment(slot, name, filled.get(i))); // what stays missing is no surprise
            table.scope.put(name, new Scope.Seen(slot, filled.get(i).type()));
        }
    }

    /** A span of time is counted along one date. */
    private void refuseUndated(Context context, Type along) {
        if (!context.isLost(along) && (clause.along().size() != 1 || !along.isTime())) {
            throw context.complaint(
                    clause.along().get(0).key().at(),
                    "A span of time needs one date to walk along.",
                    "Write 'along' with a single date or datetime, or 'at most 3' for rows.");
        }
    }

    /** What a field's missing values take, as it would be written. */
    private Expr filling(Ref field) {
        Expr known = new Expr.Name(field.name(), field.at());
        if (!(clause.atMost() instanceof Expr.Period span)) {
            return call(known, null);
        }
        Expr.SortKey along = clause.along().get(0);
        Expr there = call(along.key(), new Expr.Not(new Expr.IsMissing(known, field.at()), field.at()));
        boolean later = clause.fromAfter() != along.descending();
        Expr limit = new Expr.Binary(later ? Op.MINUS : Op.PLUS, there, span, clause.at());
        Expr near = new Expr.Binary(later ? Op.AT_LEAST : Op.AT_MOST, along.key(), limit, clause.at());
        return new Expr.If(List.of(new Expr.Branch(near, call(known, null))), null, clause.at());
    }

    private Expr call(Expr value, @org.jspecify.annotations.Nullable Expr only) {
        int rows = clause.atMost() instanceof Expr.Literal literal && literal.value() instanceof Long n
                ? (int) Math.min(n, Integer.MAX_VALUE / 2)
                : Expr.Frame.END;
        Span at = clause.at();
        Expr.Frame frame = clause.fromAfter()
                ? new Expr.Frame(0, rows, null, false, false, 0, at)
                : new Expr.Frame(rows == Expr.Frame.END ? Expr.Frame.START : -rows, 0, null, false, false, 0, at);
        List<Expr> within = clause.within().isEmpty() ? List.of() : new ArrayList<>(clause.within());
        Expr.Modifiers modifiers = new Expr.Modifiers(only, within, clause.along(), frame);
        return new Expr.Call(clause.fromAfter() ? "first" : "last", List.of(value), modifiers, at, at);
    }
}
