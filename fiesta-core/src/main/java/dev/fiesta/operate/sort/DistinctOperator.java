package dev.fiesta.operate.sort;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.FieldRef;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.operate.Ground;
import dev.fiesta.operate.Operator;
import dev.fiesta.step.DistinctStep;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.walk.Parts;
import dev.fiesta.work.Workers;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;

/** Leaves of rows with the same keys the first. */
public final class DistinctOperator implements Operator {
    private final DistinctStep step;
    private final Ground ground;

    public DistinctOperator(DistinctStep step, Ground ground) {
        this.step = step;
        this.ground = ground;
    }

    @Override
    public Stored run(Stored rows, BitSet before, BitSet after) {
        if (!(rows instanceof SpilledRows file)) {
            return held(rows.load());
        }
        Batch typed = file.batch(0);
        List<Expression> keys = step.slots().stream()
                .map(s -> (Expression) new FieldRef(s, typed.column(s).type()))
                .toList();
        return new SpilledTopN(keys, List.of(), 1, ground.notices(), ground.memory()).asTheyStand(file, before, after);
    }

    /** Each thread looks for the first of each key in its own part; then those that are left are looked through. */
    private Rows held(Rows rows) {
        Column[] keys = rows.columns(step.slots());
        Parts parts = Workers.parts(ground.threads(), rows.size());
        if (parts.count() == 1) {
            return rows.take(firsts(keys, rows.size()), ground.threads());
        }
        int[][] firsts = new int[parts.count()][];
        parts.each(p -> {
            int from = parts.start(p, rows.size());
            int count = parts.start(p + 1, rows.size()) - from;
            Column[] own = Arrays.stream(keys).map(k -> k.range(from, count)).toArray(Column[]::new);
            firsts[p] = Arrays.stream(firsts(own, count)).map(row -> from + row).toArray();
        });
        int[] candidates = Arrays.stream(firsts).flatMapToInt(Arrays::stream).toArray();
        Column[] left = Arrays.stream(keys)
                .map(k -> k.take(candidates, candidates.length))
                .toArray(Column[]::new);
        int[] chosen = firsts(left, candidates.length);
        return rows.take(Arrays.stream(chosen).map(c -> candidates[c]).toArray(), ground.threads());
    }

    /** The rows whose keys no row before them has. */
    private static int[] firsts(Column[] keys, int size) {
        int[] numbers = GroupTable.numbers(keys, size);
        int[] first = new int[size];
        int count = 0;
        for (int i = 0; i < size; i++) {
            if (numbers[i] == count) { // numbers are given in the order in which keys are met
                first[count++] = i;
            }
        }
        return Arrays.copyOf(first, count);
    }
}
