package dev.fiesta.engine;

import dev.fiesta.operate.FilterStage;
import dev.fiesta.progress.Explained;
import dev.fiesta.step.FilterStep;
import dev.fiesta.step.LimitStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan;
import dev.fiesta.step.TablePlan.Written;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Field;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/** Tells what a run would do, without doing it. */
final class Explaining {
    private Explaining() {}

    static Explained of(Demand demand, Engine engine, Predicate<String> shared) {
        List<Explained.Input> inputs = new ArrayList<>();
        List<Explained.Table> tables = new ArrayList<>();
        Map<TablePlan, PartSteps> parts = new HashMap<>();
        for (TablePlan table : demand.tables()) {
            BitSet fields = demand.fields(table);
            if (table.isInput()) {
                if (shared.test(table.name())) {
                    parts.putAll(engine.inParts(table));
                }
                List<Field> read = new ArrayList<>();
                List<String> unread = new ArrayList<>();
                for (int f = 0; f < table.schema().size(); f++) {
                    if (fields.get(f)) {
                        read.add(table.schema().field(f));
                    } else {
                        unread.add(table.schema().field(f).name());
                    }
                }
                inputs.add(new Explained.Input(
                        table.shownName(), read, unread, engine.readings(table), isCounted(table, demand, engine)));
            } else {
                tables.add(table(table, demand.live(table), engine, parts.get(table)));
            }
        }
        return new Explained(inputs, tables);
    }

    private static boolean isCounted(TablePlan input, Demand demand, Engine engine) {
        return demand.tables().stream().filter(t -> engine.base(t) == input).anyMatch(t -> {
            int flowing = engine.flow().flowing(t.steps(), 0);
            return flowing < t.steps().size() && t.steps().get(flowing) instanceof LimitStep limit && limit.ends();
        });
    }

    /** @param parts what members go through with parts of the rows, or null */
    private static Explained.Table table(TablePlan table, BitSet[] live, Engine engine, @Nullable PartSteps parts) {
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
                        : step < taken ? "while reading" : overAll(parts == null ? null : parts.told(step));
                String passed = reading && step == 0 ? passedOver(table.steps().get(0), engine.groups(table)) : "";
                how.add(table.steps().get(step).told(live[step + 1]) + passed + ", " + when);
            }
            clauses.add(new Explained.Clause(written.text(), written.line(), how));
        }
        return new Explained.Table(table.shownName(), from(table), engine.isKept(table), clauses);
    }

    private static String overAll(@Nullable String others) {
        return others == null ? "over all rows" : others;
    }

    /** How many groups of rows a first condition makes nobody read. */
    private static String passedOver(Step step, List<Bounds.Known> groups) {
        if (!(step instanceof FilterStep filter) || groups.isEmpty()) {
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
}
