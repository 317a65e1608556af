package dev.fiesta.gather.values;

import dev.fiesta.value.Column;
import dev.fiesta.value.Halving;

/** Takes values that do not fit into memory, and gives them back in their order. */
public interface Shelf {
    /** Is told the values in their order, whatever their groups. */
    @FunctionalInterface
    interface Look {
        /** @param other whether the value differs from the one before */
        void at(int group, Column values, int row, boolean other);
    }

    /** Values page behind page. */
    interface Pages {
        int pages();

        /** How many values stand before a page; for the page behind the last, all of them. */
        int before(int page);

        Column page(int page);

        /** The page on which a value stands. */
        default int pageOf(int place) {
            return Halving.behind(1, pages(), page -> before(page) <= place) - 1;
        }
    }

    /**
     * The values of groups one behind the other, those of each group in their order.
     *
     * @param starts where those of each group start, and behind the last of them the end
     */
    record ByGroup(int[] starts, Pages values) {}

    /**
     * Takes values away.
     *
     * @param groups the group of each
     */
    void put(Column values, int[] groups);

    /**
     * Takes in what another has taken.
     *
     * @param into for each group of the other, the group here; negative for groups that are left out
     */
    void adopt(Shelf other, int[] into);

    /** An empty one of the same kind. */
    Shelf another();

    /** Goes through all values. */
    void inOrder(Look look);

    /** The values of groups 0 to {@code groups - 1}. */
    ByGroup byGroup(int groups);
}
