package dev.fiesta.engine;

import dev.fiesta.step.MatchStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;

/** The tables that wanted ones stand on, and what is read of each of them. */
final class Demand {
    private final Set<TablePlan> tables = new LinkedHashSet<>();
    private final Set<TablePlan> kept = new HashSet<>();
    private final Map<TablePlan, BitSet> fields = new HashMap<>();
    private final Map<TablePlan, BitSet[]> live = new HashMap<>();

    /** Notes what some tables need; they may stand on each other. */
    void add(Collection<TablePlan> wanted) {
        wanted.forEach(this::want);
        List<TablePlan> order = tables();
        for (int i = order.size() - 1; i >= 0; i--) {
            needs(order.get(i));
        }
    }

    /** For inputs the fields that tables read where all of them are shown. */
    static Map<TablePlan, BitSet> uses(Collection<TablePlan> tables) {
        Demand shown = new Demand();
        shown.add(tables.stream().map(TablePlan::shownOnly).toList());
        Map<TablePlan, BitSet> uses = new LinkedHashMap<>();
        shown.tables().stream().filter(TablePlan::isInput).forEach(t -> uses.put(t, shown.live(t)[0]));
        return uses;
    }

    /** All tables, those that others stand on first. */
    List<TablePlan> tables() {
        return new ArrayList<>(tables);
    }

    /** What others are asked to read of an input for some tables. */
    Stretch asked(TablePlan input, List<TablePlan> fed, Flow flow) {
        List<TablePlan> all = tables();
        BitSet held = new BitSet();
        List<MatchStep> lookUps = lookUps();
        for (int m = 0; m < lookUps.size(); m++) {
            held.set(m, flow.isHeld(lookUps.get(m)));
        }
        return new Stretch(all.indexOf(input), fed.stream().map(all::indexOf).toList(), held);
    }

    /** All look-ups of all tables, in their order. */
    List<MatchStep> lookUps() {
        return tables.stream()
                .flatMap(t -> t.steps().stream())
                .filter(MatchStep.class::isInstance)
                .map(MatchStep.class::cast)
                .toList();
    }

    /** Whether all rows of a table are held because it is wanted itself, or looked up. */
    boolean isKept(TablePlan table) {
        return kept.contains(table);
    }

    /** From now on all rows of a table are held. */
    void keep(TablePlan table) {
        kept.add(table);
    }

    /** The fields of a table that somebody reads, by place. */
    BitSet fields(TablePlan table) {
        return fields.computeIfAbsent(table, t -> new BitSet());
    }

    /** The slots of a table that are needed before each step, and behind the last. */
    BitSet[] live(TablePlan table) {
        return Objects.requireNonNull(live.get(table));
    }

    /** As {@link #live(TablePlan)}, of all tables. */
    Map<TablePlan, BitSet[]> live() {
        return live;
    }

    private void want(TablePlan table) {
        collect(table);
        kept.add(table);
        BitSet all = fields(table);
        all.set(0, table.schema().size());
        int places = table.passedOn().size();
        all.set(places - table.marks().size(), places);
    }

    /** Notes a table and all it stands on, those first. */
    private void collect(TablePlan table) {
        if (tables.contains(table)) {
            return;
        }
        if (table.from() != null) {
            collect(table.from());
        }
        for (Step step : table.steps()) {
            for (TablePlan other : step.lookedUp()) {
                collect(other);
                kept.add(other);
            }
        }
        tables.add(table);
    }

    /** Tells the tables that this one stands on which of their fields it reads. */
    private void needs(TablePlan table) {
        BitSet[] slots = Liveness.of(table, fields(table));
        live.put(table, slots);
        for (int i = 0; i < table.steps().size(); i++) {
            Step step = table.steps().get(i);
            BitSet after = slots[i + 1];
            step.lookedUp().forEach(other -> fields(other).or(step.fieldsOf(other, after)));
        }
        if (table.from() != null) {
            BitSet below = fields(table.from());
            int passedOn = table.from().passedOn().size();
            slots[0].stream().filter(s -> s < passedOn).forEach(below::set);
        }
    }
}
