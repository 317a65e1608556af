package dev.fiesta.walk;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.gather.Moving;
import dev.fiesta.value.Column;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A gathering function over a frame that moves with the row. Functions that can move do so; for others each frame is gathered
 * anew, at a cost of its length for each row.
 */
public final class MovingFigure {
    private final GatherFunction.Bound bound;
    private final Frame frame;

    public MovingFigure(GatherFunction.Bound bound, Frame frame) {
        this.bound = bound;
        this.frame = frame;
    }

    /**
     * The figures by position.
     *
     * @param args the arguments by row; missing where {@code only} does not hold; for {@code count()} none or the condition
     * @param before for a piece of one partition and a frame from its start, what the rows before the piece have gathered; gets
     *     what those of the piece gather; else null
     * @param order how many rows stand before the piece
     */
    public Column walk(Walk walk, Column[] args, @Nullable Accumulator before, long order) {
        Column[] laid = new Column[args.length];
        for (int i = 0; i < laid.length; i++) {
            laid[i] = args[i].take(walk.rows(), walk.length());
        }
        WalkFrames frames = frame.over(walk);
        Moving moving = bound.moving();
        Column figures = moving == null ? anew(frames, laid) : moving.figures(frames, laid, before);
        if (before != null) {
            int[] one = new int[walk.length()];
            before.add(one, laid, one.length, order);
        }
        return guarded(figures, frames, laid);
    }

    private Column guarded(Column figures, WalkFrames frames, Column[] laid) {
        if (!frame.full() && frame.atLeast() == 0) {
            return figures;
        }
        int size = figures.size();
        int[] present = laid.length == 0 ? null : presentBefore(laid[0]);
        int[] pick = new int[size];
        for (int i = 0; i < size; i++) {
            int values = present == null
                    ? frames.to()[i] - frames.from()[i]
                    : present[frames.to()[i]] - present[frames.from()[i]];
            boolean shown = (!frame.full() || frames.inside()[i]) && values >= frame.atLeast();
            pick[i] = shown ? i : -1;
        }
        return figures.take(pick, size);
    }

    private static int[] presentBefore(Column column) {
        int[] before = new int[column.size() + 1];
        for (int i = 0; i < column.size(); i++) {
            before[i + 1] = before[i] + (column.isMissing(i) ? 0 : 1);
        }
        return before;
    }

    /** Each frame is a group of its own; some frames at a time, so that memory stays small. */
    private Column anew(WalkFrames frames, Column[] laid) {
        int size = frames.size();
        List<Column> parts = new ArrayList<>();
        int next = 0;
        while (next < size) {
            int first = next;
            long rows = 0;
            while (next < size && (next == first || rows < 100_000)) {
                rows += frames.to()[next] - frames.from()[next];
                next++;
            }
            parts.add(gather(frames, laid, first, next, Math.toIntExact(rows)));
        }
        return Column.join(bound.type(), parts);
    }

    private Column gather(WalkFrames frames, Column[] laid, int first, int behind, int rows) {
        int[] groups = new int[rows];
        int[] positions = new int[rows];
        int count = 0;
        for (int i = first; i < behind; i++) {
            for (int p = frames.from()[i]; p < frames.to()[i]; p++) {
                groups[count] = i - first;
                positions[count++] = p;
            }
        }
        Accumulator accumulator = bound.maker().get();
        accumulator.grow(behind - first);
        Column[] taken = new Column[laid.length];
        for (int a = 0; a < taken.length; a++) {
            taken[a] = laid[a].take(positions, rows);
        }
        accumulator.add(groups, taken, rows, 0);
        return accumulator.finish(behind - first);
    }
}
