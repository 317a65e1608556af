package dev.fiesta.gather.keys;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.gather.values.Image;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Validity;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Test;

/** Numbers of keys, batch by batch, held to a map: near values, far ones, those that wander, texts, missing, worked-out keys. */
class GroupTableTest {
    /** Batches whose values lie near each other, then elsewhere, then far apart, with some strangers and missing rows. */
    private static LongColumn wandering(int rows, SplittableRandom random) {
        long middle = random.nextInt(4) == 0 ? random.nextLong() : random.nextLong(-20_000, 20_000);
        int spread = random.nextInt(4) == 0 ? 1 << 20 : random.nextInt(1, 3_000);
        int strangers = random.nextInt(1, 60);
        long[] values = new long[rows];
        long[] valid = null;
        for (int i = 0; i < rows; i++) {
            boolean stranger = random.nextInt(strangers + 1) == 0;
            values[i] = stranger ? random.nextLong() : middle + random.nextInt(spread);
            if (spread % 3 == 0 && random.nextInt(9) == 0) {
                valid = Validity.without(valid, rows, i);
            }
        }
        return new LongColumn(Type.INTEGER, values, rows, valid);
    }

    private static Column texts(int rows, SplittableRandom random) {
        List<Object> values = new ArrayList<>();
        int different = random.nextInt(1, 200);
        for (int i = 0; i < rows; i++) {
            values.add(random.nextInt(8) == 0 ? null : "item " + random.nextInt(different));
        }
        return Column.of(Type.TEXT, values);
    }

    /** A function of a field: its last digit, the length of a text; missing becomes -1. */
    private static Column digits(Column field) {
        long[] values = new long[field.size()];
        for (int i = 0; i < values.length; i++) {
            Object value = field.get(i);
            values[i] = value == null ? -1 : value instanceof Long n ? Math.floorMod(n, 10) : ((String) value).length();
        }
        return new LongColumn(Type.INTEGER, values, values.length, null);
    }

    @Test
    void everyCombinationHasOneNumberWhateverTheWayItIsLookedUp() {
        for (long seed = 0; seed < 150; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            boolean textFirst = random.nextBoolean();
            boolean workedOut = random.nextBoolean();
            GroupTable table = new GroupTable(new Image(textFirst ? Type.TEXT : Type.INTEGER), new Image(Type.INTEGER));
            List<UnaryOperator<Column>> derived = new ArrayList<>(Collections.nCopies(2, null));
            if (workedOut) {
                derived.set(1, GroupTableTest::digits);
            }
            Map<List<Object>, Integer> expected = new HashMap<>();
            for (int batch = 0; batch < 12; batch++) {
                int rows = random.nextInt(0, 500);
                Column first = textFirst ? texts(rows, random) : wandering(rows, random);
                Column second = workedOut && seed % 4 == 0 ? texts(rows, random) : wandering(rows, random);
                int[] numbers = new int[rows];
                table.number(new Column[] {first, second}, derived, rows, numbers);
                Column seen = workedOut ? digits(second) : second;
                for (int i = 0; i < rows; i++) {
                    List<Object> key = new ArrayList<>(List.of(String.valueOf(first.get(i))));
                    key.add(seen.get(i));
                    Integer known = expected.putIfAbsent(key, numbers[i]);
                    assertThat(numbers[i]).as("seed %s row %s", seed, i).isEqualTo(known == null ? numbers[i] : known);
                }
            }
            assertThat(table.size()).as("seed %s", seed).isEqualTo(expected.size());
            Column[] keys = table.keys();
            expected.forEach((key, number) -> {
                assertThat(String.valueOf(keys[0].get(number))).isEqualTo(key.get(0));
                assertThat(keys[1].get(number)).isEqualTo(key.get(1));
            });
        }
    }
}
