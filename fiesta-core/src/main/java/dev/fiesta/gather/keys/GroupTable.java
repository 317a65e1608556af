package dev.fiesta.gather.keys;

import dev.fiesta.gather.values.Image;
import dev.fiesta.value.Column;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * Gives each combination of keys a number, from 0, in the order in which they are met. Every key is first numbered on its own,
 * then pairs of numbers are numbered, and so on: a pair is a single long, whatever the types and however many the keys.
 */
public final class GroupTable {
    private final KeyNumbers[] singles;
    private final PairNumbers[] pairs;
    private int[] next = new int[0];
    private int lone;

    /** @param images one for each key; several tables that are to be compared may not share them */
    public GroupTable(Image... images) {
        this.singles = Arrays.stream(images).map(KeyNumbers::new).toArray(KeyNumbers[]::new);
        this.pairs = new PairNumbers[Math.max(0, images.length - 1)];
        Arrays.setAll(pairs, i -> new PairNumbers());
    }

    /** A table for combinations of keys like these. */
    public static GroupTable of(Column[] keys) {
        return new GroupTable(Arrays.stream(keys).map(k -> new Image(k.type())).toArray(Image[]::new));
    }

    /** The number of the combination of keys of each row, in the order in which they are met. */
    public static int[] numbers(Column[] keys, int rows) {
        int[] numbers = new int[rows];
        of(keys).number(keys, rows, numbers);
        return numbers;
    }

    /** The number of combinations met. */
    public int size() {
        return singles.length == 0 ? lone : singles.length == 1 ? singles[0].size() : pairs[pairs.length - 1].size();
    }

    /**
     * The numbers of some rows; combinations not met yet get new ones.
     *
     * @param into where the numbers go; has room for all rows
     */
    public void number(Column[] keys, int rows, int[] into) {
        number(keys, Collections.nCopies(keys.length, null), rows, into);
    }

    /**
     * As {@link #number(Column[], int, int[])}, of keys that may be worked out from fields.
     *
     * @param columns the keys, or fields that they are worked out from
     * @param derived for each key what works it out from its column, or null where the column is the key
     */
    public void number(Column[] columns, List<@Nullable UnaryOperator<Column>> derived, int rows, int[] into) {
        if (columns.length == 0) {
            Arrays.fill(into, 0, rows, 0);
            lone = rows > 0 ? 1 : lone;
            return;
        }
        if (columns.length > 1 && next.length < rows) {
            next = new int[rows];
        }
        for (int k = 0; k < columns.length; k++) {
            int[] numbers = k == 0 ? into : next;
            UnaryOperator<Column> key = derived.get(k);
            if (key == null) {
                singles[k].number(columns[k], rows, numbers);
            } else {
                singles[k].number(columns[k], key, rows, numbers);
            }
            if (k > 0) {
                int firsts = k == 1 ? singles[0].size() : pairs[k - 2].size();
                pairs[k - 1].number(into, firsts, next, singles[k].size(), rows);
            }
        }
    }

    /** Looks combinations up without adding any, while nobody adds; belongs to one worker. */
    public final class Finder {
        private final List<KeyNumbers.Finder> finders =
                Arrays.stream(singles).map(s -> s.new Finder()).toList();

        /** The numbers of some rows, -1 for combinations that have none. */
        public void find(Column[] keys, int rows, int[] into) {
            int[] next = keys.length > 1 ? new int[rows] : into;
            for (int k = 0; k < keys.length; k++) {
                finders.get(k).find(keys[k], rows, k == 0 ? into : next);
                if (k > 0) {
                    pairs[k - 1].find(into, next, rows);
                }
            }
        }
    }

    /** Makes sure that there is one group, for figures over no records. */
    public void oneAtLeast() {
        lone = Math.max(lone, singles.length == 0 ? 1 : 0);
    }

    /** About the memory that it takes, in bytes. */
    public long memory() {
        long bytes = 0;
        for (KeyNumbers single : singles) {
            bytes += single.memory();
        }
        for (PairNumbers pair : pairs) {
            bytes += pair.memory();
        }
        return bytes;
    }

    /** The keys of all combinations, in the order of their numbers. */
    public Column[] keys() {
        int size = size();
        int[] numbers = new int[size];
        Arrays.setAll(numbers, i -> i);
        Column[] keys = new Column[singles.length];
        for (int k = singles.length - 1; k >= 0; k--) {
            int[] own = numbers;
            if (k > 0) {
                own = new int[size];
                for (int i = 0; i < size; i++) {
                    long pair = pairs[k - 1].pair(numbers[i]);
                    own[i] = (int) pair;
                    numbers[i] = (int) (pair >>> 32);
                }
            }
            keys[k] = singles[k].column(own);
        }
        return keys;
    }
}
