package dev.fiesta.parquet;

import dev.fiesta.parquet.ParquetSource.Part;
import dev.fiesta.parquet.ParquetSource.Piece;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.Recast;
import dev.fiesta.source.Source;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.function.IntUnaryOperator;
import java.util.function.Supplier;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.jspecify.annotations.Nullable;

/** The reading of one worker: groups of rows, as they are given out. */
final class ParquetReader implements Source.Reader {
    /** Gives groups out. */
    interface Turns {
        /** The first group that nobody has, or -1. */
        int claim();

        /** Whether nobody wants a piece any more. */
        boolean isStopped(int piece);
    }

    /** A column of the group that a worker reads, up to a row. */
    private static final class Cursor {
        final ParquetChunk chunk;
        int at;

        Cursor(ParquetChunk chunk) {
            this.chunk = chunk;
        }
    }

    private final ParquetSource source;
    private final List<Part> parts;
    private final List<FieldSpec> fields;
    private final Turns turns;
    private Notices notices;
    private int group = -1;
    private int piece = -1;
    private int part = -1;
    private int open = -1;
    private @Nullable ParquetFileReader file;
    private final Map<Integer, Cursor> cursors = new HashMap<>();

    ParquetReader(ParquetSource source, Turns turns, Notices notices) {
        this.source = source;
        this.parts = source.parts();
        this.fields = source.fields();
        this.turns = turns;
        this.notices = notices;
    }

    @Override
    public void tell(Notices to) {
        notices = to;
    }

    @Override
    public long sequence() {
        return Math.max(0, piece);
    }

    @Override
    public @Nullable Batch next() {
        piece++;
        while (group < 0 || piece >= source.firstPiece(group + 1)) {
            group = turns.claim();
            if (group < 0) {
                return null;
            }
            piece = source.firstPiece(group);
        }
        return turns.isStopped(piece) ? null : batch();
    }

    @Override
    public Batch again(long sequence) {
        piece = Math.toIntExact(sequence);
        group = 0;
        while (source.firstPiece(group + 1) <= piece) {
            group++;
        }
        return batch();
    }

    private Batch batch() {
        Piece at = source.piece(piece);
        return Batch.lazy(
                at.rows(),
                fields.size() + Source.HIDDEN,
                new Batch.Loader() {
                    @Override
                    public Column load(int field, int @Nullable [] rows, int count) {
                        return ParquetReader.this.load(at, field, rows, count);
                    }

                    @Override
                    public @Nullable Bounds bounds(int field) {
                        return field < fields.size() ? source.bounds(at, field) : null;
                    }
                },
                piece,
                row -> place(at, row));
    }

    private Supplier<@Nullable String> place(Piece at, int row) {
        return () -> parts.get(at.part()).file().name() + ", row " + (at.firstInFile() + row + 1);
    }

    private Column load(Piece at, int field, int @Nullable [] rows, int count) {
        Paths.Named named = parts.get(at.part()).file();
        if (field == fields.size()) {
            return Column.constant(Type.TEXT, named.name(), count);
        }
        if (field > fields.size()) {
            return origins(at, rows, count);
        }
        FieldSpec spec = fields.get(field);
        ParquetField column = parts.get(at.part()).columns().get(spec.column());
        if (column == null) {
            return Column.missing(spec.type(), count);
        }
        try {
            Map<Integer, ParquetField.Unfit> odd = new TreeMap<>();
            Map<Integer, String> lost = new TreeMap<>();
            Column all = values(at, field, column, odd, lost);
            Column values = rows == null ? all : all.take(rows, count);
            if (!odd.isEmpty() && spec.badAsMissing()) {
                values = without(values, rows, odd);
                odd.forEach((row, why) -> lost.put(row, why.shown));
            } else if (!odd.isEmpty()) {
                refuse(spec, at, rows, count, odd);
            }
            if (!lost.isEmpty()) {
                count(spec, at, rows, count, lost);
            }
            return ParquetSource.isAsItIs(spec, column) ? values : recast(spec, values, at, rows);
        } catch (IOException | RuntimeException e) {
            throw ParquetOpening.failure(named, e);
        }
    }

