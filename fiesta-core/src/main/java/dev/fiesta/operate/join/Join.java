package dev.fiesta.operate.join;

import dev.fiesta.compute.Types;
import dev.fiesta.gather.keys.GroupTable;
import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.problem.DataException;
import dev.fiesta.step.MatchStep;
import dev.fiesta.store.Rows;
import dev.fiesta.value.Column;
import dev.fiesta.value.Packing;
import dev.fiesta.value.Type;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.Arrays;
import java.util.BitSet;
import org.jspecify.annotations.Nullable;

/** One look-up, shared by all workers: the other table by key, and what is to be told once all rows are through. */
public final class Join {
    private final MatchStep step;
    private final Rows theirs;
    private @Nullable JoinBuild lookUp;
    private int most;
    private long count;
    private long firstOrder = Long.MAX_VALUE;
    private String first = "";

    /** @param theirs the other table; slots are its visible fields */
    public Join(MatchStep step, Rows theirs) {
        this.step = step;
        this.theirs = theirs;
    }

    MatchStep step() {
        return step;
    }

    Rows theirs() {
        return theirs;
    }

    /** The other table by key, laid out when it is first asked for. */
    synchronized JoinBuild lookUp(Type[] ours, Type ourDate) {
        JoinBuild known = lookUp;
        if (known == null) {
            known = new JoinBuild(step, theirs, ours, ourDate);
            lookUp = known;
        }
        return known;
    }

    /** How many rows become of one at most. */
    public synchronized int most() {
        if (most == 0) {
            most = step.multiplies() ? Math.max(1, most(step, theirs)) : 1;
        }
        return most;
    }

    /** How often a key stands in the other table at most. */
    static int most(MatchStep step, Rows theirs) {
        Column[] keys = theirs.columns(step.theirs());
        int[] counts = new int[theirs.size()];
        for (int number : GroupTable.numbers(keys, theirs.size())) {
            counts[number]++;
        }
        return Arrays.stream(counts).max().orElse(0);
    }

    /** Rows of ours without a match, the first of them with its place among all. */
    synchronized void missed(long order, String key, long times) {
        count += times;
        if (order < firstOrder) {
            firstOrder = order;
            first = key;
        }
    }

    /** Writes what is to be told of the rows without a match. */
    public synchronized void write(DataOutput out) throws IOException {
        out.writeLong(count);
        out.writeLong(firstOrder);
        Packing.text(out, first);
    }

    /** Adds what is to be told of rows that were looked up elsewhere. */
    public void read(DataInput in) throws IOException {
        long times = in.readLong();
        missed(in.readLong(), Packing.text(in), times);
    }

    /** Takes over what a part of the same look-up has to tell. */
    synchronized void add(Join part) {
        missed(part.firstOrder, part.first, part.count);
    }

    /** Tells of rows without a match where one is required. */
    public synchronized void refuse() {
        if (count > 0 && step.unmatched() == Unmatched.REQUIRED) {
            String other = step.table().shownName();
            throw new DataException(
                    "'" + step.place() + "': " + first + " has no match in '" + other + "'"
                            + (count == 1 ? ", the only such row" : "; " + count + " rows have none") + ".\n  "
                            + "Complete '" + other + "', or take 'required' away to let what is brought be missing.",
                    null,
                    0,
                    null,
                    first);
        }
    }

    /** Their rows that no row of ours has met. */
    int[] unmatched(BitSet matched) {
        BitSet left = new BitSet();
        left.set(0, theirs.size());
        left.andNot(matched);
        return left.stream().toArray();
    }

    /**
     * Their rows that no row of ours has met, with their keys and what is brought, to stand below ours.
     *
     * @param ours rows that have columns of the right types
     */
    Rows without(Rows ours, BitSet matched) {
        int[] extra = unmatched(matched);
        @Nullable Column[] slots = new Column[ours.slots().length];
        for (int s = 0; s < slots.length; s++) {
            Column column = ours.slots()[s];
            if (column == null) {
                continue;
            }
            int place = place(s);
            slots[s] = place >= 0
                    ? Types.widen(theirs.column(place).take(extra, extra.length), column.type())
                    : Column.missing(column.type(), extra.length);
        }
        return new Rows(extra.length, slots);
    }

    /** The slot of theirs that goes into one of ours; negative for none. */
    private int place(int slot) {
        int key = step.ours().indexOf(slot);
        if (key >= 0) {
            return step.theirs().get(key);
        }
        return slot == step.latestOurs()
                ? step.latestTheirs()
                : step.bring().stream()
                        .filter(b -> b.slot() == slot)
                        .mapToInt(MatchStep.Brought::theirs)
                        .findFirst()
                        .orElse(-1);
    }
}
