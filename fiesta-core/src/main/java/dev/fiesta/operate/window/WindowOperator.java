package dev.fiesta.operate.window;

import dev.fiesta.operate.Ground;
import dev.fiesta.operate.Operator;
import dev.fiesta.step.WalksStep;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import java.util.BitSet;

/** Calculations over partitions: ranks, moving and running figures, figures of the whole partition. */
public final class WindowOperator implements Operator {
    private final WalksStep step;
    private final Ground ground;

    public WindowOperator(WalksStep step, Ground ground) {
        this.step = step;
        this.ground = ground;
    }

    @Override
    public Stored run(Stored rows, BitSet before, BitSet after) {
        return rows instanceof SpilledRows file
                ? new SpilledWindows(ground.notices(), ground.memory()).run(file, step, after)
                : new Windows(rows.load(), ground.notices(), ground.threads()).run(step);
    }
}
