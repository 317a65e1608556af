package dev.fiesta.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.compute.FieldRef;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.OrderKey;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Rows in the file of a run are those that stood in memory, whatever is done with them. */
class StoredRowsTest {
    private static final int KEY = 0;
    private static final int TEXT = 1;
    private static final int NUMBER = 2;

    private final Memory memory = new Memory(20_000);

    @AfterEach
    void leavesNothing() {
        memory.discard();
        assertThat(memory.spilled()).isZero();
    }

    /** Rows with few keys, texts some of which are missing, and their numbers. */
    private static Rows rows(int size) {
        SplittableRandom random = new SplittableRandom(size);
        long[] keys = random.longs(size, 0, 6).toArray();
        List<@Nullable Object> texts = new ArrayList<>();
        for (int i = 0; i < size; i++) {
            texts.add(random.nextInt(5) == 0 ? null : "item " + random.nextInt(9));
        }
        long[] numbers = IntStream.range(0, size).asLongStream().toArray();
        return new Rows(size, new Column[] {
            new LongColumn(Type.INTEGER, keys, size, null),
            Column.of(Type.TEXT, texts),
            new LongColumn(Type.INTEGER, numbers, size, null)
        });
    }

    private static BitSet all() {
        BitSet all = new BitSet();
        all.set(KEY, NUMBER + 1);
        return all;
    }

    private static List<List<@Nullable Object>> cells(Stored rows) {
        Rows held = rows.load();
        List<List<@Nullable Object>> cells = new ArrayList<>();
        for (int i = 0; i < held.size(); i++) {
            List<@Nullable Object> row = new ArrayList<>();
            for (Column column : held.slots()) {
                row.add(column == null ? "nobody's" : column.get(i));
            }
            cells.add(row);
        }
        return cells;
    }

    private static OrderKey by(int slot, Type type, boolean descending) {
        return new OrderKey(new FieldRef(slot, type), descending);
    }

    @ParameterizedTest
    @ValueSource(ints = {0, 1, 3, 4, 5, 100, 1000})
    void whatIsWrittenIsReadBack(int size) {
        Rows held = rows(size);
        SpilledRows file = SpilledRows.of(memory, held);
        assertThat(file.rows()).isEqualTo(size);
        assertThat(file.start(file.blocks())).isEqualTo(size);
        assertThat(cells(file)).isEqualTo(cells(held));
        assertThat(SpilledRows.in(memory, file)).isSameAs(file);
        assertThat(cells(SpilledRows.in(memory, held))).isEqualTo(cells(held));
        assertThat(cells(file.first(3, all()))).isEqualTo(cells(held.range(0, Math.min(3, size))));
        assertThat(cells(file.with(file))).hasSize(2 * size);
        assertThat(cells(SpilledRows.join(memory, file, held))).isEqualTo(cells(SpilledRows.join(memory, held, held)));
    }

    @ParameterizedTest
    @ValueSource(ints = {0, 1, 7, 500, 3000})
    void aSortInTheFileIsTheOneInMemory(int size) {
        Rows held = rows(size);
        List<OrderKey> keys = List.of(by(KEY, Type.INTEGER, true), by(TEXT, Type.TEXT, false));
        Stored expected = ExternalSort.sorted((Stored) held, keys, all(), new Notices(), memory);
        SpilledRows file = SpilledRows.of(memory, held);
        Stored sorted = ExternalSort.sorted((Stored) file, keys, all(), new Notices(), memory);
        assertThat(sorted).isInstanceOf(SpilledRows.class);
        assertThat(cells(sorted)).as("level rows stand as they stood").isEqualTo(cells(expected));
        SpilledRows first = ExternalSort.first(file, keys, all(), new Notices(), memory, 5);
        assertThat(cells(first)).isEqualTo(cells(expected.load().range(0, Math.min(5, size))));
        assertThat(cells(ExternalSort.byNumber((SpilledRows) sorted, NUMBER, all(), memory)))
                .isEqualTo(cells(held));
    }

    @Test
    void rowsArePickedAndDroppedBlockByBlock() {
        Rows held = rows(900);
        SpilledRows file = SpilledRows.of(memory, held);
        long[] keys = ((LongColumn) held.column(KEY)).values();
        int[] wanted = IntStream.range(0, 900).filter(i -> keys[i] == 2).toArray();
        SpilledRows picked = file.picked(all(), block -> row -> ((LongColumn) block.column(KEY)).values()[row] == 2);
        assertThat(cells(picked)).isEqualTo(cells(held.take(wanted)));
        SpilledRows left = file.each(StoredRowsTest::odd, all());
        assertThat(cells(left))
                .hasSize((int) Arrays.stream(keys).filter(k -> k % 2 == 1).count());
        assertThat(cells(file.each(batch -> batch.head(0), all()))).isEmpty();
        SpilledRows same = file.each(batch -> batch, all());
        assertThat(same.block(0).slots()[TEXT])
                .as("columns that stay are not written again")
                .isSameAs(file.block(0).slots()[TEXT]);
    }

