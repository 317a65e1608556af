package dev.fiesta.store;

import dev.fiesta.compute.FieldRef;
import dev.fiesta.compute.Kernel;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.OrderKey;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Order;
import dev.fiesta.walk.Parts;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Puts rows of a file in order: as many as fit into memory are sorted and written down as a run, then the runs are merged. */
public final class ExternalSort {
    /** Runs are sorted in this part of the memory, which then holds them twice and what the sort needs. */
    private static final int PART = 4;

    /** A run has so many blocks at least, so that many runs can be merged at once. */
    private static final int BLOCKS = 32;

    private final Memory memory;
    private final long wanted;
    private final SpilledRows from;
    private final List<OrderKey> keys;
    private final BitSet live;
    private final Notices notices;
    private final long most;
    private final int block;

    /**
     * @param live the slots that the result keeps
     * @param part a run may take this part of the memory
     */
    public ExternalSort(SpilledRows from, List<OrderKey> keys, BitSet live, Notices notices, Memory memory, int part) {
        this(from, keys, live, notices, memory, part, Long.MAX_VALUE);
    }

    private ExternalSort(
            SpilledRows from, List<OrderKey> keys, BitSet live, Notices notices, Memory memory, int part, long wanted) {
        this.wanted = wanted;
        this.from = from;
        this.keys = keys;
        this.live = live;
        this.notices = notices;
        this.memory = memory;
        this.most = Math.max(1, memory.limit() / part);
        this.block = memory.blockRows();
    }

    /** Rows of a file in order. */
    public static SpilledRows sorted(
            SpilledRows rows, List<OrderKey> keys, BitSet live, Notices notices, Memory memory) {
        return first(rows, keys, live, notices, memory, Long.MAX_VALUE);
    }

    /** The first so many rows of a file in order. */
    public static SpilledRows first(
            SpilledRows rows, List<OrderKey> keys, BitSet live, Notices notices, Memory memory, long wanted) {
        return new ExternalSort(rows, keys, live, notices, memory, PART, wanted).run();
    }

    /** Rows of a file in the order of the numbers that stand in a slot. */
    public static SpilledRows byNumber(SpilledRows rows, int slot, BitSet live, Memory memory) {
        return sorted(rows, numbered(slot), live, new Notices(), memory);
    }

    /** The order of the numbers that stand in a slot. */
    public static List<OrderKey> numbered(int slot) {
        return List.of(new OrderKey(new FieldRef(slot, Type.INTEGER), false));
    }

    /** Rows in order, wherever they stand. */
    public static Stored sorted(Stored rows, List<OrderKey> keys, BitSet live, Notices notices, Memory memory) {
        if (rows instanceof SpilledRows file) {
            return sorted(file, keys, live, notices, memory);
        }
        Rows held = rows.load();
        return held.take(Order.sort(Order.asTheyStand(held.size()), OrderKey.of(keys, held.batch(), notices)));
    }

    public SpilledRows run() {
        if (wanted >= from.rows() && isInOrder()) {
            return from.keep(live);
        }
        int width = Math.max(
                live.length(),
                IntStream.range(0, from.blocks())
                        .map(b -> from.block(b).slots().length)
                        .max()
                        .orElse(0));
        List<SpilledRows> runs = runs(width);
        if (runs.size() <= 1 || runs.stream().allMatch(r -> r.rows() == 0)) {
            return runs.isEmpty() ? from : runs.get(0).keep(live);
        }
        List<Integer> slots =
                IntStream.range(width, width + keys.size()).boxed().toList();
        boolean[] descending = new boolean[keys.size()];
        for (int k = 0; k < descending.length; k++) {
            descending[k] = keys.get(k).descending();
        }
        BitSet needed = (BitSet) live.clone();
        slots.forEach(needed::set);
        List<SpilledRows> few = Rounds.few(runs, SpilledRows::blockMemory, memory, some -> {
            int rows = some.get(0).block(0).rows();
            return merged(new Runs(some, slots, descending, needed), needed, rows);
        });
        return merged(new Runs(few, slots, descending, needed), live, block);
    }

