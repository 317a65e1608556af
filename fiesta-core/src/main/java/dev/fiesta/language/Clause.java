package dev.fiesta.language;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** One step of a table, as written. */
public sealed interface Clause {
    /** Where it stands, from its keyword to its end. */
    Span at();

    <R extends @Nullable Object> R accept(Visitor<R> visitor);

    /** Keeps rows for which a condition is true. */
    record Only(Expr condition, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.only(this);
        }
    }

    /** Further fields. */
    record Add(List<Assign> fields, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.add(this);
        }
    }

    /**
     * Groups and their figures.
     *
     * @param keys the keys, empty for {@code per all}
     * @param against the keys laid out as columns
     * @param figures the figures; empty when there is no {@code give}
     * @param gives whether {@code give} was written
     */
    record Per(List<Assign> keys, List<Against> against, List<Figure> figures, boolean gives, Span giveAt, Span at)
            implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.per(this);
        }
    }

    /**
     * A key laid out as columns.
     *
     * @param choices the values of {@code in (…)} in their order, or null
     * @param rest the label of {@code rest as}, or null
     * @param with what fills cells that have nothing, or null
     */
    record Against(
            Assign key,
            @Nullable List<Expr> choices,
            @Nullable String rest,
            @Nullable Expr with) {}

    /** What stands between the commas of {@code give}. */
    sealed interface Figure permits Single, Each {}

    /** One figure. */
    record Single(Assign figure) implements Figure {}

    /**
     * Several functions over several fields.
     *
     * @param functions their names
     * @param fields the fields, or patterns in single quotes
     * @param numbers whether {@code of numbers} was written
     */
    record Each(List<Ref> functions, List<FieldPattern> fields, boolean numbers, Span at) implements Figure {}

    /**
     * Fields by name, by pattern ({@code 'amount_*'}), from one to another, or all {@code others}.
     *
     * @param name the name or pattern
     * @param to the last name of a range, or null
     */
    record FieldPattern(Ref name, boolean pattern, @Nullable Ref to, boolean others) {}

    /** Total rows; subtotals for each of the keys named. */
    record Totals(List<Ref> by, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.totals(this);
        }
    }

    /** Puts rows in order. */
    record Sort(List<Expr.SortKey> keys, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.sort(this);
        }
    }

    /**
     * Keeps the first rows, of the whole or of each partition: as they stand, or along an order.
     *
     * @param along the order; empty for the rows as they stand
     * @param rest the label of one more row for all others, or null
     */
    record First(
            Expr count,
            List<Expr> within,
            List<Expr.SortKey> along,
            @Nullable String rest,
            Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.first(this);
        }
    }

    /** Keeps the first row of each combination; of all fields when none is named. */
    record Distinct(List<Ref> fields, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.distinct(this);
        }
    }

    /** Keeps some rows by chance, the same ones each time. */
    record Sample(Expr count, boolean percent, List<Expr> within, long seed, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.sample(this);
        }
    }

    /** Puts rows in an order by chance, the same each time. */
    record Shuffle(long seed, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.shuffle(this);
        }
    }

    /** What becomes of rows in a look-up. */
    enum Unmatched {
        KEPT,
        REQUIRED,
        MATCHED_ONLY,
        UNMATCHED_ONLY,
        ALSO_UNMATCHED
    }

    /** Our key and theirs. */
    record KeyPair(Ref ours, Ref theirs) {}

    /** {@code latest THEIRS <= OURS}. */
    record Latest(Ref theirs, Ref ours) {}

    /** A field brought and the name it gets. */
    record Brought(Ref field, String as) {}

    /** Looks further fields up in another table. */
    record Match(
            boolean each,
            Ref table,
            List<KeyPair> keys,
            @Nullable Latest latest,
            List<Brought> bring,
            Unmatched unmatched,
            Span at)
            implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.match(this);
        }
    }

    /** Rows of other tables below. */
    record Append(List<Ref> tables, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.append(this);
        }
    }

    /**
     * Rows for the periods, or other keys, that have none.
     *
     * @param within the other keys, or null when not written
     * @param source for {@code from TABLE}: where the keys come from, or null
     */
    record Gapless(
            Ref field,
            Expr.@Nullable Period every,
            @Nullable List<Ref> within,
            @Nullable Expr from,
            @Nullable Expr to,
            @Nullable Ref source,
            @Nullable Expr with,
            Span at)
            implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.gapless(this);
        }
    }

    /** Columns into rows. */
    record Turn(List<Ref> fields, Ref name, Ref value, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.turn(this);
        }
    }

    /** Other names for fields. */
    record Rename(List<Brought> names, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.rename(this);
        }
    }

    /** Leaves fields out. */
    record Drop(List<Ref> fields, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.drop(this);
        }
    }

    /**
     * The columns shown.
     *
     * @param courses small lines between them
     */
    record Columns(List<Shown> columns, List<Course> courses, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.columns(this);
        }
    }

    /**
     * One entry of {@code columns}.
     *
     * @param title the title, or null
     * @param formats the formats, in the order written
     * @param notes what is noted at its cells
     */
    record Shown(FieldPattern field, @Nullable String title, List<Format> formats, List<CellNote> notes) {}

    /**
     * A small line in a cell: another table's figure along its periods.
     *
     * @param on the keys that tell which of its rows belong to a row, empty for all of its own
     * @param title the title, or null
     * @param before how many entries of {@code columns} stand before it
     */
    record Course(
            Ref table,
            Ref field,
            Ref along,
            List<Ref> on,
            @Nullable String title,
            int before,
            Span at) {}

    /**
     * A note at cells.
     *
     * @param where which of them, or null for all
     */
    record CellNote(String text, @Nullable Expr where, Span at) {}

    /**
     * How values are printed.
     *
     * @param name for instance {@code money}
     * @param argument its text or number, or null
     */
    record Format(String name, @Nullable String argument) {}

    /** Something that must hold for every row. */
    record Check(Expr condition, @Nullable String message, boolean warn, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.check(this);
        }
    }

    /** Fields whose combination may stand once only. */
    record CheckUnique(List<Ref> fields, @Nullable String message, boolean warn, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.checkUnique(this);
        }
    }

    /** {@code check rows >= 1}. */
    record CheckRows(Op op, Expr count, @Nullable String message, boolean warn, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.checkRows(this);
        }
    }

    /** {@code check takings adds up to settled.net}: two sums that must be equal. */
    record CheckSum(
            Ref field, Ref table, Ref theirs, @Nullable String message, boolean warn, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.checkSum(this);
        }
    }

    /** Figures that are not shown in rows that meet a condition. */
    record Hide(List<Ref> figures, Expr condition, Span at) implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.hide(this);
        }
    }

    /**
     * Missing values taken from the rows before or after.
     *
     * @param within the partition, empty for all rows
     * @param fromAfter whether from the rows after
     * @param atMost how many rows away at most, or a span of time, or null
     */
    record Fill(
            List<Ref> fields,
            List<Expr> within,
            List<Expr.SortKey> along,
            boolean fromAfter,
            @Nullable Expr atMost,
            Span at)
            implements Clause {
        @Override
        public <R extends @Nullable Object> R accept(Visitor<R> visitor) {
            return visitor.fill(this);
        }
    }

    /** One method for each kind of clause. */
    interface Visitor<R extends @Nullable Object> {
        R only(Only clause);

        R add(Add clause);

        R per(Per clause);

        R totals(Totals clause);

        R sort(Sort clause);

        R first(First clause);

        R distinct(Distinct clause);

        R sample(Sample clause);

        R shuffle(Shuffle clause);

        R match(Match clause);

        R append(Append clause);

        R gapless(Gapless clause);

        R fill(Fill clause);

        R turn(Turn clause);

        R rename(Rename clause);

        R drop(Drop clause);

        R columns(Columns clause);

        R check(Check clause);

        R checkUnique(CheckUnique clause);

        R checkRows(CheckRows clause);

        R checkSum(CheckSum clause);

        R hide(Hide clause);
    }
}
