package dev.fiesta.engine;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.gather.GroupTable;
import dev.fiesta.gather.Part;
import dev.fiesta.step.GatherSpec;
import dev.fiesta.value.Column;
import java.util.Arrays;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** What a figure gathers over groups wider than its own: told first of all groups, asked afterwards for each of them. */
final class Wider {
    private final GatherSpec spec;
    private final Accumulator whole;
    private @Nullable GroupTable table;
    private @Nullable Column finished;

    /** @param spec a figure that names wider groups */
    Wider(GatherSpec spec) {
        this.spec = spec;
        this.whole = spec.bound().empty(1);
    }

    /**
     * Takes in what groups have gathered.
     *
     * @param keys the keys of groups 0 to {@code groups - 1}
     */
    void add(Accumulator own, Column[] keys, int groups) {
        int[] into = numbers(keys, groups);
        whole.grow(Math.max(1, Objects.requireNonNull(table).size()));
        whole.merge(own, into);
    }

    /** The figures of groups. */
    Column figures(Accumulator own, Column[] keys, int groups) {
        int[] into = numbers(keys, groups);
        if (spec.function().isPart()) {
            return ((Part) own).ofWider(whole, 0, into);
        }
        finished = finished == null ? whole.finish(Objects.requireNonNull(table).size()) : finished;
        return finished.take(into, groups);
    }

    Accumulator whole() {
        return whole;
    }

    private int[] numbers(Column[] keys, int groups) {
        Column[] wide = Arrays.stream(Objects.requireNonNull(spec.wider()))
                .mapToObj(k -> keys[k])
                .toArray(Column[]::new);
        table = table == null ? RowsRunner.table(wide) : table;
        int[] into = new int[groups];
        table.number(wide, groups, into);
        return into;
    }
}
