package dev.fiesta.engine;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.Source;
import dev.fiesta.step.Step;
import dev.fiesta.value.Batch;
import dev.fiesta.work.Failing;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * A lane for one worker. A batch is first worked on ({@link #run}) and then settled: only then is it known how many of its rows
 * are wanted, and only what concerns these counts, be it a failure or something to be told.
 */
final class LaneRun {
    /** All rows of a batch are wanted. */
    static final int ALL = Integer.MAX_VALUE;

    /** What workers of one pass tell in common. */
    interface Settled {
        void failed(long sequence, int row, Lane lane, RuntimeException failure);

        /** Rows that came to a step and left it. */
        void passed(Lane lane, int step, long in, long out);
    }

    private final Lane lane;
    private final Source.Reader reader;
    private final Notices notices;
    private final Settled settled;
    private final Notices draft = Notices.draft();
    private final List<UnaryOperator<Batch>> operators = new ArrayList<>();
    private final Sink.@Nullable Taker taker;
    private final boolean counted;
    private final List<LaneRun> children = new ArrayList<>();
    private final long[] in;
    private final long[] out;
    private @Nullable Batch given;
    private @Nullable Batch left;
    private @Nullable Failing failing;

    /** @param operators makes what a step does with a batch */
    LaneRun(Lane lane, Source.Reader reader, Notices notices, Settled settled, OperatorMaker operators) {
        this.lane = lane;
        this.reader = reader;
        this.notices = notices;
        this.settled = settled;
        for (int i = lane.first(); i < lane.end(); i++) {
            this.operators.add(operators.of(lane.step(i), lane.way().live().get(i + 1), draft));
        }
        this.in = new long[this.operators.size() + 1];
        this.out = new long[this.operators.size() + 1];
        Sink sink = lane.sink();
        this.taker = sink == null ? null : sink.worker(draft);
        this.counted = sink != null && sink.left() < Long.MAX_VALUE;
        lane.children().forEach(child -> children.add(new LaneRun(child, reader, notices, settled, operators)));
    }

    /** Makes what a step does with a batch. */
    interface OperatorMaker {
        UnaryOperator<Batch> of(Step step, java.util.BitSet after, Notices notices);
    }

    /** Works on a batch. */
    void run(Batch rows) {
        given = null;
        left = null;
        failing = null;
        if (rows.size() > 0 && !lane.isOpen()) {
            return;
        }
        given = rows;
        List<Integer> passedOn = lane.way().passedOn();
        try {
            left = through(rows, true);
        } catch (DataException | Source.Widened e) {
            failing = Failing.find(rows, e, some -> through(some, false));
            left = failing.sound() == 0 ? null : through(rows.head(failing.sound()), true);
        }
        for (LaneRun child : children) {
            child.given = null;
            if (left != null) {
                child.run(passedOn == null ? left : left.project(passedOn));
            }
        }
    }

    /** What is left of rows behind the steps; null where none is. */
    private @Nullable Batch through(Batch rows, boolean takes) {
        draft.clear();
        reader.tell(draft);
        Batch at = rows;
        for (int i = 0; i < operators.size(); i++) {
            in[i] = at.size();
            at = operators.get(i).apply(at);
            out[i] = at.size();
            if (at.size() == 0 && rows.size() > 0) {
                Arrays.fill(in, i + 1, in.length, 0);
                Arrays.fill(out, i + 1, out.length, 0);
                return null;
            }
        }
        in[operators.size()] = at.size();
        if (taker != null && !counted) {
            if (takes) {
                taker.take(at);
            } else {
                taker.attempt(at);
            }
        }
        return at;
    }

    /**
     * Lets what was done with the batch count, as far as its rows are wanted.
     *
     * @return the place in its piece before which all wanted rows stand; {@link #ALL} when all are, 0 when none is
     */
    int settle(long sequence) {
        Batch rows = given;
        if (rows == null) {
            return 0;
        }
        long wanted = counted ? Objects.requireNonNull(lane.sink()).left() : ALL;
        int need = taker == null ? 0 : needed(wanted);
        for (LaneRun child : children) {
            need = Math.max(need, child.settle(sequence));
        }
        if (need == ALL && failing != null) {
            settled.failed(sequence, rows.size() == 0 ? 0 : rows.origin(failing.sound()), lane, failing.failure());
        } else if (need < ALL) {
            left = through(rows.before(need), false);
        }
        if (counted && left != null && taker != null) {
            reader.tell(draft);
            take(taker, left.size() > wanted ? left.head((int) wanted) : left);
        }
        notices.add(draft);
        for (int i = 0; i < in.length; i++) {
            settled.passed(lane, lane.first() + i, in[i], out[i]);
        }
        return need;
    }

    private void take(Sink.Taker to, Batch rows) {
        try {
            to.take(rows);
        } catch (DataException | Source.Widened e) {
            Failing first = Failing.find(rows, e, to::attempt);
            settled.failed(rows.sequence(), rows.origin(first.sound()), lane, first.failure());
        }
    }

    private int needed(long wanted) {
        Batch rows = left;
        if (!counted || rows == null || rows.size() < wanted) {
            return ALL;
        }
        return wanted == 0 ? 0 : rows.origin((int) wanted - 1) + 1;
    }
}
