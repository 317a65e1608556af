package dev.fiesta.engine;

import dev.fiesta.step.SampleStep;
import java.util.BitSet;

/** Some rows of each partition, the same ones whenever it is asked; or all of them, shuffled. */
final class SampleOperator implements Operator {
    private final SampleStep step;
    private final Ground ground;

    SampleOperator(SampleStep step, Ground ground) {
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