    private static Batch odd(Batch batch) {
        long[] keys = ((LongColumn) batch.column(KEY).flat()).values();
        int[] odd =
                IntStream.range(0, batch.size()).filter(i -> keys[i] % 2 == 1).toArray();
        return batch.select(odd, odd.length);
    }

    @Test
    void columnsStandBesideThoseOfOtherBlocks() {
        Rows held = rows(700);
        SpilledRows file = SpilledRows.of(memory, held);
        SpilledRows other = SpilledRows.of(new Memory(90_000), held);
        assertThat(other.blocks()).isLessThan(file.blocks());
        BitSet keyOnly = new BitSet();
        keyOnly.set(KEY);
        SpilledRows beside = file.keep(keyOnly).beside(SpilledRows.of(memory, held.range(0, 700)), Map.of(TEXT, 1));
        assertThat(beside.load().column(1).get(13)).isEqualTo(held.column(TEXT).get(13));
        SpilledRows numbered = file.numbered(keyOnly, 4);
        assertThat(numbered.load().column(4).get(699)).isEqualTo(699L);
        assertThat(numbered.load().slots()[TEXT]).isNull();
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 100, 2000})
    void partitionsHaveTheirSizes(int size) {
        SpilledRows sorted = ExternalSort.sorted(
                SpilledRows.of(memory, rows(size)),
                List.of(by(KEY, Type.INTEGER, false)),
                all(),
                new Notices(),
                memory);
        long[] keys = ((LongColumn) sorted.load().column(KEY)).values();
        PartitionSizes sizes = new PartitionSizes(sorted, all(), block -> List.of(block.column(KEY)));
        long met = 0;
        for (long next = sizes.next(); next > 0; next = sizes.next()) {
            long key = keys[(int) met];
            assertThat(next).isEqualTo(Arrays.stream(keys).filter(k -> k == key).count());
            met += next;
        }
        assertThat(met).isEqualTo(size);
        assertThat(sizes.next()).isZero();
    }

    @Test
    void rowsInAnOrderOfTheirOwnAreMovedOnce() {
        Rows held = rows(20_000);
        int[] order = IntStream.range(0, 20_000).map(i -> 19_999 - i).toArray();
        Ordered ordered = new Ordered(held, order, 2);
        assertThat(ordered.rows()).isEqualTo(20_000);
        assertThat(ordered.batch(1).column(NUMBER).get(5)).isEqualTo(19_999L - Rows.BLOCK - 5);
        assertThat(ordered.start(ordered.blocks())).isEqualTo(20_000);
        Rows moved = ordered.load();
        assertThat(moved.column(NUMBER).get(0)).isEqualTo(19_999L);
        assertThat(ordered.load()).isSameAs(moved);
        assertThat(Ordered.moved(ordered)).isSameAs(moved);
        assertThat(Ordered.moved(held)).isSameAs(held);
        assertThat(ordered.batch(1).column(NUMBER).get(5)).isEqualTo(19_999L - Rows.BLOCK - 5);
    }

    @Test
    void aBuilderWritesWhatDoesNotFit() {
        Rows held = rows(3000);
        RowsBuilder scarce = new RowsBuilder(memory, all());
        RowsBuilder plenty = new RowsBuilder(new Memory(1L << 30), all());
        for (int start = 0; start < 3000; start += 100) {
            scarce.add(held.range(start, start + 100).batch());
            plenty.add(held.range(start, start + 100).batch());
        }
        Stored inFile = scarce.finish();
        Stored inMemory = plenty.finish();
        assertThat(inFile).isInstanceOf(SpilledRows.class);
        assertThat(inMemory).isInstanceOf(Rows.class);
        assertThat(cells(inFile)).isEqualTo(cells(held)).isEqualTo(cells(inMemory));
        assertThat(memory.spilled()).isPositive();
    }

    @Test
    void whoeverIsAskedToStopStops() {
        SpilledRows file = SpilledRows.of(memory, rows(100));
        Thread.currentThread().interrupt();
        try {
            assertThatThrownBy(() -> file.each(batch -> batch, all())).isInstanceOf(Interrupted.class);
        } finally {
            assertThat(Thread.interrupted()).isTrue();
        }
    }
}
