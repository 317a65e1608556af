package dev.fiesta.engine;

import dev.fiesta.compute.Expression;
import dev.fiesta.compute.Types;
import dev.fiesta.gather.GroupTable;
import dev.fiesta.gather.Image;
import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.AppendStep;
import dev.fiesta.step.DistinctStep;
import dev.fiesta.step.FirstsStep;
import dev.fiesta.step.MatchStep;
import dev.fiesta.step.SampleStep;
import dev.fiesta.step.SortStep;
import dev.fiesta.step.Step;
import dev.fiesta.step.TurnStep;
import dev.fiesta.step.WalksStep;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Order;
import dev.fiesta.walk.Parts;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Runs steps over all rows of a table at once. */
final class RowsRunner {
    private static final int TURNED_AT_ONCE = 1 << 13;

    private final Others others;
    private final Notices notices;
    private final Memory memory;
    private final int threads;
    private final Rows rows;
    private BitSet after = new BitSet();

    /** @param others the rows of another table, by visible field */
    RowsRunner(Rows rows, Others others, Notices notices, Memory memory, int threads) {
        this.memory = memory;
        this.threads = threads;
        this.rows = rows;
        this.others = others;
        this.notices = notices;
    }

    /** @param needed the slots needed behind the step */
    Stored run(Step step, BitSet needed) {
        after = needed;
        if (step instanceof WalksStep walks) {
            return new Windows(rows, notices, threads).run(walks);
        }
        if (step instanceof SortStep sort) {
            return sort(sort);
        }
        if (step instanceof DistinctStep distinct) {
            return distinct(distinct);
        }
        if (step instanceof SampleStep sample) {
            return new Sampling(sample, rows, notices).run();
        }
        if (step instanceof MatchStep match) {
            return match(match);
        }
        if (step instanceof AppendStep append) {
            return append(append);
        }
        if (step instanceof TurnStep turn) {
            return turn(turn);
        }
        if (step instanceof FirstsStep firsts) {
            return new TopN(firsts, rows, notices).run();
        }
        throw new IllegalStateException(step.word() + " works batch by batch, or over rows wherever they stand");
    }

    static GroupTable table(Column[] keys) {
        return new GroupTable(Arrays.stream(keys).map(k -> new Image(k.type())).toArray(Image[]::new));
    }

    static Column[] evaluated(List<Expression> expressions, Batch batch, Notices notices) {
        return expressions.stream().map(e -> e.kernel(notices).eval(batch)).toArray(Column[]::new);
    }

    /** The number of the combination of keys of each row. */
    static int[] numbers(Column[] keys, int size) {
        int[] numbers = new int[size];
        table(keys).number(keys, size, numbers);
        return numbers;
    }

    private Ordered sort(SortStep step) {
        Batch batch = rows.batch();
        List<Order.Key> keys = step.keys().stream()
                .map(k -> new Order.Key(k.key().kernel(notices).eval(batch), k.descending()))
                .toList();
        int[] order =
                Order.first(Order.asTheyStand(rows.size()), keys, step.most(), Workers.parts(threads, rows.size()));
        return new Ordered(rows, order, threads);
    }

    private Rows distinct(DistinctStep step) {
        Column[] keys = rows.columns(step.slots());
        Parts parts = Workers.parts(threads, rows.size());
        int[][] firsts = new int[parts.count()][];
        parts.each(p -> {
            int from = parts.start(p, rows.size());
            int count = parts.start(p + 1, rows.size()) - from;
            Column[] own = Arrays.stream(keys).map(k -> k.range(from, count)).toArray(Column[]::new);
            firsts[p] = Arrays.stream(firsts(parts.count() == 1 ? keys : own, count))
                    .map(row -> from + row)
                    .toArray();
        });
        if (parts.count() == 1) {
            return rows.take(firsts[0], threads);
        }
        int[] candidates = Arrays.stream(firsts).flatMapToInt(Arrays::stream).toArray();
        Column[] left = Arrays.stream(keys)
                .map(k -> k.take(candidates, candidates.length))
                .toArray(Column[]::new);
        int[] chosen = firsts(left, candidates.length);
        return rows.take(Arrays.stream(chosen).map(c -> candidates[c]).toArray(), threads);
    }

    /** The rows whose keys no row before them has. */
    private static int[] firsts(Column[] keys, int size) {
        int[] numbers = numbers(keys, size);
        int[] first = new int[size];
        int count = 0;
        for (int i = 0; i < size; i++) {
            if (numbers[i] == count) { // numbers are given in the order in which keys are met
                first[count++] = i;
            }
        }
        return Arrays.copyOf(first, count);
    }

