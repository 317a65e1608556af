package dev.fiesta.gather.values;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.gather.frames.SlidingMode;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.SplittableRandom;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Values that come and go by their ranks, against a plain set of ranks; equal ones beside each other. */
class RankedValuesTest {
    private static final Type CENTS = Type.decimal(2);

    /** Values in pages of some, as a file has them. */
    private record Pages(long[] values, int size) implements Shelf.Pages {
        @Override
        public int pages() {
            return Math.max(1, (values.length + size - 1) / size);
        }

        @Override
        public int before(int page) {
            return Math.min(values.length, page * size);
        }

        @Override
        public Column page(int page) {
            long[] some = Arrays.copyOfRange(values, before(page), before(page + 1));
            return new LongColumn(CENTS, some, some.length, null);
        }
    }

    private static Pages pages(int count, int different, int size, SplittableRandom random) {
        return new Pages(random.longs(count, -different, different).sorted().toArray(), size);
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 63, 64, 65, 1023, 1024, 1025, 5000})
    void placesAndSumsAreThoseOfTheSet(int count) {
        SplittableRandom random = new SplittableRandom(count);
        Pages all = pages(count, 1000, 37, random);
        RankedValues inside = new RankedValues(new SortedFigure(CENTS, true, values -> 0), all);
        TreeSet<Integer> ranks = new TreeSet<>();
        for (int i = 0; i < 400; i++) {
            int rank = random.nextInt(count);
            boolean away = !ranks.add(rank);
            if (away) {
                ranks.remove(rank);
            }
            inside.move(rank, all.values()[rank], away);
            assertThat(inside.size()).isEqualTo(ranks.size());
            if (ranks.isEmpty()) {
                continue;
            }
            List<Integer> order = new ArrayList<>(ranks);
            int from = random.nextInt(order.size());
            int to = from + random.nextInt(order.size() - from + 1);
            assertThat(inside.value(from)).isEqualTo(all.values()[order.get(from)]);
            BigInteger sum = order.subList(from, to).stream()
                    .map(r -> BigInteger.valueOf(all.values()[r]))
                    .reduce(BigInteger.ZERO, BigInteger::add);
            assertThat(inside.sum(from, to)).isEqualTo(sum);
        }
    }

    @Test
    void equalValuesBeginOnce() {
        for (int size : new int[] {1, 2, 7, 100}) {
            Pages all = pages(90, 12, size, new SplittableRandom(size));
            RankRuns runs = new RankRuns(all);
            int last = 0;
            for (int rank = 0; rank < all.values().length; rank++) {
                boolean begins = rank == 0 || all.values()[rank] != all.values()[rank - 1];
                assertThat(runs.begins(rank))
                        .as("rank %s, pages of %s", rank, size)
                        .isEqualTo(begins);
                assertThat(runs.value(rank).get(0))
                        .isEqualTo(all.page(rank / size).get(rank % size));
                last = begins ? rank : last;
                assertThat(runs.begin(rank)).isEqualTo(last);
                assertThat(runs.next(last, 90)).isEqualTo(last);
            }
            assertThat(runs.begins(all.values().length)).isTrue();
            assertThat(runs.count()).isEqualTo(90);
        }
    }

    /** A value may have more ranks than are looked at for where it begins. */
    @Test
    void equalValuesMayBeMany() {
        long[] values = new long[20_000];
        Arrays.fill(values, 5, 14_000, 1);
        Arrays.fill(values, 14_000, 20_000, 2);
        RankRuns runs = new RankRuns(new Pages(values, 4096));
        assertThat(IntStream.of(0, 4, 5, 4096, 8191, 8192, 13_999, 14_000, 16_384, 19_999)
                        .map(runs::begin))
                .containsExactly(0, 0, 5, 5, 5, 5, 5, 14_000, 14_000, 14_000);
        assertThat(runs.next(6, 20_000)).isEqualTo(14_000);
        assertThat(runs.next(14_001, 20_000)).isEqualTo(20_000);
    }

    /** Frames of many different values and of values that come very often, against counting. */
    @ParameterizedTest
    @ValueSource(ints = {1, 2, 40, 5000})
    void theMostFrequentOfManyRanks(int different) {
        SplittableRandom random = new SplittableRandom(different);
        int rows = 3000;
        long[] came = random.longs(rows, 0, different).toArray();
        Integer[] byValue = IntStream.range(0, rows).boxed().toArray(Integer[]::new);
        Arrays.sort(byValue, Comparator.comparingLong(i -> came[i]));
        long[] ranks = new long[rows];
        long[] sorted = new long[rows];
        for (int r = 0; r < rows; r++) {
            ranks[byValue[r]] = r;
            sorted[r] = came[byValue[r]];
        }
        Column[] both = {new LongColumn(CENTS, came, rows, null), new LongColumn(Type.INTEGER, ranks, rows, null)};
        SlidingMode mode = new SlidingMode(new Pages(sorted, 100));
        mode.coming(both);
        mode.going(both);
        mode.own(both, rows);
        for (int row = 0; row < rows; row++) {
            mode.come(row);
            if (row >= 900) {
                mode.go(row - 900);
            }
            mode.look(row);
        }
        Column figures = mode.figures();
        for (int row = 0; row < rows; row += 7) {
            TreeMap<Long, Integer> counts = new TreeMap<>();
            for (int i = Math.max(0, row - 899); i <= row; i++) {
                counts.merge(came[i], 1, Integer::sum);
            }
            int most = Collections.max(counts.values());
            Long expected = counts.entrySet().stream()
                    .filter(e -> e.getValue() == most)
                    .findFirst()
                    .orElseThrow()
                    .getKey();
            assertThat(figures.get(row)).as("row %s", row).isEqualTo(BigDecimal.valueOf(expected, 2));
        }
    }

    @Test
    void whereThereIsNoValueThereIsNoRun() {
        RankRuns none = new RankRuns(new Pages(new long[0], 5));
        assertThat(none.count()).isZero();
        assertThat(none.next(0, 0)).isZero();
        assertThat(none.begins(0)).isTrue();
    }
}
