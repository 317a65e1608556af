package dev.fiesta.operate.sort;

import dev.fiesta.operate.Ground;
import dev.fiesta.operate.Operator;
import dev.fiesta.step.SampleStep;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import java.util.BitSet;

/** Some rows of each partition, the same ones whenever it is asked; or all of them, shuffled. */
public final class SampleOperator implements Operator {
    private final SampleStep step;
    private final Ground ground;

    public SampleOperator(SampleStep step, Ground ground) {
        this.step = step;
        this.ground = ground;
    }

    @Override
    public Stored run(Stored rows, BitSet before, BitSet after) {
        return rows instanceof SpilledRows file
                ? new SpilledSample(step, ground.notices(), ground.memory()).run(file, before, after)
                : new Sampling(step, rows.load(), ground.notices()).run();
    }
}