    private Stored match(MatchStep step) {
        Rows theirs = others.rows(step.table());
        Join matching = new Join(step, theirs);
        JoinStage stage = new JoinStage(matching, notices, threads);
        RowsBuilder matched = new RowsBuilder(memory, after);
        stage.each(rows.batch(), matched::add);
        matching.refuse();
        Stored ours = matched.finish();
        if (step.unmatched() == Unmatched.ALSO_UNMATCHED) {
            ours = SpilledRows.join(
                    memory, ours, without(step, SpilledRows.first(ours, after), theirs, stage.matched()));
        }
        return ours;
    }

    /** Their rows without ours, with their keys and what is brought, to stand below ours. */
    static Rows without(MatchStep step, Rows ours, Rows theirs, BitSet matched) {
        int[] extra = unmatched(theirs, matched);
        @Nullable Column[] slots = new Column[ours.slots().length];
        for (int s = 0; s < slots.length; s++) {
            Column column = ours.slots()[s];
            if (column == null) {
                continue;
            }
            int key = step.ours().indexOf(s);
            int place =
                    key >= 0 ? step.theirs().get(key) : s == step.latestOurs() ? step.latestTheirs() : brought(step, s);
            slots[s] = place >= 0
                    ? Types.widen(theirs.column(place).take(extra, extra.length), column.type())
                    : Column.missing(column.type(), extra.length);
        }
        return new Rows(extra.length, slots);
    }

    /** Their rows that no row of ours has met. */
    static int[] unmatched(Rows theirs, BitSet matched) {
        BitSet left = new BitSet();
        left.set(0, theirs.size());
        left.andNot(matched);
        return left.stream().toArray();
    }

    private static int brought(MatchStep step, int slot) {
        return step.bring().stream()
                .filter(b -> b.slot() == slot)
                .mapToInt(MatchStep.Brought::theirs)
                .findFirst()
                .orElse(-1);
    }

    private Rows append(AppendStep step) {
        int width = step.types().size();
        @Nullable Column[] slots = new Column[width];
        List<Rows> tables = step.tables().stream().map(others::rows).toList();
        int size = rows.size() + tables.stream().mapToInt(Rows::size).sum();
        for (int f = 0; f < width; f++) {
            if (!after.get(f)) {
                continue;
            }
            Type type = step.types().get(f);
            List<Column> parts = new ArrayList<>();
            parts.add(part(rows, step.ours().get(f), type));
            for (int t = 0; t < tables.size(); t++) {
                parts.add(part(tables.get(t), step.theirs().get(t).get(f), type));
            }
            slots[f] = Column.join(type, parts);
        }
        return new Rows(size, slots);
    }

    private static Column part(Rows from, int slot, Type type) {
        return slot < 0 ? Column.missing(type, from.size()) : Types.widen(from.column(slot), type);
    }

    private Stored turn(TurnStep step) {
        RowsBuilder all = new RowsBuilder(memory, after);
        for (int start = 0; start < rows.size() || start == 0; start += TURNED_AT_ONCE) {
            all.add(turned(rows.range(start, Math.min(rows.size(), start + TURNED_AT_ONCE)), step, after)
                    .batch());
        }
        return all.finish();
    }

    /** Rows turned, each of them into as many as there are columns. */
    static Rows turned(Rows rows, TurnStep step, BitSet after) {
        int times = step.slots().size();
        int size = Math.multiplyExact(rows.size(), times);
        int[] origin = new int[size];
        int[] which = new int[size];
        int[] pick = new int[size];
        for (int i = 0; i < size; i++) {
            origin[i] = i / times;
            which[i] = i % times;
            pick[i] = which[i] * rows.size() + origin[i];
        }
        int kept = step.kept().size();
        @Nullable Column[] slots = new Column[kept + 2];
        for (int k = 0; k < kept; k++) {
            slots[k] = after.get(k) ? rows.column(step.kept().get(k)).take(origin, size) : null;
        }
        slots[kept] = Column.of(Type.TEXT, step.names()).take(which, size);
        if (after.get(kept + 1)) {
            List<Column> parts =
                    step.slots().stream().map(s -> part(rows, s, step.type())).toList();
            slots[kept + 1] = Column.join(step.type(), parts).take(pick, size);
        }
        return new Rows(size, slots);
    }
}