    private Column origins(Piece at, int @Nullable [] rows, int count) {
        long[] origins = new long[count];
        for (int i = 0; i < count; i++) {
            origins[i] = Source.origin(at.part(), at.firstInFile() + (rows == null ? i : rows[i]));
        }
        return new LongColumn(Type.INTEGER, origins, count, null);
    }

    /** Values that are none of the type end the run, in rows that are wanted. */
    private void refuse(
            FieldSpec spec, Piece at, int @Nullable [] rows, int count, Map<Integer, ParquetField.Unfit> odd) {
        for (int i = 0; i < count; i++) {
            int row = rows == null ? i : rows[i];
            if (odd.containsKey(row)) {
                throw new DataException(
                        place(at, row).get() + ": field " + spec.name() + ": "
                                + odd.get(row).getMessage(),
                        parts.get(at.part()).file().name(),
                        at.firstInFile() + row + 1,
                        spec.name(),
                        null);
            }
        }
    }

    /** Values that are none of the type are missing. */
    private static Column without(Column values, int @Nullable [] rows, Map<Integer, ParquetField.Unfit> odd) {
        int[] kept = new int[values.size()];
        for (int i = 0; i < kept.length; i++) {
            kept[i] = odd.containsKey(rows == null ? i : rows[i]) ? -1 : i;
        }
        return values.take(kept, kept.length);
    }

    /** What is missing because it is none of the type. */
    private void count(FieldSpec spec, Piece at, int @Nullable [] rows, int count, Map<Integer, String> lost) {
        for (int i = 0; i < count; i++) {
            int row = rows == null ? i : rows[i];
            String number = lost.get(row);
            if (number != null) {
                met(Notices.Kind.BAD_AS_MISSING, spec, at, row, number);
            }
        }
    }

    private void met(Notices.Kind kind, FieldSpec spec, Piece at, int row, String value) {
        notices.cell(source, kind, spec.name(), sequence(), row, value, place(at, row));
    }

    private Column recast(FieldSpec spec, Column values, Piece at, int @Nullable [] rows) {
        IntUnaryOperator inBatch = i -> rows == null ? i : rows[i];
        return new Recast(spec, source.dialect())
                .of(
                        values,
                        i -> place(at, inBatch.applyAsInt(i)),
                        (kind, i, value) -> met(kind, spec, at, inBatch.applyAsInt(i), value));
    }

    /** Columns go forwards only; what lies before a batch that was not asked for is passed over. */
    private Column values(
            Piece at, int field, ParquetField column, Map<Integer, ParquetField.Unfit> odd, Map<Integer, String> lost)
            throws IOException {
        enter(at);
        Cursor cursor = cursors.get(field);
        if (cursor == null || cursor.at > at.firstInGroup()) {
            cursor = new Cursor(chunk(at, column));
            cursors.put(field, cursor);
        }
        cursor.chunk.skip(at.firstInGroup() - cursor.at);
        cursor.at = at.firstInGroup() + at.rows();
        return cursor.chunk.take(at.rows(), odd, lost);
    }

    private void enter(Piece at) throws IOException {
        if (part != at.part()) {
            close();
            file = ParquetOpening.open(parts.get(at.part()).file());
            part = at.part();
            open = -1;
        }
        if (open != at.group()) {
            cursors.clear();
            open = at.group();
        }
    }

    private ParquetChunk chunk(Piece at, ParquetField column) throws IOException {
        ParquetFileReader from = Objects.requireNonNull(file);
        from.setRequestedSchema(List.of(column.descriptor()));
        return new ParquetChunk(column, from.readRowGroup(at.group()).getPageReader(column.descriptor()));
    }

    void close() {
        try {
            if (file != null) {
                file.close();
            }
        } catch (IOException e) {
            part = -1; // nothing was written: there is nothing to lose
        }
        cursors.clear();
        file = null;
        part = -1;
    }
}
