package dev.fiesta.operate.sort;

import dev.fiesta.operate.Ground;
import dev.fiesta.operate.Operator;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.SortStep;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Ordered;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.walk.Order;
import dev.fiesta.work.Workers;
import java.util.BitSet;

/** Puts rows in an order; of which only the first may be wanted. */
public final class SortOperator implements Operator {
    private final SortStep step;
    private final Ground ground;

    public SortOperator(SortStep step, Ground ground) {
        this.step = step;
        this.ground = ground;
    }

    @Override
    public Stored run(Stored rows, BitSet before, BitSet after) {
        if (rows instanceof SpilledRows file) {
            return ExternalSort.first(file, step.keys(), after, ground.notices(), ground.memory(), step.most());
        }
        Rows held = rows.load();
        int[] order = Order.first(
                Order.asTheyStand(held.size()),
                OrderKey.of(step.keys(), held.batch(), ground.notices()),
                step.most(),
                Workers.parts(ground.threads(), held.size()));
        return new Ordered(held, order, ground.threads());
    }
}
