package dev.fiesta.total;

import dev.fiesta.operate.group.GroupStates;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.CrossNames;
import dev.fiesta.step.Step;
import dev.fiesta.step.TablePlan.AfterCrossing;
import dev.fiesta.step.TablePlan.Crossing;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Ordered;
import dev.fiesta.store.Rows;
import dev.fiesta.store.RowsBuilder;
import dev.fiesta.store.Runs;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Field;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Lays groups out as a cross-tabulation: some keys as rows, the others as columns, totals from the merged groups. Groups in a file are laid
 * out some rows at a time; they stand by their keys, so that those of a row are together.
 */
public final class CrossLayout {
    /** The groups of some rows that are laid out at once may take this part of the memory. */
    private static final int PART = 16;

    private final Crossing plan;
    private final Stored groups;
    private final @Nullable GroupStates states;
    private final Memory memory;
    private final CrossHeads heads;
    private final List<Field> fields = new ArrayList<>();
    private final List<Integer> slots = new ArrayList<>();

    public CrossLayout(Crossing plan, Stored groups, @Nullable GroupStates states, Notices notices, Memory memory) {
        this.plan = plan;
        this.states = states;
        this.memory = memory;
        this.groups = isLaidOutAtOnce(plan) ? groups.load() : groups;
        this.heads = new CrossHeads(plan, this.groups, notices, memory);
    }

    /** Totals of rows over wider groups, of several rows each, need all groups. */
    private static boolean isLaidOutAtOnce(Crossing plan) {
        return isTotalled(plan)
                && plan.recomputed().group().gathers().stream().anyMatch(g -> isOverRows(plan, g.wider()));
    }

    /** Whether rows need totals of their own: they are shown, or what is done since may look at them. */
    private static boolean isTotalled(Crossing plan) {
        return plan.totals() || !plan.after().steps().isEmpty();
    }

    private static boolean isOverRows(Crossing plan, int @Nullable [] wider) {
        return wider != null
                && wider.length < plan.rows()
                && Arrays.stream(wider).allMatch(k -> k < plan.rows());
    }

    private GroupStates states() {
        return Objects.requireNonNull(states);
    }

    /** Runs steps from one to before another over rows; it tells nothing of them. */
    @FunctionalInterface
    public interface Since {
        /** @param slots those needed all the while */
        Stored run(List<Step> steps, int first, int end, Stored rows, BitSet slots);
    }

    /** @param since runs what was done since */
    public Worked run(Since since) {
        AfterCrossing after = plan.after();
        List<Step> steps = after.steps();
        Stored laidOut = laidOut();
        BitSet needed = new BitSet();
        needed.set(0, heads.slots() + heads.asides());
        steps.forEach(s -> s.before(new BitSet()).stream().forEach(needed::set));
        after.slots().forEach(needed::set);
        Stored standing = Ordered.moved(since.run(steps, 0, after.standing(), laidOut, needed));
        Stored end = Ordered.moved(since.run(steps, after.standing(), steps.size(), standing, needed));
        Batch typed = end.batch(0);
        for (int i = 0; i < after.known(); i++) {
            add(after.names().get(i), after.slots().get(i), typed);
        }
        for (int c = 0; c < heads.cells() && !heads.isFixed(); c++) {
            add(heads.cellName(c), after.cells() + c, typed);
        }
        for (int f = 0; f < plan.figures().size() && plan.totals(); f++) {
            add(CrossNames.total(plan.figures(), f), plan.totalSlot(f), typed);
        }
        for (int i = after.known(); i < after.names().size(); i++) {
            add(after.names().get(i), after.slots().get(i), typed);
        }
        Totalling.TotalRows totals = plan.totals() ? totals(standing, Math.toIntExact(end.rows())) : null;
        return new Worked(new Schema(fields), shown(end), totals, hidden(end), Map.of(), Map.of(), 1);
    }

