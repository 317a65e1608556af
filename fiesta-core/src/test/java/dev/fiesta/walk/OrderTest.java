package dev.fiesta.walk;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.gather.values.Image;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

/** Sorting by digits and numbering groups, held to the sorting and the maps of the JDK. */
class OrderTest {
    private static final List<Type> TYPES =
            List.of(Type.INTEGER, Type.decimal(2), Type.REAL, Type.TEXT, Type.TRUTH, Type.DATE);

    private static List<Object> values(Type type, int count, SplittableRandom random) {
        List<Object> values = new ArrayList<>();
        boolean wide = random.nextBoolean();
        for (int i = 0; i < count; i++) {
            long n = wide ? random.nextLong() >> random.nextInt(4, 60) : random.nextInt(-5, 6);
            values.add(
                    random.nextInt(6) == 0
                            ? null
                            : switch (type.kind()) {
                                case INTEGER -> n;
                                case DECIMAL -> BigDecimal.valueOf(n % 100_000_000_000L, 2);
                                case REAL -> n * 0.37;
                                case TEXT -> (n % 2 == 0 ? "é" : "\uD83C\uDFAA") + n % 100;
                                case DATE -> java.time.LocalDate.ofEpochDay(n % 50_000);
                                default -> n > 0;
                            });
        }
        return values;
    }

    @SuppressWarnings("unchecked")
    private static int compare(Object a, Object b, boolean descending) {
        if (a == null || b == null) {
            return a == null ? (b == null ? 0 : 1) : -1;
        }
        int sign = a instanceof String x && b instanceof String y
                ? Arrays.compare(x.codePoints().toArray(), y.codePoints().toArray())
                : ((Comparable<Object>) a).compareTo(b);
        return descending ? -sign : sign;
    }

    @Test
    void rowsStandAsAStableSortPutsThem() {
        for (long seed = 0; seed < 400; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            int size = random.nextInt(300);
            int keys = 1 + random.nextInt(3);
            List<List<Object>> values = new ArrayList<>();
            List<Order.Key> order = new ArrayList<>();
            Comparator<Integer> expected = (a, b) -> 0;
            for (int k = 0; k < keys; k++) {
                Type type = TYPES.get(random.nextInt(TYPES.size()));
                boolean descending = random.nextBoolean();
                List<Object> own = values(type, size, random);
                values.add(own);
                order.add(new Order.Key(Column.of(type, own), descending));
                expected = expected.thenComparing((a, b) -> compare(own.get(a), own.get(b), descending));
            }
            Integer[] rows = new Integer[size];
            Arrays.setAll(rows, i -> i);
            Arrays.sort(rows, expected);
            int[] sorted = Order.sort(Order.asTheyStand(size), order);
            assertThat(sorted)
                    .as("seed %s", seed)
                    .containsExactly(
                            Arrays.stream(rows).mapToInt(Integer::intValue).toArray());
        }
    }

    /** Parts move their rows in any order of the parts, and rows that stand level keep their order all the same. */
    @Test
    void partsMakeNoDifference() {
        Parts backwards = new Parts() {
            @Override
            public int count() {
                return 5;
            }

            @Override
            public void each(java.util.function.IntConsumer job) {
                for (int part = 4; part >= 0; part--) {
                    job.accept(part);
                }
            }
        };
        java.util.SplittableRandom random = new java.util.SplittableRandom(3);
        int size = 20_003;
        long[] wide = new long[size];
        long[] narrow = new long[size];
        for (int i = 0; i < size; i++) {
            wide[i] = random.nextLong();
            narrow[i] = random.nextInt(7);
        }
        Order.Key first = new Order.Key(new dev.fiesta.value.LongColumn(Type.INTEGER, narrow, size, null), true);
        Order.Key second = new Order.Key(new dev.fiesta.value.LongColumn(Type.INTEGER, wide, size, null), false);
        for (List<Order.Key> keys :
                List.of(List.of(first), List.of(second), List.of(first, second), List.of(second, first, second))) {
            assertThat(Order.sort(Order.asTheyStand(size), keys, backwards))
                    .isEqualTo(Order.sort(Order.asTheyStand(size), keys));
        }
    }

