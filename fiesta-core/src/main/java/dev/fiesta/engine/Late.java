package dev.fiesta.engine;

import dev.fiesta.compute.FieldRef;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.Source;
import dev.fiesta.step.OrderKey;
import dev.fiesta.store.ExternalSort;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Resources;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Order;
import dev.fiesta.work.EarliestFailure;
import dev.fiesta.work.Failing;
import dev.fiesta.work.Place;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Cells that are read only when they are asked for: rows carry the place of their record, and what no clause has named is read
 * from the source for the rows that are left by then. Pieces are read in their order, each once, and the cells go to where their
 * rows stand.
 */
final class Late {
    private final Source.Scan scan;
    private final int placeSlot;
    private final Map<Integer, Integer> fields;
    private final Carried carried;
    private final Schema schema;
    private final Notices notices;
    private final Resources resources;

    /**
     * @param carried what is not read yet, and where the places of rows stand
     * @param schema the fields of the source
     */
    Late(Source.Scan scan, Carried carried, Schema schema, Notices notices, Resources resources) {
        this.scan = scan;
        this.schema = schema;
        this.placeSlot = carried.placeSlot();
        this.fields = new TreeMap<>(carried.fields());
        this.carried = new Carried(carried.named(), fields, placeSlot);
        this.notices = notices;
        this.resources = resources;
    }

    /** The slots of those that are not read yet. */
    BitSet pending(BitSet some) {
        return carried.pending(some);
    }

    /** What rows carry of the slots given: those that are there, and the place while others are not. */
    BitSet carried(BitSet some) {
        return carried.carried(some);
    }

    /** Rows with some slots read. */
    Stored read(Stored rows, BitSet wanted) {
        BitSet slots = pending(wanted);
        if (slots.isEmpty()) {
            return rows;
        }
        List<Integer> read = slots.stream().boxed().toList();
        Stored all = rows instanceof SpilledRows file ? inFile(file, read) : inMemory(rows.load(), read);
        fields.keySet().removeAll(read);
        return all;
    }

    private Rows inMemory(Rows rows, List<Integer> slots) {
        Column[] columns = cells((LongColumn) rows.column(placeSlot), slots);
        Rows all = rows;
        for (int i = 0; i < columns.length; i++) {
            all = all.with(slots.get(i), columns[i]);
        }
        return all;
    }

    /** Rows in a file are put in the order of their records, block by block, and back. */
    private SpilledRows inFile(SpilledRows rows, List<Integer> slots) {
        Memory memory = resources.memory();
        int number = placeSlot + 1;
        BitSet place = new BitSet();
        place.set(placeSlot);
        BitSet both = new BitSet();
        both.set(placeSlot, number + 1);
        OrderKey byPlace = new OrderKey(new FieldRef(placeSlot, Type.INTEGER), false);
        SpilledRows sorted =
                ExternalSort.sorted(rows.numbered(place, number), List.of(byPlace), both, new Notices(), memory);
        List<SpilledRows.Block> blocks = new ArrayList<>();
        Map<Integer, Integer> beside = new LinkedHashMap<>();
        BitSet kept = new BitSet();
        for (int i = 0; i < slots.size(); i++) {
            beside.put(i, slots.get(i));
            kept.set(i);
        }
        for (int b = 0; b < sorted.blocks(); b++) {
            Workers.stopIfInterrupted();
            Rows block = sorted.read(b, both);
            Column[] columns = cells((LongColumn) block.column(placeSlot), slots);
            Column[] written = Arrays.copyOf(columns, number + 1);
            written[number] = block.column(number);
            blocks.add(SpilledRows.write(memory.scratch(), block.size(), written));
        }
        SpilledRows back = ExternalSort.byNumber(new SpilledRows(memory.scratch(), blocks), number, kept, memory);
        return rows.beside(back, beside);
    }

    /** The cells of the records at places, by slot; missing where there is no place. */
    private Column[] cells(LongColumn places, List<Integer> slots) {
        int size = places.size();
        int[] order = Order.sort(Order.asTheyStand(size), List.of(new Order.Key(places, false)));
        int[] found = new int[size]; // for each row its record, by the order of records; -1 for none
        Arrays.fill(found, -1);
        List<Long> pieces = new ArrayList<>();
        List<int[]> wanted = new ArrayList<>();
        int[] rows = new int[16];
        int count = 0;
        int records = 0;
        long last = -1;
        for (int row : order) {
            if (places.isMissing(row)) {
                break; // missing ones stand last
            }
            long place = places.values()[row];
            if (place != last) {
                if (last >= 0 && Place.piece(place) != Place.piece(last)) {
                    wanted.add(Arrays.copyOf(rows, count));
                    count = 0;
                }
                if (count == 0) {
                    pieces.add(Place.piece(place));
                }
                rows = count == rows.length ? Arrays.copyOf(rows, count * 2) : rows;
                rows[count++] = Place.row(place);
                records++;
                last = place;
            }
            found[row] = records - 1;
        }
        if (count > 0) {
            wanted.add(Arrays.copyOf(rows, count));
        }
        return new Reading(slots, pieces, wanted).run(found);
    }

    /** One reading of some pieces. */
    private final class Reading {
        private final List<Integer> slots;
        private final List<Long> pieces;
        private final List<int[]> wanted;
        private final Column[][] parts;
        private final EarliestFailure failures = new EarliestFailure();
        private final AtomicInteger next = new AtomicInteger();

        /** @param wanted for each piece the rows wanted, ascending */
        Reading(List<Integer> slots, List<Long> pieces, List<int[]> wanted) {
            this.slots = slots;
            this.pieces = pieces;
            this.wanted = wanted;
            this.parts = new Column[pieces.size()][slots.size()];
        }

        Column[] run(int[] found) {
            int threads = Math.max(1, Math.min(resources.threads(), pieces.size()));
            Workers.run(threads, this::worker, () -> {
                next.set(pieces.size());
                failures.met(0, new Interrupted());
            });
            failures.rethrow();
            Column[] columns = new Column[slots.size()];
            Workers.each(resources.threads(), columns.length, found.length, i -> {
                Type type = schema.type(field(i));
                Column all = pieces.isEmpty()
                        ? Column.missing(type, 0)
                        : Column.join(type, Arrays.stream(parts).map(p -> p[i]).toList());
                columns[i] = all.take(found, found.length);
            });
            return columns;
        }

        private int field(int slot) {
            return Objects.requireNonNull(fields.get(slots.get(slot)));
        }

        private void worker() {
            Notices draft = Notices.draft();
            Source.Reader reader = scan.reader(draft);
            for (int p = next.getAndIncrement(); p < pieces.size(); p = next.getAndIncrement()) {
                long piece = pieces.get(p);
                try {
                    Batch rows = reader.again(piece).select(wanted.get(p), wanted.get(p).length);
                    for (int i = 0; i < slots.size(); i++) {
                        parts[p][i] = cells(rows, i);
                    }
                    notices.add(draft);
                    Workers.stopIfInterrupted();
                } catch (RuntimeException e) {
                    next.set(pieces.size());
                    failures.met(piece, 0, 0, e);
                } catch (Error e) {
                    next.set(pieces.size());
                    failures.met(e);
                }
            }
        }

        private Column cells(Batch rows, int slot) {
            int field = field(slot);
            try {
                return rows.column(field).flat();
            } catch (DataException | Source.Widened e) {
                Failing failing = Failing.find(rows, e, some -> some.column(field));
                next.set(pieces.size());
                failures.met(rows.sequence(), rows.origin(failing.sound()), slot, failing.failure());
                return rows.head(0).column(field);
            }
        }
    }
}
