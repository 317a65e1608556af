package dev.fiesta.operate.sort;

import dev.fiesta.compute.Expression;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.FirstsStep;
import dev.fiesta.store.Rows;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.walk.Order;
import dev.fiesta.walk.Parts;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** The first rows of each partition, as they stand or along an order. */
final class TopN {
    private final FirstsStep step;
    private final Rows rows;
    private final int[] partition;
    private final int[] order;

    TopN(FirstsStep step, Rows rows, Notices notices) {
        this.step = step;
        this.rows = rows;
        Batch batch = rows.batch();
        Column[] within = Expression.columns(step.within(), batch, notices);
        this.partition = GroupTable.numbers(within, rows.size());
        List<Order.Key> keys = new ArrayList<>();
        Arrays.stream(within).forEach(k -> keys.add(new Order.Key(k, false)));
        step.along().forEach(k -> keys.add(new Order.Key(k.key().kernel(notices).eval(batch), k.descending())));
        long wanted = step.within().isEmpty() ? step.count() : Long.MAX_VALUE;
        this.order = step.along().isEmpty()
                ? new int[0]
                : Order.first(Order.asTheyStand(rows.size()), keys, wanted, Parts.ONE);
    }

    Rows run() {
        return step.along().isEmpty() ? asTheyStand() : chosen();
    }

    /** The first rows of each partition, where they stand. */
    private Rows asTheyStand() {
        int[] taken = new int[rows.size()];
        int[] picked = new int[rows.size()];
        int count = 0;
        for (int row = 0; row < picked.length; row++) {
            if (taken[partition[row]]++ < step.count()) {
                picked[count++] = row;
            }
        }
        return rows.take(Arrays.copyOf(picked, count));
    }

    /** The first rows of each partition, in order. */
    private Rows chosen() {
        int[] picked = new int[order.length];
        int count = 0;
        int last = -1;
        int taken = 0;
        for (int row : order) {
            taken = partition[row] == last ? taken : 0;
            last = partition[row];
            if (taken++ < step.count()) {
                picked[count++] = row;
            }
        }
        return rows.take(Arrays.copyOf(picked, count));
    }
}
