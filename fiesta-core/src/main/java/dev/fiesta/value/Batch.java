package dev.fiesta.value;

import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * Some thousand rows of a table. Columns are loaded when first asked for, so that what nobody needs is never parsed. A batch
 * belongs to the worker that made it; {@link #sequence} tells where its rows stand among those of other batches.
 */
public final class Batch {
    /** Loads columns of a batch that were not there from the start. */
    @FunctionalInterface
    public interface Loader {
        /**
         * The values of a field.
         *
         * @param rows the rows wanted, or null for all
         * @param count how many rows
         */
        Column load(int field, int @Nullable [] rows, int count);

        /** What is known of the values of a field in all rows without loading them; null where nothing is. */
        default @Nullable Bounds bounds(int field) {
            return null;
        }

        /** Takes note that somebody looks at the values of a field in some rows, loaded now or before. */
        default void read(int field, int @Nullable [] rows, int count) {}
    }

    /** Tells where the rows of a batch come from. */
    @FunctionalInterface
    public interface Whence {
        /** The place of a row, such as {@code sales.csv, line 12}; looked up when it is asked for, also later. */
        java.util.function.Supplier<@Nullable String> place(int row);
    }

    private final int size;
    private final @Nullable Column[] columns;
    private final @Nullable Loader loader;
    private final int @Nullable [] rows;
    private final long sequence;
    private final @Nullable Whence whence;
    private final @Nullable Made made;

    /**
     * @param of for each row of a batch the row of another that it was made of
     * @param first where the first of them stands among all that are made of a piece
     */
    private record Made(Batch from, int[] of, long first) {}

    private Batch(
            int size,
            @Nullable Column[] columns,
            @Nullable Loader loader,
            int @Nullable [] rows,
            long sequence,
            @Nullable Whence whence,
            @Nullable Made made) {
        this.whence = whence;
        this.made = made;
        this.size = size;
        this.columns = columns;
        this.loader = loader;
        this.rows = rows;
        this.sequence = sequence;
    }

    /** A batch of columns that are all there; null stands for a column that nobody will ask for. */
    public static Batch of(int size, @Nullable Column[] columns, long sequence) {
        return new Batch(size, columns, null, null, sequence, null, null);
    }

    /** A batch whose columns are loaded when asked for. */
    public static Batch lazy(int size, int fields, Loader loader, long sequence) {
        return new Batch(size, new Column[fields], loader, null, sequence, null, null);
    }

    /** As {@link #lazy(int, int, Loader, long)}, of rows that can be told from. */
    public static Batch lazy(int size, int fields, Loader loader, long sequence, Whence whence) {
        return new Batch(size, new Column[fields], loader, null, sequence, whence, null);
    }

    /**
     * Other rows, which come from where those stand that they are made of.
     *
     * @param of for each the row here, ascending
     * @param most how many are made of one at most
     */
    public Batch made(int[] of, int most, int fields, Loader columns) {
        return new Batch(
                of.length, new Column[fields], columns, null, sequence, null, new Made(this, of, first() * most));
    }

    /** The same rows, of which nobody can tell where they come from. */
    public Batch withoutPlaces() {
        return whence == null ? this : new Batch(size, columns, loader, rows, sequence, null, made);
    }

    /** Where a row comes from; null where nobody knows. */
    public java.util.function.Supplier<@Nullable String> place(int row) {
        int own = rows == null ? row : rows[row];
        if (made != null) {
            return made.from.place(made.of[own]);
        }
        return whence == null ? () -> null : whence.place(own);
    }

    /** The number of rows. */
    public int size() {
        return size;
    }

    /** The number of fields. */
    public int width() {
        return columns.length;
    }

    /** Batches of one table stand in the order of their sequence. */
    public long sequence() {
        return sequence;
    }

    /** The values of a field. */
    public Column column(int field) {
        Column column = columns[field];
        if (column == null) {
            if (loader == null) {
                throw new IllegalStateException("field " + field + " was thought to be needed by nobody");
            }
            column = loader.load(field, rows, size);
            columns[field] = column;
        }
        if (loader != null) {
            loader.read(field, rows, size);
        }
        return column.isConstant() ? column.resized(size) : column;
    }

    /** What is known of the values of a field that was not loaded yet; null where nothing is. */
    public @Nullable Bounds bounds(int field) {
        return loader == null || columns[field] != null ? null : loader.bounds(field);
    }

    /** As {@link #column}, for whoever asks once only: what is loaded is not kept. */
    public Column once(int field) {
        if (columns[field] != null || loader == null) {
            return column(field);
        }
        Column column = loader.load(field, rows, size);
        loader.read(field, rows, size);
        return column;
    }

    /** The values of a field, null when they were never loaded. */
    public @Nullable Column loaded(int field) {
        Column column = field < columns.length ? columns[field] : null;
        return column != null && column.isConstant() ? column.resized(size).flat() : column;
    }

    /** The rows picked, ascending, as a batch; columns not loaded yet will be loaded for these rows only. */
    public Batch select(int[] selection, int count) {
        if (count == size) {
            return this;
        }
        @Nullable Column[] picked = new @Nullable Column[columns.length];
        for (int i = 0; i < picked.length; i++) {
            Column column = columns[i];
            picked[i] =
                    column == null ? null : column.isConstant() ? column.resized(count) : column.take(selection, count);
        }
        int[] origin = selection;
        if (loader != null && rows != null) {
            origin = new int[count];
            for (int i = 0; i < count; i++) {
                origin[i] = rows[selection[i]];
            }
        }
        return new Batch(count, picked, loader, loader == null ? null : origin, sequence, whence, made);
    }

    /** The rows given, in any order and as often as they are named; of the columns that are there already. */
    public Batch repeat(int[] wanted) {
        @Nullable Column[] picked = new Column[columns.length];
        for (int i = 0; i < picked.length; i++) {
            picked[i] = columns[i] == null ? null : columns[i].take(wanted, wanted.length);
        }
        return of(wanted.length, picked, sequence);
    }

    /** Where a row stood in its batch before rows were picked, or other rows made of them. */
    public int origin(int row) {
        int own = rows == null ? row : rows[row];
        return made == null ? own : made.from.origin(made.of[own]);
    }

    /** Where the first row stands among all that come of its piece; those behind it follow. */
    public long first() {
        return made != null ? made.first : size == 0 ? 0 : origin(0);
    }

    /** Where all rows stood in their batch; null where they are all there. */
    public int @Nullable [] origins() {
        return rows;
    }

    /** The rows that stood before a place in their batch. */
    public Batch before(int origin) {
        int count = 0;
        while (count < size && origin(count) < origin) {
            count++;
        }
        return head(count);
    }

    /** The first rows. */
    public Batch head(int count) {
        return part(0, count);
    }

    /** Rows side by side, from one on. */
    public Batch part(int from, int count) {
        if (count == size) {
            return this;
        }
        int[] selection = new int[count];
        for (int i = 0; i < count; i++) {
            selection[i] = from + i;
        }
        return select(selection, count);
    }

    /** This batch with a column in a slot, which may lie behind those there are. */
    public Batch with(int slot, Column column) {
        @Nullable Column[] more = Arrays.copyOf(columns, Math.max(columns.length, slot + 1));
        more[slot] = column;
        return new Batch(size, more, loader, rows, sequence, whence, made);
    }

    /** The slots given, in that order, as a batch of its own. */
    public Batch project(List<Integer> slots) {
        @Nullable Column[] picked = new Column[slots.size()];
        for (int i = 0; i < picked.length; i++) {
            picked[i] = slots.get(i) < columns.length ? columns[slots.get(i)] : null;
        }
        return new Batch(size, picked, loader == null ? null : projected(loader, slots), rows, sequence, whence, made);
    }

    /** The same rows with other fields, which a loader made of this batch's loads. */
    public Batch loadedBy(int fields, java.util.function.UnaryOperator<Loader> loaders) {
        Loader from = Objects.requireNonNull(loader, "a batch whose columns are there loads none");
        return new Batch(size, new Column[fields], loaders.apply(from), rows, sequence, whence, made);
    }

    private static Loader projected(Loader from, List<Integer> slots) {
        return new Loader() {
            @Override
            public Column load(int field, int @Nullable [] rows, int count) {
                return from.load(slots.get(field), rows, count);
            }

            @Override
            public @Nullable Bounds bounds(int field) {
                return field < slots.size() ? from.bounds(slots.get(field)) : null;
            }

            @Override
            public void read(int field, int @Nullable [] rows, int count) {
                if (field < slots.size()) { // the others were worked out since
                    from.read(slots.get(field), rows, count);
                }
            }
        };
    }
}