    /** Whether the rows stand in order already, as those of groups by their keys; known soon where they do not. */
    private boolean isInOrder() {
        if (!keys.stream().allMatch(k -> k.key() instanceof FieldRef)) {
            return false; // what is worked out is counted, once
        }
        List<Kernel> kernels =
                keys.stream().map(k -> k.key().kernel(new Notices())).toList();
        List<Column> before = List.of();
        for (int b = 0; b < from.blocks(); b++) {
            Batch batch = from.batch(b);
            List<Column> now = kernels.stream().map(k -> k.eval(batch).flat()).toList();
            for (int i = 0; i < batch.size(); i++) {
                List<Column> last = i > 0 ? now : before;
                if (!last.isEmpty()
                        && isBehind(last, i > 0 ? i - 1 : last.get(0).size() - 1, now, i)) {
                    return false;
                }
            }
            before = batch.size() > 0 ? now : before;
        }
        return true;
    }

    private boolean isBehind(List<Column> a, int i, List<Column> b, int j) {
        for (int k = 0; k < keys.size(); k++) {
            int order = Runs.compare(a.get(k), i, b.get(k), j, keys.get(k).descending());
            if (order != 0) {
                return order > 0;
            }
        }
        return false;
    }

    /** Runs with the keys worked out, in slots behind the others. */
    private List<SpilledRows> runs(int width) {
        List<SpilledRows> runs = new ArrayList<>();
        List<Rows> waiting = new ArrayList<>();
        long bytes = 0;
        List<Kernel> kernels = keys.stream().map(k -> k.key().kernel(notices)).toList();
        for (int b = 0; b < from.blocks(); b++) {
            Batch batch = from.batch(b);
            SpilledRows.Block stored = from.block(b);
            @Nullable Column[] slots = new Column[width + keys.size()];
            live.stream().filter(s -> stored.slots()[s] != null).forEach(s -> slots[s] = batch.column(s));
            for (int k = 0; k < keys.size(); k++) {
                slots[width + k] = kernels.get(k).eval(batch).flat();
            }
            Rows rows = new Rows(batch.size(), slots);
            waiting.add(rows);
            bytes += rows.bytes();
            if (bytes > most) {
                runs.add(sorted(waiting, width));
                waiting.clear();
                bytes = 0;
            }
        }
        if (!waiting.isEmpty()) {
            runs.add(sorted(waiting, width));
        }
        return runs;
    }

    private SpilledRows sorted(List<Rows> waiting, int width) {
        Rows all = Rows.join(waiting);
        List<Order.Key> order = new ArrayList<>();
        for (int k = 0; k < keys.size(); k++) {
            order.add(new Order.Key(all.column(width + k), keys.get(k).descending()));
        }
        int[] rows = Order.first(Order.asTheyStand(all.size()), order, wanted, Parts.ONE);
        List<SpilledRows.Block> blocks = new ArrayList<>();
        int size = rowsOfBlock(all.bytes(), all.size());
        for (int start = 0; start < rows.length || start == 0; start += size) {
            int[] part = Arrays.copyOfRange(rows, start, Math.min(rows.length, start + size));
            blocks.add(SpilledRows.write(
                    from.scratch(), part.length, all.take(part).slots()));
        }
        return new SpilledRows(from.scratch(), blocks);
    }

    /** Rows of a block of a run, of which so many are held at once. */
    private int rowsOfBlock(long bytes, int rows) {
        return Math.min(block, (int) Math.max(1, most * rows / BLOCKS / Math.max(1, bytes)));
    }

    /**
     * @param kept the slots kept
     * @param block rows of a block
     */
    private SpilledRows merged(Runs runs, BitSet kept, int block) {
        List<SpilledRows.Block> blocks = new ArrayList<>();
        Rows[] origins = new Rows[block];
        int[] rows = new int[block];
        long left = wanted;
        while (!runs.isEmpty() && (left > 0 || blocks.isEmpty())) {
            int count = 0;
            for (; count < Math.min(block, left) && !runs.isEmpty(); runs.advance()) {
                origins[count] = runs.first().rows();
                rows[count++] = runs.first().row();
            }
            left -= count;
            blocks.add(SpilledRows.write(from.scratch(), count, gathered(origins, rows, count, kept)));
        }
        return new SpilledRows(from.scratch(), blocks);
    }

    private static @Nullable Column[] gathered(Rows[] origins, int[] rows, int count, BitSet kept) {
        @Nullable Column[] slots = new Column[kept.length()];
        Column[] parts = new Column[count];
        kept.stream().filter(s -> origins[0].slots()[s] != null).forEach(s -> {
            for (int i = 0; i < count; i++) {
                parts[i] = origins[i].column(s);
            }
            slots[s] = ColumnBuilder.of(parts[0].type(), parts, rows, count);
        });
        return slots;
    }
}
