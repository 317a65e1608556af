package dev.fiesta.gather;

import dev.fiesta.value.Column;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.Supplier;

/** The values as one text, in the order of the rows. */
final class Listed extends Collected {
    static final int MOST = 1000;

    private final String separator;
    private int[] counts = new int[0];
    private long[] last = new long[0];
    private boolean over;

    Listed(Type type, String separator) {
        super(type, true);
        this.separator = separator;
    }

    static List<GatherFunction> functions() {
        return List.of(GatherFunction.of(
                        "list",
                        "list(x[, sep])",
                        "The values as one text, at most 1 000 of them.",
                        "list(takings, '; ')",
                        "10.00; 20.00; 20.00; 50.00",
                        args -> {
                            args.expectCount(1, 2, "list(x[, sep])");
                            String separator = args.count() == 2 ? args.textConstant(1, "The separator") : ", ";
                            Type type = args.type(0);
                            return new GatherFunction.Bound(Type.TEXT, () -> new Listed(type, separator));
                        })
                .lookingAtOrder());
    }

    @Override
    public void grow(int groups) {
        counts = Grow.to(counts, groups);
        last = Grow.to(last, groups);
    }

    /** Values come in the order of the rows but where workers and runs are merged: what stands behind enough others is not kept. */
    @Override
    void keep(int group, long value, long order) {
        if (counts[group] > MOST && order > last[group]) {
            return;
        }
        last[group] = counts[group]++ == 0 ? order : Math.max(last[group], order);
        over |= counts[group] > MOST + 1;
        super.keep(group, value, order);
    }

    @Override
    void forget() {
        super.forget();
        Arrays.fill(counts, 0);
        over = false;
    }

    @Override
    public long memory() {
        return super.memory() + 4L * counts.length + 8L * last.length;
    }

    @Override
    Column figures(long[] sorted, long[] places, int[] starts, int count) {
        List<String> out = new ArrayList<>();
        for (int g = 0; g < count; g++) {
            int start = starts[g];
            Integer[] rows = new Integer[starts[g + 1] - start];
            Arrays.setAll(rows, i -> start + i);
            Arrays.sort(rows, (a, b) -> Long.compare(places[a], places[b]));
            out.add(rows.length == 0 ? null : text(sorted, rows));
        }
        return (TextColumn) Column.of(Type.TEXT, out);
    }

    /** Of each group those that are shown are kept, and one more that tells that there are others. */
    @Override
    public void putAway(Supplier<Shelf> shelves) {
        if (over) {
            keepFirst(MOST + 1);
        }
    }

    @Override
    Column figures(Shelf all, int count) {
        throw new IllegalStateException("lists put nothing away");
    }

    private String text(long[] sorted, Integer[] rows) {
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < Math.min(MOST, rows.length); i++) {
            text.append(i == 0 ? "" : separator).append(Texts.of(image().value(sorted[rows[i]])));
        }
        return rows.length > MOST ? text.append(separator).append('…').toString() : text.toString();
    }
}
