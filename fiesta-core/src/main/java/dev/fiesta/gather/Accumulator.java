package dev.fiesta.gather;

import dev.fiesta.gather.values.Shelf;
import dev.fiesta.value.Column;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.List;
import java.util.function.Supplier;

/**
 * A figure while it is being gathered, for all groups at once: arrays indexed by group number. What it holds is exact, so
 * that merging in any order gives the same result. Belongs to one worker at a time.
 */
public interface Accumulator {
    /** Makes room for groups 0 to {@code groups - 1}. */
    void grow(int groups);

    /**
     * Takes rows in.
     *
     * @param groups the group of each row
     * @param args the arguments, none of them constant
     * @param rows how many rows
     * @param order the place of the first row among all rows; the others follow
     */
    void add(int[] groups, Column[] args, int rows, long order);

    /**
     * Takes in what another accumulator of the same function has gathered.
     *
     * @param into for each group of the other, the group here; negative for groups that are left out
     */
    void merge(Accumulator other, int[] into);

    /** Whether this figure can be told from what another one gathers from the same values. */
    default boolean mayView(Accumulator other) {
        return false;
    }

    /** This figure as a view of another: it gathers, merges and writes nothing itself. */
    default Accumulator view(Accumulator other) {
        throw new IllegalArgumentException("one shows nothing of the other");
    }

    /** Whether it only shows what another one gathers. */
    default boolean isView() {
        return false;
    }

    /** What gathers the values that it shows: itself, where it is no view. */
    default Accumulator gathering() {
        return this;
    }

    /** The figures of groups 0 to {@code groups - 1}. */
    Column finish(int groups);

    /** About the memory that it takes, in bytes. */
    long memory();

    /** What some take together. */
    static long memory(List<Accumulator> accumulators) {
        long sum = 0;
        for (int i = 0; i < accumulators.size(); i++) { // asked for each group of a merge
            sum += accumulators.get(i).memory();
        }
        return sum;
    }

    /**
     * Gives memory back where it holds many values, if it can. What it has put away can be merged and finished, but its state can no
     * longer be written.
     */
    default void putAway(Supplier<Shelf> shelves) {}

    /** Whether it is one that can put values away. */
    default boolean putsAway() {
        return false;
    }

    /** Writes the state of a group. */
    void write(int group, DataOutput out) throws IOException;

    /** Adds a state that was written to a group. */
    void read(int group, DataInput in) throws IOException;
}
