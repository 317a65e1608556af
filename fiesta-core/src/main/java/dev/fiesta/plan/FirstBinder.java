package dev.fiesta.plan;

import dev.fiesta.compute.Expression;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Expr;
import dev.fiesta.step.FirstsStep;
import dev.fiesta.step.GroupStep;
import dev.fiesta.step.LimitStep;
import dev.fiesta.step.OrderKey;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;

/** Settles {@code first}: the first rows of the whole or of each partition, and perhaps one more for all others. */
final class FirstBinder {
    private final TableBinding table;

    FirstBinder(TableBinding table) {
        this.table = table;
    }

    void first(Clause.First clause) {
        long count = table.count(clause.count(), "first");
        if (clause.within().isEmpty() && clause.along().isEmpty()) {
            table.steps.wantOnly(count);
            table.steps.add(new LimitStep(count, true));
            return;
        }
        List<Expression> within =
                clause.within().stream().map(k -> table.row("sort", k, false)).toList();
        List<OrderKey> along = clause.along().stream()
                .flatMap(k -> table.context.order(table.row("sort", k.key(), false), k.descending()).stream())
                .toList();
        FirstsStep.Rest rest = clause.rest() == null ? null : rest(clause, clause.rest());
        table.steps.add(new FirstsStep(count, within, along, rest));
        if (!along.isEmpty()) {
            table.context.byAlphabet(within).forEach(table.steps::add);
        }
    }

    private FirstsStep.Rest rest(Clause.First clause, String label) {
        GroupStep group = table.groups(clause.at(), "'rest as'");
        table.scope.forgetTexts();
        List<String> keys = Objects.requireNonNull(table.scope.level().keys());
        List<Integer> kept = new ArrayList<>();
        for (Expr key : clause.within()) {
            int place = key instanceof Expr.Name name ? keys.indexOf(name.name()) : -1;
            if (place < 0) {
                throw table.context.complaint(
                        key.at(),
                        "With 'rest as', 'within' names keys of the grouping.",
                        "The keys are: " + String.join(", ", keys) + ".");
            }
            kept.add(place);
        }
        int shown = 0;
        while (kept.contains(shown)) {
            shown++;
        }
        Type type = shown >= keys.size() ? null : group.keys().get(shown).type();
        if (type == null || type.kind() != Kind.TEXT && !table.context.isLost(type)) {
            throw table.context.complaint(
                    clause.at(),
                    "The label '" + label + "' needs a text key that 'within' does not name, to stand in.",
                    shown >= keys.size()
                            ? "Leave one key out of 'within'."
                            : "Make '" + keys.get(shown) + "' a text: per " + keys.get(shown) + " = text(…).");
        }
        return new FirstsStep.Rest(label, shown, kept, table.recomputed(group));
    }
}
