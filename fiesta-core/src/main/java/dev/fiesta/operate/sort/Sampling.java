package dev.fiesta.operate.sort;

import dev.fiesta.compute.Expression;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.SampleStep;
import dev.fiesta.store.Rows;
import dev.fiesta.value.Column;
import dev.fiesta.value.Hashes;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Order;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;

/** The rows of each partition whose hashes are smallest; equal hashes stand in the order of the rows. */
final class Sampling {
    private final SampleStep step;
    private final Rows rows;
    private final int[] partition;

    Sampling(SampleStep step, Rows rows, Notices notices) {
        this.step = step;
        this.rows = rows;
        Column[] within = Expression.columns(step.within(), rows.batch(), notices);
        this.partition = GroupTable.numbers(within, rows.size());
    }

    Rows run() {
        int[] left = quotas();
        BitSet taken = new BitSet();
        int[] order = order();
        int count = 0;
        for (int row : order) {
            if (left[partition[row]]-- > 0) {
                taken.set(row);
                order[count++] = row;
            }
        }
        return rows.take(
                step.shuffled() ? Arrays.copyOf(order, count) : taken.stream().toArray());
    }

    private int[] quotas() {
        long[] sizes = new long[Math.max(1, Arrays.stream(partition).max().orElse(0) + 1)];
        for (int number : partition) {
            sizes[number]++;
        }
        return Arrays.stream(quotas(step, sizes)).mapToInt(Math::toIntExact).toArray();
    }

    /** How many rows of each partition are wanted. */
    static long[] quotas(SampleStep step, long[] sizes) {
        return Arrays.stream(sizes)
                .map(rows -> {
                    BigDecimal size = BigDecimal.valueOf(rows);
                    BigDecimal wanted = step.percent()
                            ? size.multiply(step.count()).movePointLeft(2).setScale(0, RoundingMode.HALF_EVEN)
                            : step.count().min(size);
                    return wanted.longValueExact();
                })
                .toArray();
    }

    private int[] order() {
        Column hashes = hashes(step, rows.size(), rows::column, 0);
        return Order.sort(Order.asTheyStand(rows.size()), List.of(new Order.Key(hashes, false)));
    }

    /**
     * What decides about each row.
     *
     * @param columns the columns of the rows, by slot
     * @param first the place of the first row among all
     */
    static LongColumn hashes(SampleStep step, int rows, IntFunction<Column> columns, long first) {
        long[] hashes = new long[rows];
        Arrays.fill(hashes, Hashes.mixed(step.seed()));
        List<Integer> identity = step.identity();
        for (int slot : identity) {
            Column column = columns.apply(slot).flat();
            for (int i = 0; i < hashes.length; i++) {
                hashes[i] = Hashes.mixed(hashes[i] ^ hash(column, i));
            }
        }
        for (int i = 0; i < hashes.length && identity.isEmpty(); i++) {
            hashes[i] = Hashes.mixed(hashes[i] ^ (first + i));
        }
        return new LongColumn(Type.INTEGER, hashes, hashes.length, null);
    }

    private static long hash(Column column, int row) {
        if (column instanceof LongColumn exact && !column.isMissing(row)) {
            return exact.values()[row];
        }
        @Nullable Object value = column.get(row);
        long hash = value == null ? 1 : 2;
        String text = value == null ? "" : Texts.of(value);
        for (int i = 0; i < text.length(); i++) {
            hash = Hashes.mixed(hash + text.charAt(i));
        }
        return hash;
    }
}