    private Stored shown(Stored end) {
        if (end instanceof SpilledRows file) {
            BitSet every = new BitSet();
            every.set(0, slots.size());
            return file.project(slots, every);
        }
        Rows rows = end.load();
        return new Rows(
                rows.size(), slots.stream().map(s -> rows.column(s).flat()).toArray(Column[]::new));
    }

    private void add(String name, int slot, Batch typed) {
        if (fields.stream().anyMatch(f -> f.name().equals(name))) {
            throw new DataException(
                    "'against' makes two columns named '" + name + "'. Rename one of the keys or values.");
        }
        fields.add(new Field(name, typed.column(slot).type()));
        slots.add(slot);
    }

    private Stored laidOut() {
        GroupStates totalled = isTotalled(plan) ? states() : null;
        if (!(groups instanceof SpilledRows file)) {
            return new CrossCells(plan, heads, heads.new Finder(), groups.load()).laidOut(totalled, 0);
        }
        BitSet every = new BitSet();
        every.set(0, file.block(0).slots().length);
        BitSet kept = new BitSet();
        kept.set(0, heads.slots() + heads.asides());
        RowsBuilder all = new RowsBuilder(memory, kept);
        CrossHeads.Finder finder = heads.new Finder();
        long rows = 0;
        Rows waiting = file.read(0, every).range(0, 0);
        for (int b = 0; b < file.blocks(); b++) {
            Workers.stopIfInterrupted();
            Rows both = waiting.size() == 0 ? file.read(b, every) : Rows.join(List.of(waiting, file.read(b, every)));
            boolean last = b == file.blocks() - 1;
            int behind = last ? both.size() : both.bytes() > memory.limit() / PART ? lastRow(both) : 0;
            if (behind > 0 || last) {
                CrossCells cells = new CrossCells(plan, heads, finder, both.range(0, behind));
                all.add(cells.laidOut(totalled, rows).batch());
                rows += cells.rows();
            }
            waiting = both.range(behind, both.size());
        }
        return all.finish();
    }

    /** Where the last row begins, of which more groups may come. */
    private int lastRow(Rows some) {
        List<Column> keys = IntStream.range(0, plan.rows())
                .mapToObj(k -> some.column(k).flat())
                .toList();
        int row = some.size() - 1;
        while (row > 0 && !Runs.differ(keys, row - 1, keys, row)) {
            row--;
        }
        return row;
    }

    /** The cells that are not shown, and those that would tell them by a total of their row or column. */
    private Map<String, BitSet> hidden(Stored end) {
        Map<String, BitSet> hidden = new LinkedHashMap<>();
        for (int f = 0; f < plan.figures().size(); f++) {
            if (plan.marks().get(f) < 0) {
                continue;
            }
            int figure = f;
            List<BitSet> bits = IntStream.range(0, heads.size())
                    .mapToObj(c -> Hiding.truths(end, heads.markSlot(c, figure)))
                    .toList();
            if (plan.totals()) {
                int[] figures = IntStream.range(0, heads.size())
                        .map(c -> heads.figureSlot(c, figure))
                        .toArray();
                Hiding.protect(end, figures, bits);
            }
            for (int c = 0; c < heads.size(); c++) {
                hidden.put(heads.cellName(c * plan.figures().size() + f), bits.get(c));
            }
        }
        return hidden;
    }

    /** The numbers that rows had when they were laid out. */
    private int[] numbers(Batch laidOut) {
        LongColumn numbers = (LongColumn) laidOut.column(plan.numberSlot()).flat();
        return Arrays.stream(numbers.values())
                .limit(laidOut.size())
                .mapToInt(n -> (int) n)
                .toArray();
    }

    /** The total row: the groups of the rows that stood where totals were asked for. */
    private Totalling.TotalRows totals(Stored standing, int after) {
        BitSet stand = new BitSet();
        for (int b = 0; b < standing.blocks(); b++) {
            Arrays.stream(numbers(standing.batch(b))).forEach(stand::set);
        }
        return new CrossTotals(plan, heads, groups, states(), stand).row(fields, slots, after);
    }
}