    /** Choosing before sorting gives what sorting before choosing gives, for any keys and number of rows. */
    @Test
    void theFirstRowsNeedNoOrderOfTheOthers() {
        for (long seed = 0; seed < 300; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            int size = random.nextInt(400);
            List<Order.Key> keys = new ArrayList<>();
            for (int k = 0; k <= random.nextInt(2); k++) {
                Type type = TYPES.get(random.nextInt(TYPES.size()));
                keys.add(new Order.Key(Column.of(type, values(type, size, random)), random.nextBoolean()));
            }
            int[] sorted = Order.sort(Order.asTheyStand(size), keys);
            int wanted = random.nextInt(size + 10);
            assertThat(Order.first(Order.asTheyStand(size), keys, wanted / (1 + random.nextInt(20)), Parts.ONE))
                    .as("seed %s", seed)
                    .satisfies(first -> assertThat(first).isEqualTo(Arrays.copyOf(sorted, first.length)));
            assertThat(Order.first(Order.asTheyStand(size), keys, wanted, Parts.ONE))
                    .isEqualTo(Arrays.copyOf(sorted, Math.min(size, wanted)));
        }
    }

    @Test
    void valuesAtTheEdgesOfTheirTypesAreSorted() {
        Column column = Column.of(Type.INTEGER, Arrays.asList(0L, Long.MAX_VALUE, Long.MIN_VALUE, -1L, 1L));
        assertThat(Order.sort(Order.asTheyStand(5), List.of(new Order.Key(column, false))))
                .containsExactly(2, 3, 0, 4, 1);
        assertThat(Order.sort(Order.asTheyStand(5), List.of(new Order.Key(column, true))))
                .containsExactly(1, 4, 0, 3, 2);
        Column numbers = Column.of(Type.REAL, Arrays.asList(1e308, -1e308, 5e-324, null, 0.0, -5e-324));
        assertThat(Order.sort(Order.asTheyStand(6), List.of(new Order.Key(numbers, false))))
                .containsExactly(1, 5, 4, 2, 0, 3);
    }

    @Test
    void groupsAreNumberedAsTheyAreMet() {
        for (long seed = 0; seed < 300; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            int keys = random.nextInt(4);
            List<Type> types = new ArrayList<>();
            for (int k = 0; k < keys; k++) {
                types.add(TYPES.get(random.nextInt(TYPES.size())));
            }
            GroupTable table = new GroupTable(types.stream().map(Image::new).toArray(Image[]::new));
            Map<List<Object>, Integer> expected = new HashMap<>();
            List<List<Object>> inOrder = new ArrayList<>();
            for (int batch = 0; batch < 4; batch++) {
                int size = random.nextInt(120);
                List<List<Object>> columns = new ArrayList<>();
                types.forEach(t -> columns.add(values(t, size, random)));
                Column[] given = new Column[keys];
                for (int k = 0; k < keys; k++) {
                    given[k] = Column.of(types.get(k), columns.get(k));
                }
                int[] numbers = new int[size];
                table.number(given, size, numbers);
                for (int row = 0; row < size; row++) {
                    List<Object> key = new ArrayList<>();
                    for (List<Object> column : columns) {
                        key.add(column.get(row));
                    }
                    if (!expected.containsKey(key)) {
                        expected.put(key, expected.size());
                        inOrder.add(key);
                    }
                    assertThat(numbers[row]).as("seed %s", seed).isEqualTo(expected.get(key));
                }
            }
            assertThat(table.size()).isEqualTo(expected.size());
            Column[] found = table.keys();
            for (int number = 0; number < inOrder.size(); number++) {
                for (int k = 0; k < keys; k++) {
                    assertThat(found[k].get(number))
                            .isEqualTo(inOrder.get(number).get(k));
                }
            }
        }
    }
}
