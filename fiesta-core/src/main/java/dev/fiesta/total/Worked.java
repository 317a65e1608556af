package dev.fiesta.total;

import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rows;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.store.Stored;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Halving;
import dev.fiesta.value.Schema;
import dev.fiesta.work.Workers;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Map;
import java.util.concurrent.atomic.AtomicReference;
import org.jspecify.annotations.Nullable;

/** A table worked out. Its rows are in memory, or in a file from which they are read when they are asked for. */
public final class Worked {
    private final Schema schema;
    private final Stored stored;
    private final Totalling.@Nullable TotalRows totals;
    private final Map<String, BitSet> hidden;
    private final Map<String, BitSet> few;
    private final Map<String, Map<String, BitSet>> notes;
    private final int threads;
    /** Whose file its rows stand in, until that has been told that they are not wanted any more. */
    private final AtomicReference<@Nullable Memory> file = new AtomicReference<>();

    Worked(
            Schema schema,
            Stored stored,
            Totalling.@Nullable TotalRows totals,
            Map<String, BitSet> hidden,
            Map<String, BitSet> few,
            Map<String, Map<String, BitSet>> notes,
            int threads) {
        this.notes = notes;
        this.threads = threads;
        this.schema = schema;
        this.stored = stored;
        this.totals = totals;
        this.hidden = hidden;
        this.few = few;
    }

    /** Columns that are there already, by field. */
    public static Worked of(Schema schema, Column[] columns, int rows) {
        return new Worked(schema, new Rows(rows, columns), null, Map.of(), Map.of(), Map.of(), 1);
    }

    /** A table of plain steps, with what is to be said of its fields in some rows. */
    public static Worked of(TablePlan table, Stored stored, Totalling.@Nullable TotalRows totals, int threads) {
        if (table.marks().isEmpty()) {
            return new Worked(table.schema(), stored, totals, Map.of(), Map.of(), Map.of(), threads);
        }
        return new Worked(
                table.schema(),
                stored,
                totals,
                Hiding.of(table, stored, totals, TablePlan.Mark.Says.HIDDEN),
                Hiding.of(table, stored, totals, TablePlan.Mark.Says.FEW),
                Hiding.notes(table, stored),
                threads);
    }

    /** For fields that are hidden in some rows, those rows. */
    public Map<String, BitSet> hidden() {
        return hidden;
    }

    /** For fields that are marked as resting on few records in some rows, those rows. */
    public Map<String, BitSet> few() {
        return few;
    }

    /** For fields with notes at their cells the texts of the notes, and the rows that have them. */
    public Map<String, Map<String, BitSet>> notes() {
        return notes;
    }

    /** The visible fields; those of a cross-tabulation come from the data. */
    public Schema schema() {
        return schema;
    }

    /** Its total rows, or null when it has none. */
    public Totalling.@Nullable TotalRows totals() {
        return totals;
    }

    /** Whether its rows stand in the file of a run. */
    public boolean isInFile() {
        return stored instanceof SpilledRows;
    }

    /** From now on {@link #close} lets go of rows in the file of a run. */
    public void closeBy(Memory run) {
        run.keep();
        file.set(run);
    }

    /** The rows are not wanted any more; the file of a run goes with the last table that has rows in it. */
    public void close() {
        Memory run = file.getAndSet(null);
        if (run != null) {
            run.release();
        }
    }

    /** The number of rows. */
    public long rows() {
        return stored.rows();
    }

    /** How many parts its rows stand in. */
    public int parts() {
        return stored.blocks();
    }

    /** The row that a part begins with; behind the last part, their number. */
    public long start(int part) {
        return stored.start(part);
    }

    /** The part that a row stands in. */
    public int part(long row) {
        if (row < 0 || row >= rows()) {
            throw new IndexOutOfBoundsException("there is no row " + row + " of " + rows());
        }
        return Halving.behind(1, parts(), part -> stored.start(part) <= row) - 1;
    }

    /** The values of a field in a part. */
    public Column column(int field, int part) {
        return stored.batch(part).column(field).flat();
    }

    /** All values of a field. */
    public Column column(int field) {
        if (stored instanceof SpilledRows file) {
            BitSet wanted = new BitSet();
            wanted.set(field);
            return file.load(wanted).column(field).flat();
        }
        return stored.load().column(field).flat();
    }

    /** Makes something of some rows that stand side by side. */
    @FunctionalInterface
    public interface Maker<T> {
        /**
         * @param columns the columns by field
         * @param from the first row of them
         * @param to the row behind the last
         * @param before how many rows of the table stand before
         */
        T of(Column[] columns, int from, int to, int before) throws IOException;
    }

    /** Takes what was made. */
    @FunctionalInterface
    public interface Taker<T> {
        void take(T made) throws IOException;
    }

    /** Makes something of each part of the rows, some parts side by side, and hands it on in the order of the rows. */
    public <T> void eachPart(Maker<T> maker, Taker<T> taker) throws IOException {
        Column[] held = stored instanceof Rows rows ? columns(rows) : new Column[0];
        try {
            int parts = rows() == 0 ? 0 : stored.blocks(); // a block without rows only tells types
            Workers.inOrder(threads, parts, part -> made(maker, held, part), made -> {
                try {
                    taker.take(made);
                } catch (IOException e) {
                    throw new UncheckedIOException(e);
                }
            });
        } catch (UncheckedIOException e) {
            throw e.getCause();
        }
    }

    private <T> T made(Maker<T> maker, Column[] held, int part) {
        int from = Math.toIntExact(stored.start(part));
        int to = Math.toIntExact(stored.start(part + 1));
        try {
            return held.length > 0
                    ? maker.of(held, from, to, from)
                    : maker.of(columns(stored.batch(part)), 0, to - from, from);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private Column[] columns(Batch batch) {
        Column[] columns = new Column[schema.size()];
        Arrays.setAll(columns, f -> batch.column(f).flat());
        return columns;
    }

    private Column[] columns(Rows rows) {
        Column[] columns = new Column[schema.size()];
        for (int i = 0; i < columns.length; i++) {
            columns[i] = rows.column(i).flat();
        }
        return columns;
    }
}
