package dev.fiesta.gather.values;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

/** A value is put where sorting would put it, whatever stands around it. */
class SelectionTest {
    @Test
    void placesAreThoseOfSorting() {
        SplittableRandom random = new SplittableRandom(3);
        for (int turn = 0; turn < 3_000; turn++) {
            long[] values = values(random, turn % 6, 1 + random.nextInt(turn % 50 == 0 ? 5_000 : 90));
            int from = random.nextInt(values.length);
            int to = from + 1 + random.nextInt(values.length - from);
            int place = from + random.nextInt(to - from);
            long[] sorted = values.clone();
            Arrays.sort(sorted, from, to);
            long[] put = values.clone();
            Selection.put(put, from, to, place);
            assertThat(put[place]).as("turn " + turn).isEqualTo(sorted[place]);
            assertThat(Arrays.stream(put, from, place)).allMatch(v -> v <= sorted[place]);
            assertThat(Arrays.stream(put, place, to)).allMatch(v -> v >= sorted[place]);
            if (place + 1 < to) {
                Selection.least(put, place + 1, to);
                assertThat(put[place + 1]).isEqualTo(sorted[place + 1]);
            }
            assertThat(Arrays.copyOf(put, from)).isEqualTo(Arrays.copyOf(values, from));
            Arrays.sort(put, from, to);
            assertThat(put).as("nothing is lost").isEqualTo(sorted);
        }
    }

    /** Ascending, descending, few different ones, up and down, organ pipes, any. */
    private static long[] values(SplittableRandom random, int kind, int size) {
        long[] values = new long[size];
        for (int i = 0; i < size; i++) {
            values[i] = switch (kind) {
                case 0 -> i;
                case 1 -> -i;
                case 2 -> random.nextInt(3);
                case 3 -> i % 2 == 0 ? i : -i;
                case 4 -> Math.min(i, size - i);
                default -> random.nextInt(5) == 0 ? Long.MIN_VALUE : random.nextLong();
            };
        }
        return values;
    }
}
