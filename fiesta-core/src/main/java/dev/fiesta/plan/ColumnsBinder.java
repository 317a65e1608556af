package dev.fiesta.plan;

import dev.fiesta.compute.Expression;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Formats;
import dev.fiesta.language.Op;
import dev.fiesta.language.Ref;
import dev.fiesta.plan.TablePlan.ViewColumn;
import dev.fiesta.value.Type;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Settles {@code columns}: which fields are shown, and which figures are marked as resting on few records. */
final class ColumnsBinder {
    private final TableBinding table;
    private final Map<String, Integer> few = new LinkedHashMap<>();

    ColumnsBinder(TableBinding table) {
        this.table = table;
    }

    /** For fields that are marked the slot that says where. */
    Map<String, Integer> few() {
        return few;
    }

    /** What is shown; of a cross-tabulation whose columns come from the data, nothing yet. */
    @Nullable
    List<ViewColumn> view(Clause.Columns clause) {
        if (table.crossed != null) {
            if (!table.scope.hasColumnsFromData()) {
                shownColumns(clause);
            }
            for (Clause.Shown column : clause.columns()) {
                Clause.FieldPattern field = column.field();
                if (table.scope.hasColumnsFromData() && !field.pattern() && !field.others()) {
                    table.context.attempt(() -> table.seen(field.name(), "columns"));
                }
            }
            return null;
        }
        List<ViewColumn> view = shownColumns(clause);
        for (Clause.Shown column : clause.columns()) {
            table.context.attempt(() -> markFew(column));
        }
        return view;
    }

    /** The entries written out; a name that is not there is complained about. */
    private List<ViewColumn> shownColumns(Clause.Columns clause) {
        for (Clause.Shown column : clause.columns()) {
            Clause.FieldPattern field = column.field();
            table.context.attempt(() -> {
                if (field.pattern() || field.others()) {
                    return;
                }
                table.seen(field.name(), "columns");
                if (field.to() != null) {
                    table.seen(field.to(), "columns");
                }
            });
        }
        List<String> all = table.crossed == null ? table.scope.names() : table.scope.reachable();
        ShownColumns columns = new ShownColumns(clause.columns(), all);
        columns.wrong()
                .forEach(w -> table.context.attempt(() -> {
                    throw table.context.complaint(w.field().name().at(), w.message(), w.suggestion());
                }));
        return columns.view();
    }

    static boolean marksFew(Clause.Columns clause) {
        return clause.columns().stream().anyMatch(c -> fewest(c) != null);
    }

    private static @Nullable String fewest(Clause.Shown column) {
        return column.formats().stream()
                .filter(f -> f.name().equals(Formats.MARK_FEW))
                .map(Clause.Format::argument)
                .findFirst()
                .orElse(null);
    }

    /** A slot that is true where a group has fewer records than wanted. */
    private void markFew(Clause.Shown column) {
        String fewest = fewest(column);
        if (fewest == null) {
            return;
        }
        Ref name = column.field().name();
        if (table.scope.find(GroupBinder.RECORDS) == null) {
            throw table.context.complaint(
                    name.at(),
                    "'mark few' needs to know how many records a group has, and no 'per' of this table makes groups.",
                    "Put 'columns' into the table that groups.");
        }
        Expr records = new Expr.Name(GroupBinder.RECORDS, name.at());
        Expr least = new Expr.Literal(Type.INTEGER, Long.valueOf(fewest), name.at());
        Expression isFew = table.row("columns", new Expr.Binary(Op.LESS, records, least, name.at()), true);
        int slot = table.scope.newSlot();
        table.steps.compute(new Step.Assignment(slot, "few", isFew));
        for (String field : new ShownColumns(List.of(column), table.scope.names()).fields()) {
            few.put(field, slot);
        }
    }
}
