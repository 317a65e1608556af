package dev.fiesta.plan;

import dev.fiesta.language.Clause;
import dev.fiesta.language.Ref;
import dev.fiesta.step.GroupStep;
import dev.fiesta.step.TablePlan.TotalPlan;
import dev.fiesta.step.TotalsStep;
import java.util.List;
import java.util.Objects;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Settles {@code totals}: the rows that stand there get total rows, worked out last. */
final class TotalsBinder {
    private final TableBinding table;
    private int by = -1;
    private int standing = -1;

    TotalsBinder(TableBinding table) {
        this.table = table;
    }

    void totals(Clause.Totals clause) {
        GroupStep group = table.groups(clause.at(), "'totals'");
        table.scope.forgetTexts();
        List<String> keys = Objects.requireNonNull(table.scope.level().keys());
        if (table.crossed != null && !clause.by().isEmpty()) {
            throw table.context.complaint(
                    clause.at(), "Subtotals are not laid out with 'against'.", "Write 'totals' alone.");
        }
        for (int i = 0; i < clause.by().size(); i++) {
            Ref key = clause.by().get(i);
            if (i >= keys.size() - 1 || !keys.get(i).equals(key.name())) {
                throw table.context.complaint(
                        key.at(),
                        "Subtotals go by the first keys of the grouping, not by '" + key.name() + "'.",
                        keys.size() < 2
                                ? "With one key there is only the grand total: 'totals'."
                                : "Write 'totals by " + String.join(", ", keys.subList(0, keys.size() - 1))
                                        + "', or change the order of the keys.");
            }
        }
        if (group.keys().isEmpty()) {
            throw table.context.complaint(clause.at(), "There is one group only, so there is nothing to total.", null);
        }
        if (table.crossed != null) {
            standing = table.steps.list().size();
            return;
        }
        by = clause.by().size();
        table.steps.add(new TotalsStep(by));
    }

    /** Total rows belong to the rows that stand: what changes those comes before. */
    void refuseBehind(Clause clause) {
        boolean keeps = clause instanceof Clause.Add
                || clause instanceof Clause.Sort
                || clause instanceof Clause.Rename
                || clause instanceof Clause.Drop
                || clause instanceof Clause.Hide
                || clause instanceof Clause.Columns
                || ClauseBinder.isCheck(clause);
        if (areAsked() && !keeps) {
            String word = table.context.text().at(clause.at()).replaceFirst("(?s)\\W.*", "");
            throw table.context.complaint(
                    clause.at(),
                    "'" + word
                            + "' after 'totals' would change the rows, and the totals would not belong to them any more.",
                    "Put it before 'totals'; after it may stand add, sort, rename, drop, hide, columns and check.");
        }
    }

    /** Whether totals belong to the rows that stand now. */
    private boolean areAsked() {
        return by >= 0 || standing >= 0;
    }

    /** Rows that are grouped anew have no totals yet. */
    void forget() {
        by = -1;
    }

    /** The number of steps of a cross-tabulation before its totals, or -1. */
    int standing() {
        return standing;
    }

    /** How total rows are worked out, or null where there are none. */
    @Nullable
    TotalPlan plan() {
        if (by < 0 || table.grouped.group() == null) {
            return null;
        }
        List<Integer> slots = table.scope.slots();
        int keys = table.grouped.group().keys().size();
        List<Integer> labels = IntStream.range(0, keys).mapToObj(slots::indexOf).toList();
        return new TotalPlan(by, table.recomputed(table.grouped.group()), labels);
    }
}
