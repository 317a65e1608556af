package dev.fiesta.gather;

import dev.fiesta.gather.frames.SlidingMode;
import dev.fiesta.gather.values.Shelf;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The most frequent value, the least of them on a tie. */
final class Mode extends Collected {

    Mode(Type type) {
        super(type, null);
    }

    static List<GatherFunction> functions() {
        return List.of(GatherFunction.of(
                "mode", "mode(x)", "The most frequent value; of several the least.", "mode(takings)", "20.00", args -> {
                    Type type = GatherFunctions.one(args, "mode(x)");
                    return new GatherFunction.Bound(type, () -> new Mode(type)).ranked(SlidingMode::new);
                }));
    }

    @Override
    Column figures(int count) {
        int[] starts = new int[count + 1];
        long[] sorted = sideBySide(starts);
        long[] out = new long[count];
        long[] valid = null;
        for (int g = 0; g < count; g++) {
            if (starts[g] == starts[g + 1]) {
                valid = Validity.without(valid, count, g);
                continue;
            }
            Arrays.sort(sorted, starts[g], starts[g + 1]);
            out[g] = mode(sorted, starts[g], starts[g + 1]);
        }
        return image().column(out, count, valid);
    }

    @Override
    Column figures(Shelf all, int count) {
        @Nullable Object[] best = new Object[count];
        long[] most = new long[count];
        long[] run = new long[count];
        long[] last = new long[count];
        long[] value = new long[1];
        all.inOrder((group, values, row, other) -> {
            value[0] += other ? 1 : 0;
            run[group] = last[group] == value[0] ? run[group] + 1 : 1;
            last[group] = value[0];
            if (run[group] > most[group]) {
                most[group] = run[group];
                best[group] = values.get(row);
            }
        });
        return Column.of(image().type(), Arrays.asList(best));
    }

    private long mode(long[] sorted, int start, int end) {
        long best = sorted[start];
        int most = 0;
        int run = 0;
        for (int i = start; i < end; i++) {
            run = i > start && sorted[i] == sorted[i - 1] ? run + 1 : 1;
            if (run > most || (run == most && image().compare(sorted[i], best) < 0)) {
                most = run;
                best = sorted[i];
            }
        }
        return best;
    }
}
