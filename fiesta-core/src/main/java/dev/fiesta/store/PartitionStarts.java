package dev.fiesta.store;

import dev.fiesta.value.Column;
import java.util.List;

/** Where rows that stand by keys have other keys than the row before, block behind block. */
public final class PartitionStarts {
    private List<Column> last = List.of();
    private boolean begun;

    /**
     * Looks at the next block.
     *
     * @param keys its keys; none where all rows stand together
     * @return for each row whether its keys are other ones; they are for the very first
     */
    public boolean[] in(List<Column> keys, int rows) {
        boolean[] changes = new boolean[rows];
        for (int i = 0; i < rows; i++) {
            changes[i] = i > 0
                    ? Runs.differ(keys, i - 1, keys, i)
                    : !begun
                            || (!keys.isEmpty() && Runs.differ(last, last.get(0).size() - 1, keys, 0));
        }
        if (rows > 0) {
            begun = true;
            last = keys;
        }
        return changes;
    }
}
