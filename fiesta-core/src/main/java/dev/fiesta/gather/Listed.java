package dev.fiesta.gather;

import dev.fiesta.gather.values.AlongKey;
import dev.fiesta.gather.values.Grow;
import dev.fiesta.gather.values.Positions;
import dev.fiesta.gather.values.Shelf;
import dev.fiesta.value.Column;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.Supplier;
import java.util.stream.IntStream;

/** The values as one text, in the order of the rows. */
final class Listed extends Collected {
    static final int MOST = 1000;

    private final String separator;
    private int[] counts = new int[0];
    private long[] last = new long[0];
    private boolean over;

    /** @param along what rows are ordered along */
    Listed(Type type, String separator, List<AlongKey> along) {
        super(type, new Positions(along));
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
                            return new GatherFunction.Bound(Type.TEXT, () -> new Listed(type, separator, List.of()))
                                    .ordered(along -> new Listed(type, separator, along));
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
    void keep(int group, long value) {
        long place = positions().place();
        if (counts[group] > MOST && place > last[group] && positions().keys() == 0) {
            return;
        }
        super.keep(group, value);
        count(group, place);
    }

    private void count(int group, long place) {
        last[group] = counts[group]++ == 0 ? place : Math.max(last[group], place);
        over |= counts[group] > MOST + 1;
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
    Column figures(int count) {
        int[] starts = new int[count + 1];
        sideBySide(starts);
        List<String> out = new ArrayList<>();
        for (int g = 0; g < count; g++) {
            int[] places = first(starts[g], starts[g + 1], MOST + 1);
            out.add(places.length == 0 ? null : text(places));
        }
        return (TextColumn) Column.of(Type.TEXT, out);
    }

    /** The places of so many values that stand first of those of a group, in the order of their rows. */
    private int[] first(int from, int to, int most) {
        return Arrays.stream(byGroup(), from, to)
                .boxed()
                .sorted(positions()::compareKept)
                .limit(most)
                .mapToInt(Integer::intValue)
                .toArray();
    }

    /** Of each group those that are shown are kept, and one more that tells that there are others. */
    @Override
    public void putAway(Supplier<Shelf> shelves) {
        if (over) {
            int[] all = byGroup();
            IntStream.Builder kept = IntStream.builder();
            for (int from = 0, to; from < all.length; from = to) {
                to = from + 1;
                while (to < all.length && group(all[to]) == group(all[from])) {
                    to++;
                }
                Arrays.stream(first(from, to, MOST + 1)).forEach(kept);
            }
            keepOnly(kept.build().toArray());
        }
    }

    @Override
    void keepOnly(int[] places) {
        super.keepOnly(places);
        for (int place = 0; place < size(); place++) {
            count(group(place), positions().place(place));
        }
    }

    @Override
    Column figures(Shelf all, int count) {
        throw new IllegalStateException("lists put nothing away");
    }

    private String text(int[] places) {
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < Math.min(MOST, places.length); i++) {
            text.append(i == 0 ? "" : separator).append(Texts.of(image().value(value(places[i]))));
        }
        return places.length > MOST ? text.append(separator).append('…').toString() : text.toString();
    }
}
