package dev.fiesta.operate;

import dev.fiesta.compute.Fault;
import dev.fiesta.compute.Types;
import dev.fiesta.step.AppendStep;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpillFile;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Puts rows of other tables below these; those of a file stay where they are in it. */
public final class AppendOperator implements Operator {
    private final AppendStep step;
    private final Ground ground;

    public AppendOperator(AppendStep step, Ground ground) {
        this.step = step;
        this.ground = ground;
    }

    @Override
    public Stored run(Stored rows, BitSet before, BitSet after) {
        List<Stored> all = new ArrayList<>(List.of(rows));
        step.tables().forEach(t -> all.add(ground.others().stored(t)));
        boolean fits = all.stream().noneMatch(SpilledRows.class::isInstance)
                && all.stream().mapToLong(r -> r.load().bytes()).sum()
                        <= ground.memory().limit();
        return fits ? held(all.stream().map(Stored::load).toList(), after) : inFile(all, after);
    }

    /** The slots of a table's columns: those of the first are the rows that the others come below. */
    private List<Integer> slots(int table) {
        return table == 0 ? step.ours() : step.theirs().get(table - 1);
    }

    private AppendedRows held(List<Rows> all, BitSet after) {
        List<AppendedRows.Part> parts = IntStream.range(0, all.size())
                .mapToObj(t -> new AppendedRows.Part(all.get(t), slots(t)))
                .toList();
        return new AppendedRows(parts, step, after);
    }

    private SpilledRows inFile(List<Stored> all, BitSet after) {
        List<SpilledRows.Block> blocks = new ArrayList<>();
        for (int t = 0; t < all.size(); t++) {
            SpilledRows file = SpilledRows.in(ground.memory(), all.get(t));
            for (int b = 0; b < file.blocks(); b++) {
                Workers.stopIfInterrupted();
                blocks.add(block(file, b, slots(t), after));
            }
        }
        return new SpilledRows(ground.memory().scratch(), blocks);
    }

    /** Columns of the right type stay where they are. */
    private SpilledRows.Block block(SpilledRows from, int number, List<Integer> slots, BitSet after) {
        SpilledRows.Block block = from.block(number);
        SpillFile.@Nullable Place[] places = new SpillFile.Place[step.types().size()];
        for (int f = after.nextSetBit(0); f >= 0 && f < places.length; f = after.nextSetBit(f + 1)) {
            Type type = step.types().get(f);
            SpillFile.Place stands = slots.get(f) < 0 ? null : block.slots()[slots.get(f)];
            places[f] = stands == null
                    ? from.scratch().write(Column.missing(type, block.rows()))
                    : stands.type().equals(type)
                            ? stands
                            : from.scratch().write(widened(step, from.scratch().read(stands), type));
        }
        return new SpilledRows.Block(block.rows(), places);
    }

    static Column widened(AppendStep step, Column column, Type type) {
        try {
            return Types.widen(column, type);
        } catch (Fault fault) {
            throw step.place().failure(fault);
        }
    }
}
