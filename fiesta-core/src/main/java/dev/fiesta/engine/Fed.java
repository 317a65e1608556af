package dev.fiesta.engine;

import dev.fiesta.source.Source;
import dev.fiesta.step.TablePlan;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;

/**
 * What one reading of an input feeds.
 *
 * @param scan a reading of it, which stays open
 * @param tables those fed: up to their first step that needs all rows, which takes them in if it can
 * @param live for each table the slots needed before each step, and behind the last
 */
record Fed(Source source, Source.Scan scan, TablePlan input, List<TablePlan> tables, Map<TablePlan, BitSet[]> live) {
    boolean has(TablePlan table) {
        return tables.stream().anyMatch(t -> t == table);
    }

    /** The texts that are to be met on the way. */
    TextsMet texts() {
        BitSet[] slots = live.get(input);
        return new TextsMet(input, live.keySet(), slots == null ? new BitSet() : slots[0]);
    }

    /** A batch without rows, so that tables without rows get columns of the right types all the same. */
    Batch nothing() {
        List<Column> typed = new ArrayList<>();
        source.schema().fields().forEach(f -> typed.add(Column.missing(f.type(), 0)));
        typed.add(Column.missing(Type.TEXT, 0));
        typed.add(Column.missing(Type.INTEGER, 0));
        return Batch.of(0, typed.toArray(Column[]::new), Long.MAX_VALUE >> 24);
    }
}
