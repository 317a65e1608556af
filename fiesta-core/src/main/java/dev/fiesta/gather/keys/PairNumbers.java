package dev.fiesta.gather.keys;

/** Gives pairs of numbers numbers, from 0, in the order in which they are met; small spaces of pairs are looked up directly. */
final class PairNumbers {
    private static final int MOST_DIRECT = 1 << 20;

    private final LongNumbers numbers = new LongNumbers();
    private int[] direct = new int[0];
    private int shift = -1;

    int size() {
        return numbers.size();
    }

    /** The pair that has a number: the first in the upper half. */
    long pair(int number) {
        return numbers.key(number);
    }

    /**
     * Replaces the first number of each row by that of its pair.
     *
     * @param firsts all first numbers are less than this
     * @param seconds all second numbers are less than this
     */
    void number(int[] first, int firsts, int[] second, int seconds, int rows) {
        int bits = 32 - Integer.numberOfLeadingZeros(Math.max(1, seconds - 1));
        long space = (long) firsts << bits;
        if (space > MOST_DIRECT) {
            direct = new int[0];
            for (int i = 0; i < rows; i++) {
                first[i] = numbers.of((long) first[i] << 32 | second[i]);
            }
            return;
        }
        if (bits != shift || direct.length < space) {
            shift = bits;
            direct = new int[(int) Long.highestOneBit(Math.max(1, space * 2 - 1))];
        }
        int at = known(first, second, 0, rows);
        while (at < rows) {
            int number = numbers.of((long) first[at] << 32 | second[at]);
            direct[first[at] << bits | second[at]] = number + 1;
            at = known(first, second, at, rows);
        }
    }

    /** Numbers rows up to the first pair that was not met yet. */
    private int known(int[] first, int[] second, int from, int rows) {
        int[] known = direct;
        int bits = shift;
        for (int i = from; i < rows; i++) {
            int number = known[first[i] << bits | second[i]] - 1;
            if (number < 0) {
                return i;
            }
            first[i] = number;
        }
        return rows;
    }

    /** Replaces the first number of each row by that of its pair, or by -1. */
    void find(int[] first, int[] second, int rows) {
        for (int i = 0; i < rows; i++) {
            boolean known = first[i] >= 0 && second[i] >= 0;
            first[i] = known ? numbers.find((long) first[i] << 32 | second[i]) : -1;
        }
    }

    long memory() {
        return numbers.memory() + 4L * direct.length;
    }
}
