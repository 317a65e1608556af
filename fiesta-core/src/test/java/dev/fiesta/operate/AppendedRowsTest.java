package dev.fiesta.operate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.compute.Apply;
import dev.fiesta.problem.DataException;
import dev.fiesta.step.AppendStep;
import dev.fiesta.store.Rows;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.stream.LongStream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;

/** Rows below others are the same block by block and all together, whatever the tables call them and hold them as. */
class AppendedRowsTest {
    private static final AppendStep STEP = new AppendStep(
            List.of(),
            List.of(1, 0, -1),
            List.of(),
            List.of(Type.TEXT, Type.decimal(2), Type.DATE),
            new Apply.Place("clauses:1", "append others"));

    private static Rows rows(long from, long to, Type type, boolean textFirst) {
        Column numbers = Column.of(
                type, LongStream.range(from, to).mapToObj(n -> (Object) n).toList());
        Column texts = Column.of(
                Type.TEXT,
                LongStream.range(from, to)
                        .mapToObj(n -> (Object) ("text " + n % 7))
                        .toList());
        return new Rows((int) (to - from), textFirst ? new Column[] {texts, numbers} : new Column[] {numbers, texts});
    }

    private static AppendedRows appended(BitSet wanted, Rows... parts) {
        List<AppendedRows.Part> all = new ArrayList<>();
        for (int p = 0; p < parts.length; p++) {
            all.add(new AppendedRows.Part(parts[p], p == 1 ? List.of(0, 1, -1) : List.of(1, 0, -1)));
        }
        return new AppendedRows(all, STEP, wanted);
    }

    private static BitSet slots(int count) {
        BitSet slots = new BitSet();
        slots.set(0, count);
        return slots;
    }

    @Test
    void blockByBlockAndAllTogether() {
        AppendedRows all = appended(
                slots(3),
                rows(0, Rows.BLOCK + 5, Type.INTEGER, false),
                rows(50_000, 50_003, Type.INTEGER, true),
                rows(0, 0, Type.INTEGER, false),
                rows(60_000, 60_001, Type.INTEGER, false));
        assertThat(all.rows()).isEqualTo(Rows.BLOCK + 9);
        assertThat(all.blocks()).isEqualTo(5);
        assertThat(all.bytes()).isPositive();
        assertThat(LongStream.rangeClosed(0, 5).map(b -> all.start((int) b)).toArray())
                .containsExactly(0, Rows.BLOCK, Rows.BLOCK + 5, Rows.BLOCK + 8, Rows.BLOCK + 8, Rows.BLOCK + 9);
        List<@Nullable Object> each = new ArrayList<>();
        for (int b = 0; b < all.blocks(); b++) {
            Batch block = all.batch(b);
            assertThat(block.sequence()).isEqualTo(b);
            assertThat(all.start(b + 1) - all.start(b)).isEqualTo(block.size());
            for (int row = 0; row < block.size(); row++) {
                each.add(block.column(0).get(row));
                each.add(block.column(1).get(row));
                each.add(block.column(2).get(row));
            }
        }
        Rows joined = all.load();
        List<@Nullable Object> together = new ArrayList<>();
        for (int row = 0; row < joined.size(); row++) {
            for (int slot = 0; slot < 3; slot++) {
                together.add(joined.column(slot).get(row));
            }
        }
        assertThat(each).isEqualTo(together).contains(new java.math.BigDecimal("50002.00"), "text 6");
        assertThat(all.load()).isSameAs(joined);
    }

    @Test
    void someRowsOfABlock() {
        AppendedRows all = appended(slots(2), rows(0, 10, Type.INTEGER, false), rows(10, 20, Type.INTEGER, true));
        Batch some = all.batch(1).select(new int[] {0, 7}, 2);
        assertThat(some.column(1).get(1)).isEqualTo(new java.math.BigDecimal("17.00"));
        assertThat(some.column(0).get(0)).isEqualTo("text 3");
        assertThat(appended(slots(1), rows(0, 2, Type.INTEGER, false)).load().slots()[1])
                .isNull();
    }

    @Test
    void whatDoesNotFitIsTold() {
        long much = 9_007_199_254_740_993_00L;
        AppendedRows all = appended(slots(3), rows(much, much + 1, Type.INTEGER, false));
        assertThatThrownBy(all::load)
                .isInstanceOf(DataException.class)
                .hasMessageStartingWith("clauses:1: append others: 900719925474099300 does not fit a decimal(2).");
    }
}
