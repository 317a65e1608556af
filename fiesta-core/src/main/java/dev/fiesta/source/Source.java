package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.cells.BadCell;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Where records come from. Describes the records; reading starts with {@link #scan}. */
public interface Source {
    /** The number of fields that batches have behind those of the schema. */
    int HIDDEN = 2;

    /**
     * The fields of a record. Batches have {@link #HIDDEN} more behind them: the name of the file that a record comes from, and
     * its {@link #origin}.
     */
    Schema schema();

    /** Tells a record from all others of its source: the place of its file in the list, and where it starts there. */
    static long origin(int file, long start) {
        return (long) file << 44 | start;
    }

    /** Where a record starts in its file. */
    static long start(long origin) {
        return origin & (1L << 44) - 1;
    }

    /** The place of the file of a record in the list. */
    static int file(long origin) {
        return (int) (origin >>> 44);
    }

    /** Starts to read from the beginning. */
    Scan scan(Notices notices);

    /** The same records, where values that do not fit a type that was worked out are missing, and counted. */
    default Source lenient() {
        return this;
    }

    /**
     * The same records without those that cannot be read in some fields, which are set aside.
     *
     * @param fields the fields that are used, by place
     * @throws UnsupportedOperationException when records of this kind cannot be set aside
     */
    default Source settingAside(java.util.BitSet fields, Aside aside) {
        throw new UnsupportedOperationException("records of this kind cannot be set aside");
    }

    /** What is known of the values of each of its groups of rows without reading them; none where nothing is. */
    default List<dev.fiesta.value.Bounds.Known> groups() {
        return List.of();
    }

    /** Tells the numbers of its records; null where a copy of them could not stand for them, because they have none, or may differ. */
    default @Nullable Numbering numbering() {
        return null;
    }

    /** What tells whether the files that the records come from are the ones they were, by their names; none where nobody looked. */
    default Map<String, String> sums() {
        return Map.of();
    }

    /** The numbers by which records are told of, for whoever goes through them in their order. */
    interface Numbering extends AutoCloseable {
        /** What they are counted in, such as {@code line}. */
        String counted();

        /** @param origin of a record; none that stands before one asked for already */
        long of(long origin);

        @Override
        void close();
    }

    /** Whether the type of a field was told. */
    default boolean isDeclared(int field) {
        return true;
    }

    /** A field whose values need a wider type than was worked out. */
    record Widening(String field, Type from, Type to) {}

    /** Thrown when values met later need wider types, or a copy is damaged: reading starts again from {@link #source}. */
    final class Widened extends RuntimeException {
        private static final long serialVersionUID = 1L;
        private final transient Source from;
        private final transient Source source;
        private final transient List<Widening> fields;

        public Widened(Source from, Source source, List<Widening> fields) {
            super("types are widened", null, false, false);
            this.from = from;
            this.source = source;
            this.fields = List.copyOf(fields);
        }

        /** What comes of a cell that cannot be read: a new start with a wider type, or the failure. */
        static RuntimeException orFailure(
                BadCell bad, Source source, Function<FieldSpec, Source> with, Supplier<DataException> failure) {
            Type wider = bad.wider();
            return wider == null
                    ? failure.get()
                    : new Widened(
                            source,
                            with.apply(bad.field.as(wider)),
                            List.of(new Widening(bad.field.name(), bad.field.type(), wider)));
        }

        /** The source that was read. */
        public Source from() {
            return from;
        }

        /** The same records with the wider types. */
        public Source source() {
            return source;
        }

        /** The fields that are read again. */
        public List<Widening> fields() {
            return fields;
        }
    }

    /** One reading of all records, shared by several workers. */
    interface Scan extends AutoCloseable {
        /** The reading of one worker, who counts by {@code notices}. */
        Reader reader(Notices notices);

        /** The part of the source that has been given out, from 0 to 1; negative where nobody knows. */
        default double share() {
            return -1;
        }

        /** Whether a piece that was read can be read again, by {@link Reader#again}, until this is closed. */
        default boolean readsAgain() {
            return false;
        }

        /** Lets no piece from this sequence on be begun: what is wanted has been found, or something is wrong there. */
        void stop(long sequence);

        @Override
        void close();
    }

    /** Reads batches for one worker. */
    interface Reader {
        /** The next batch, valid until the next call; null when all records have been given out. */
        @Nullable
        Batch next();

        /**
         * The batch of a piece that was read before; valid until the next call. Pieces are asked for in ascending order.
         *
         * @param sequence the sequence that the batch had
         */
        default Batch again(long sequence) {
            throw new UnsupportedOperationException("this source is read once");
        }

        /** From now on what is read counts here. */
        default void tell(Notices notices) {}

        /** The rows of the batch given out last that stood before a place in it are used: what was set aside among them counts. */
        default void settled(int rows) {}

        /** Tells what is wrong behind the rows of the batch given out last, once those have been worked on. */
        default void finish() {}

        /** The sequence of the batch given out last or being read. */
        long sequence();
    }
}
