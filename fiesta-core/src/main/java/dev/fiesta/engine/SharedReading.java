package dev.fiesta.engine;

import dev.fiesta.step.MatchStep;
import dev.fiesta.store.RowBytes;
import dev.fiesta.store.Rows;
import dev.fiesta.stretch.Together;
import dev.fiesta.value.Column;
import java.io.DataOutputStream;
import java.util.List;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * The reading of an input for tables, together with others.
 *
 * @param pattern what stretches are read for
 * @param lookUps what a look-up reads of the other table
 */
record SharedReading(Together together, Stretch pattern, Function<MatchStep, Rows> lookUps) implements AutoCloseable {
    /**
     * @param bounds gives those of the ranges that parts are
     * @param told is told who reads, once others do
     */
    void read(PassParts parts, Supplier<@Nullable Column[]> bounds, Consumer<String> told) {
        if (!together.readHere(parts)) {
            return;
        }
        told.accept(together.sharing().readers());
        int split = together.parts();
        Stretch asked = pattern.of(parts.closed(), parts.sign(), laid(parts.lookedUp()), split, bounds.get());
        together.readByOthers(
                parts,
                (from, to, start, answers, out) ->
                        asked.of(from, to, start, answers).write(out));
        List<PartedRows> parted = parts.parted();
        for (int i = 0; i < parted.size(); i++) {
            parted.get(i)
                    .apart(new Apart(
                            together.sharing(),
                            together.standing(),
                            i,
                            split,
                            (part, names) ->
                                    together.give(out -> asked.of(part, names).write(out))));
        }
    }

    /** Lays the other tables down that are looked up. */
    private List<String> laid(List<MatchStep> lookedUp) {
        return lookedUp.stream()
                .map(match -> {
                    Rows rows = lookUps.apply(match);
                    return together.sharing()
                            .work()
                            .lay(out -> RowBytes.write(rows, rows.there(), new DataOutputStream(out)));
                })
                .toList();
    }

    @Override
    public void close() {
        together.close();
    }
}
