package dev.fiesta.engine;

import dev.fiesta.value.Column;
import dev.fiesta.value.Schema;
import java.util.BitSet;
import org.jspecify.annotations.Nullable;

/** A table worked out. Its rows are in memory, or in a file from which they are read when they are asked for. */
public final class Worked {
    private final Schema schema;
    private final Stored stored;
    private final Totalling.@Nullable TotalRows totals;

    Worked(Schema schema, Stored stored, Totalling.@Nullable TotalRows totals) {
        this.schema = schema;
        this.stored = stored;
        this.totals = totals;
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
