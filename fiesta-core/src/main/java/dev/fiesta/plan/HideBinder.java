package dev.fiesta.plan;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Logic;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Ref;
import dev.fiesta.step.Assignment;
import dev.fiesta.value.Type;
import java.util.List;

/** Settles {@code hide}: a slot that says where figures are kept from being shown. */
final class HideBinder {
    private final TableBinding table;

    HideBinder(TableBinding table) {
        this.table = table;
    }

    void hide(Clause.Hide clause) {
        List<String> keys = table.scope.level().keys();
        if (keys == null) {
            throw table.context.complaint(
                    clause.at(),
                    "'hide' keeps figures of groups from being shown, and these rows are records.",
                    "Group first: per … give …");
        }
        for (Ref figure : clause.figures()) {
            table.seen(figure, "hide");
            if (keys.contains(figure.name())) {
                throw table.context.complaint(
                        figure.at(),
                        "'" + figure.name() + "' is a key, and 'hide' hides figures.",
                        "To leave whole groups out, write 'only'.");
            }
        }
        Expression condition = table.row("hide", clause.condition(), true);
        for (Ref figure : clause.figures()) {
            int slot = table.seen(figure, "hide").slot();
            int before = table.scope.mark(slot);
            Expression either = before < 0 ? condition : Logic.or(new FieldRef(before, Type.TRUTH), condition);
            int mark = table.scope.newSlot();
            table.steps.compute(new Assignment(mark, "hide", either));
            table.scope.hide(slot, mark);
        }
    }
}
