package dev.fiesta.engine;

import dev.fiesta.plan.Step;
import dev.fiesta.plan.TablePlan;
import dev.fiesta.plan.TablePlan.Written;
import dev.fiesta.progress.Explained;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Field;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;

/** Tells what a run would do, without doing it. */
final class Explaining {
    private Explaining() {}

    static Explained of(
            List<TablePlan> order, Map<TablePlan, BitSet[]> live, Map<TablePlan, BitSet> wanted, Engine engine) {
        List<Explained.Input> inputs = new ArrayList<>();
        List<Explained.Table> tables = new ArrayList<>();
        for (TablePlan table : order) {
            BitSet fields = wanted.getOrDefault(table, new BitSet());
            if (table.isInput()) {
                List<Field> read = new ArrayList<>();
                List<String> unread = new ArrayList<>();
                for (int f = 0; f < table.schema().size(); f++) {
                    if (fields.get(f)) {
                        read.add(table.schema().field(f));
                    } else {
                        unread.add(table.schema().field(f).name());
                    }
                }
                inputs.add(new Explained.Input(table.shownName(), read, unread, engine.readings(table)));
            } else {
                tables.add(table(table, java.util.Objects.requireNonNull(live.get(table)), engine));
            }
        }
        return new Explained(inputs, tables);
    }

    private static Explained.Table table(TablePlan table, BitSet[] live, Engine engine) {
        List<Explained.Clause> clauses = new ArrayList<>();
        boolean reading = engine.comesFromInput(table);
        int flowing = engine.flow().flowing(table.steps(), 0);
        int taken = reading ? engine.flow().resumesAt(table.steps(), 0) : flowing;
        int step = 0;
        for (Written written : table.written()) {
            List<String> how = new ArrayList<>();
            for (; step < Math.min(written.steps(), table.steps().size()); step++) {
                String when = step < flowing
                        ? (reading ? "while reading, batch by batch" : "batch by batch")
                        : step < taken ? "while reading" : "over all rows";
                String passed = reading && step == 0 ? passedOver(table.steps().get(0), engine.groups(table)) : "";
                how.add(describe(table.steps().get(step), live[step + 1]) + passed + ", " + when);
            }
            clauses.add(new Explained.Clause(written.text(), written.line(), how));
        }
        return new Explained.Table(table.shownName(), from(table), engine.isKept(table), clauses);
    }

    /** How many groups of rows a first condition makes nobody read. */
    private static String passedOver(Step step, List<Bounds.Known> groups) {
        if (!(step instanceof Step.Filter filter) || groups.isEmpty()) {
            return "";
        }
        long passed = groups.stream()
                .filter(g -> FilterStage.dropsAll(filter.conjuncts(), g))
                .count();
        return ", " + passed + " of " + groups.size() + " groups of rows passed over";
    }

    private static String from(TablePlan table) {
        TablePlan from = table.from();
        return from == null ? "" : from.shownName();
    }

    private static String describe(Step step, BitSet after) {
        if (step instanceof Step.Filter filter) {
            int count = filter.conjuncts().size();
            return count == 1 ? "one condition" : count + " conditions, each only where those before hold";
        }
        if (step instanceof Step.Compute compute) {
            List<String> done = new ArrayList<>();
            List<String> left = new ArrayList<>();
            for (Step.Assignment assignment : compute.assignments()) {
                (Liveness.isNeeded(assignment, after) || isRead(compute, assignment) ? done : left)
                        .add(assignment.name());
            }
            String unneeded = left.isEmpty()
                    ? ""
                    : (done.isEmpty() ? "" : "; ") + String.join(", ", left) + " not worked out, nobody needs it";
            return (done.isEmpty() ? "" : "works out " + String.join(", ", done)) + unneeded;
        }
        if (step instanceof Step.Walks walks) {
            long orders = walks.specs().stream()
                    .map(s -> List.of(
                            slots(s.within()),
                            s.along().stream()
                                    .map(k -> "" + slots(List.of(k.key())) + " " + k.descending())
                                    .toList()))
                    .distinct()
                    .count();
            int count = walks.specs().size();
            return count + (count == 1 ? " calculation" : " calculations") + " over partitions, sorted "
                    + (orders == 1 ? "once" : orders + " times");
        }
        if (step instanceof Step.Group group) {
            int keys = group.keys().size();
            int figures = group.gathers().size();
            return (keys == 0 ? "one group" : "groups by " + keys + (keys == 1 ? " key" : " keys")) + ", " + figures
                    + (figures == 1 ? " figure" : " figures")
                    + (group.keepStates() ? ", states kept for totals" : "");
        }
        if (step instanceof Step.Sort sort && sort.most() < Long.MAX_VALUE) {
            return "sort, of which only the first " + sort.most() + " are put in order";
        }
        if (step instanceof Step.Match match) {
            return "looks up in " + match.table().shownName() + (match.each() ? ", a row for each match" : "");
        }
        return StepName.of(step);
    }

    /** Whether a later assignment of the same step reads this one. */
    private static boolean isRead(Step.Compute compute, Step.Assignment assignment) {
        boolean[] read = {false};
        compute.assignments().forEach(a -> a.value().fields(slot -> read[0] |= slot == assignment.slot()));
        return read[0];
    }

    private static List<Integer> slots(List<dev.fiesta.compute.Expression> expressions) {
        List<Integer> slots = new ArrayList<>();
        expressions.forEach(e -> e.fields(slots::add));
        return slots;
    }
}
