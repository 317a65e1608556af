package dev.fiesta.engine;

import dev.fiesta.crew.Crew;
import dev.fiesta.operate.Others;
import dev.fiesta.operate.steps.Meeting;
import dev.fiesta.step.MatchStep;
import dev.fiesta.store.Memory;
import dev.fiesta.store.RowBytes;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Stored;
import dev.fiesta.stretch.Together;
import dev.fiesta.value.Column;
import java.io.DataOutputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.function.Consumer;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * The reading of an input for tables, together with others.
 *
 * @param pattern what stretches are read for
 * @param others the tables that are looked up
 */
record SharedReading(Together together, Stretch pattern, Others others, Memory memory) implements AutoCloseable {
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
        Stretch asked = pattern.of(parts.closed(), parts.sign(), laid(parts, split), split, bounds.get());
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

    /** Lays the other tables down that are looked up: whole, then those that are put into parts. */
    private List<String> laid(PassParts parts, int split) {
        Crew.Work work = together.sharing().work();
        List<String> names = new ArrayList<>();
        for (MatchStep match : parts.lookedUp()) {
            Rows rows = others.lookedUp(match);
            names.add(work.lay(out -> RowBytes.write(rows, rows.there(), new DataOutputStream(out))));
        }
        for (PartSteps steps : parts.lookingUp()) {
            Meeting.LookedUp looked = Objects.requireNonNull(steps.lookedUp());
            Stored theirs = others.stored(looked.match().table());
            names.add(work.lay(out -> PartSteps.write(looked, theirs, split, memory, out)));
        }
        return names;
    }

    @Override
    public void close() {
        together.close();
    }
}
