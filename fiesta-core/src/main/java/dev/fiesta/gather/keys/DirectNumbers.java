package dev.fiesta.gather.keys;

import dev.fiesta.gather.values.Grow;
import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import java.util.Arrays;
import java.util.function.ToIntFunction;
import org.jspecify.annotations.Nullable;

/**
 * Numbers of values looked up by the value itself, where values lie near each other, such as days, or are codes of a
 * dictionary. What number a value has, or -1 for none, is asked once for each.
 */
final class DirectNumbers {
    private static final int MOST_NEAR = 1 << 12;
    /** What is kept is the number and this; 0 is what was not asked yet. */
    private static final int ASKED = 2;

    private static final int NOT_ASKED = -ASKED;

    private final ToIntFunction<Column> ask;
    private final int mostTexts;
    private int[] known = new int[1];
    private long first;
    private @Nullable Dictionary texts;
    private int missing = NOT_ASKED;
    private boolean far = true;

    /**
     * @param ask gives the number of the value in the single row of a column
     * @param mostTexts the largest dictionary of which every code is looked up directly
     */
    DirectNumbers(ToIntFunction<Column> ask, int mostTexts) {
        this.ask = ask;
        this.mostTexts = mostTexts;
    }

    /** Writes the numbers of all rows, or returns false where the values do not allow it. */
    boolean number(Column column, int rows, int[] into) {
        if (column.isConstant() || rows == 0) {
            Arrays.fill(into, 0, rows, rows == 0 ? 0 : ask.applyAsInt(column.range(0, 1)));
            return true;
        }
        if (column instanceof LongColumn longs) {
            return longs(longs, rows, into);
        }
        return column instanceof TextColumn codes
                && codes.dictionary().size() <= mostTexts
                && texts(codes, codes.dictionary(), rows, into);
    }

    /** About the memory that it takes, in bytes. */
    long memory() {
        return 4L * known.length;
    }

    private boolean texts(TextColumn column, Dictionary dictionary, int rows, int[] into) {
        if (texts != dictionary) {
            texts = dictionary;
            known = new int[dictionary.size() + 1];
        } else if (known.length <= dictionary.size()) {
            known = Grow.to(known, dictionary.size() + 1);
        }
        int[] codes = column.codes();
        int at = texts(codes, 0, rows, into);
        while (at < rows) {
            known[codes[at] + 1] = ask.applyAsInt(column.range(at, 1)) + ASKED;
            at = texts(codes, at, rows, into);
        }
        return true;
    }

    /** Numbers rows up to the first that has none yet; missing texts have the code -1. */
    private int texts(int[] codes, int from, int rows, int[] into) {
        int[] numbers = known;
        for (int i = from; i < rows; i++) {
            int number = numbers[codes[i] + 1] - ASKED;
            if (number == NOT_ASKED) {
                return i;
            }
            into[i] = number;
        }
        return rows;
    }

    private boolean longs(LongColumn column, int rows, int[] into) {
        if (far && !moveTo(column, rows)) {
            return false;
        }
        long[] values = column.values();
        long[] valid = column.valid();
        int strangers = 0;
        int at = longs(values, valid, 0, rows, into);
        while (at < rows) {
            int number = ask.applyAsInt(column.range(at, 1));
            if (column.isMissing(at)) {
                missing = number;
            } else if ((values[at] - first & -known.length) == 0) {
                known[(int) (values[at] - first)] = number + ASKED;
            } else {
                into[at++] = number;
                strangers++;
                if (strangers == 1 + rows / 16 && !moveTo(column, rows)) {
                    return false;
                }
            }
            at = longs(values, valid, at, rows, into);
        }
        return true;
    }

    /** Numbers rows up to the first that has none yet. */
    private int longs(long[] values, long @Nullable [] valid, int from, int rows, int[] into) {
        int[] numbers = known;
        long least = first;
        int none = missing;
        long outside = -numbers.length; // a power of two: these bits are set in whatever lies outside
        for (int i = from; i < rows; i++) {
            if (valid != null && !Bits.get(valid, i)) {
                if (none == NOT_ASKED) {
                    return i;
                }
                into[i] = none;
                continue;
            }
            long at = values[i] - least;
            int number = (at & outside) == 0 ? numbers[(int) at] - ASKED : NOT_ASKED;
            if (number == NOT_ASKED) {
                return i;
            }
            into[i] = number;
        }
        return rows;
    }

    /** Looks where the values lie now; whether they lie near each other. */
    private boolean moveTo(LongColumn column, int rows) {
        long least = Long.MAX_VALUE;
        long greatest = Long.MIN_VALUE;
        long[] values = column.values();
        for (int i = 0; i < rows; i++) {
            if (!column.isMissing(i)) {
                least = Math.min(least, values[i]);
                greatest = Math.max(greatest, values[i]);
            }
        }
        long span = greatest - least;
        far = least > greatest || span < 0 || span >= MOST_NEAR;
        if (!far) {
            known = new int[Math.max(64, Integer.highestOneBit((int) span) * 4)];
            first = least - (known.length - span) / 2;
        }
        return !far;
    }
}
