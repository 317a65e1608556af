package dev.fiesta.gather;

import dev.fiesta.gather.frames.Far;
import dev.fiesta.gather.frames.RankedFrames;
import dev.fiesta.gather.frames.SlidingDistinct;
import dev.fiesta.gather.values.PairSet;
import dev.fiesta.gather.values.Shelf;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.util.List;

/** The number of different values: each is kept once. */
final class Distinct extends Collected {
    private final PairSet pairs = new PairSet();

    Distinct(Type type) {
        super(type, null);
    }

    static List<GatherFunction> functions() {
        return List.of(GatherFunction.of(
                        "count_distinct",
                        "count_distinct(x)",
                        "The number of different values.",
                        "count_distinct(takings)",
                        "3",
                        args -> {
                            Type type = GatherFunctions.one(args, "count_distinct(x)");
                            return new GatherFunction.Bound(Type.INTEGER, () -> new Distinct(type))
                                    .carryingOn((frames, values, before) -> before == null
                                            ? RankedFrames.over(frames, values[0], SlidingDistinct::new)
                                            : ((Distinct) before).running(values[0]))
                                    .far(Far.ranked(SlidingDistinct::new));
                        })
                .addingUp());
    }

    /** How many different values there are up to each row, with those from before, to which those here are added. */
    private Column running(Column x) {
        long[] images = image().of(x);
        long[] out = new long[x.size()];
        for (int i = 0; i < out.length; i++) {
            if (!x.isMissing(i)) {
                keep(0, images[i]);
            }
            out[i] = size();
        }
        return new LongColumn(Type.INTEGER, out, out.length, null);
    }

    @Override
    void keep(int group, long value) {
        if (super.size() > 0) { // put in order, and more comes
            for (int place = 0; place < super.size(); place++) {
                pairs.add(group(place), value(place));
            }
            super.forgetValues();
        }
        pairs.add(group, value);
    }

    @Override
    void settle() {
        pairs.each(super::append);
        pairs.clear();
    }

    @Override
    int size() {
        return super.size() + pairs.size();
    }

    @Override
    public long memory() {
        return super.memory() + pairs.memory();
    }

    /** Pairs need not stand side by side to be counted. */
    @Override
    Column figures(int count) {
        long[] out = new long[count];
        for (int place = 0; place < super.size(); place++) {
            out[group(place)]++;
        }
        pairs.each((group, value) -> out[group]++);
        return new LongColumn(Type.INTEGER, out, count, null);
    }

    @Override
    Column figures(Shelf all, int count) {
        long[] out = new long[count];
        long[] last = new long[count];
        long[] value = new long[1];
        all.inOrder((group, values, row, other) -> {
            value[0] += other ? 1 : 0;
            out[group] += last[group] == value[0] ? 0 : 1;
            last[group] = value[0];
        });
        return new LongColumn(Type.INTEGER, out, count, null);
    }
}
