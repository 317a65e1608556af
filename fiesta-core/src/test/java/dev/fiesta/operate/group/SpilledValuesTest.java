package dev.fiesta.operate.group;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.store.Memory;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** Values in runs, of which groups are left out when they are merged into others. */
class SpilledValuesTest {
    private final Memory memory = new Memory(1 << 20);

    @AfterEach
    void discard() {
        memory.discard();
    }

    private static LongColumn values(long... values) {
        return new LongColumn(Type.INTEGER, values, values.length, null);
    }

    @Test
    void aValueIsAnotherOneAlsoWhereItsFirstGroupIsLeftOut() {
        SpilledValues shelf = new SpilledValues(memory);
        shelf.put(values(7, 7, 8, 9, 9), new int[] {0, 1, 0, 0, 1});
        shelf.put(values(7, 9, 10), new int[] {1, 1, 0});
        SpilledValues merged = new SpilledValues(memory);
        merged.adopt(shelf, new int[] {-1, 0});
        List<String> seen = new ArrayList<>();
        merged.inOrder((group, column, row, other) ->
                seen.add(group + " " + ((LongColumn) column).values()[row] + (other ? " new" : "")));
        assertThat(seen).containsExactly("0 7 new", "0 7", "0 9 new", "0 9");
    }
}
