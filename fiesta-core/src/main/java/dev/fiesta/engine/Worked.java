package dev.fiesta.engine;

import dev.fiesta.plan.TablePlan;
import dev.fiesta.value.Column;
import dev.fiesta.value.Schema;
import java.util.BitSet;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** A table worked out. Its rows are in memory, or in a file from which they are read when they are asked for. */
public final class Worked {
    private final Schema schema;
    private final Stored stored;
    private final Totalling.@Nullable TotalRows totals;
    private final Map<String, BitSet> hidden;
    private final Map<String, BitSet> few;

    Worked(
            Schema schema,
            Stored stored,
            Totalling.@Nullable TotalRows totals,
            Map<String, BitSet> hidden,
            Map<String, BitSet> few) {
        this.schema = schema;
        this.stored = stored;
        this.totals = totals;
        this.hidden = hidden;
        this.few = few;
    }

    /** Columns that are there already, by field. */
    public static Worked of(Schema schema, Column[] columns, int rows) {
        return new Worked(schema, new Rows(rows, columns, null), null, Map.of(), Map.of());
    }

    /** A table of plain steps, with what is to be said of its fields in some rows. */
    static Worked of(TablePlan table, Stored stored, Totalling.@Nullable TotalRows totals) {
        if (table.marks().isEmpty()) {
            return new Worked(table.schema(), stored, totals, Map.of(), Map.of());
        }
        Rows rows = stored.load();
        return new Worked(
                table.schema(),
                rows,
                totals,
                Hiding.of(table, rows, totals, true),
                Hiding.of(table, rows, totals, false));
    }

    /** For fields that are hidden in some rows, those rows. */
    public Map<String, BitSet> hidden() {
        return hidden;
    }

    /** For fields that are marked as resting on few records in some rows, those rows. */
    public Map<String, BitSet> few() {
        return few;
    }

    /** The visible fields; those of a cross-tabulation come from the data. */
    public Schema schema() {
        return schema;
    }

    /** Its total rows, or null when it has none. */
    public Totalling.@Nullable TotalRows totals() {
        return totals;
    }

    /** The number of rows. */
    public long rows() {
        return stored.rows();
    }

    /** All rows, by field. */
    public Column[] columns() {
        return columns(stored.load());
    }

    /** In how many parts the rows can be read one behind the other. */
    public int blocks() {
        return stored instanceof FileRows file ? file.blocks() : 1;
    }

    /** The rows of a part, by field. */
    public Column[] block(int number) {
        if (stored instanceof FileRows file) {
            BitSet fields = new BitSet();
            fields.set(0, schema.size());
            return columns(file.read(number, fields));
        }
        return columns();
    }

    private Column[] columns(Rows rows) {
        Column[] columns = new Column[schema.size()];
        for (int i = 0; i < columns.length; i++) {
            columns[i] = rows.column(i).flat();
        }
        return columns;
    }
}
