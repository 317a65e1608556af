package dev.fiesta.operate.sort;

import dev.fiesta.operate.Ground;
import dev.fiesta.operate.Operator;
import dev.fiesta.step.FirstsStep;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import java.util.BitSet;

/** The first rows of each partition, as they stand or along an order. */
public final class TopNOperator implements Operator {
    private final FirstsStep step;
    private final Ground ground;

    public TopNOperator(FirstsStep step, Ground ground) {
        this.step = step;
        this.ground = ground;
    }

    @Override
    public Stored run(Stored rows, BitSet before, BitSet after) {
        if (!(rows instanceof SpilledRows file)) {
            return new TopN(step, rows.load(), ground.notices()).run();
        }
        SpilledTopN firsts =
                new SpilledTopN(step.within(), step.along(), step.count(), ground.notices(), ground.memory());
        return step.along().isEmpty()
                ? firsts.asTheyStand(file, before, after)
                : firsts.byPartition(file, before, after);
    }
}
