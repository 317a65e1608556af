package dev.fiesta.parquet;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.PieceTurns;
import dev.fiesta.source.PiecedScan;
import dev.fiesta.source.Portable;
import dev.fiesta.source.PortableSources;
import dev.fiesta.source.Recast;
import dev.fiesta.source.Source;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Column;
import dev.fiesta.value.Field;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.DataOutput;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.function.IntUnaryOperator;
import java.util.function.Supplier;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.hadoop.metadata.BlockMetaData;
import org.apache.parquet.hadoop.metadata.ColumnChunkMetaData;
import org.jspecify.annotations.Nullable;

/** Records in files of columns. A worker takes groups of rows; a column of a group is read when somebody asks for it. */
final class ParquetSource implements Portable {
    /**
     * A file.
     *
     * @param columns those that can be read, by name
     * @param groups of rows
     */
    record Part(Paths.Named file, Map<String, ParquetField> columns, List<BlockMetaData> groups) {}

    /** Where a batch stands. */
    private record Piece(int part, int group, int firstInGroup, int rows, long firstInFile) {}

    private static final int BATCH = 8192;

    private final List<Part> parts;
    private final List<FieldSpec> fields;
    private final Dialect dialect;
    private final List<String> remarks;
    private final List<Piece> pieces = new ArrayList<>();
    /** For each group of all files the number of its first piece, and behind the last their number. */
    private final List<Integer> firstPieces = new ArrayList<>();

    ParquetSource(List<Part> parts, List<FieldSpec> fields, Dialect dialect, List<String> remarks) {
        this.parts = List.copyOf(parts);
        this.fields = List.copyOf(fields);
        this.dialect = dialect;
        this.remarks = List.copyOf(remarks);
        for (int p = 0; p < parts.size(); p++) {
            long inFile = 0;
            List<BlockMetaData> groups = parts.get(p).groups();
            for (int g = 0; g < groups.size(); g++) {
                long rows = groups.get(g).getRowCount();
                if (rows > 0) {
                    firstPieces.add(pieces.size());
                }
                for (long at = 0; at < rows; at += BATCH) {
                    int count = (int) Math.min(BATCH, rows - at);
                    pieces.add(new Piece(p, g, Math.toIntExact(at), count, inFile + at));
                }
                inFile += rows;
            }
        }
        firstPieces.add(pieces.size());
    }

    @Override
    public Schema schema() {
        return new Schema(
                fields.stream().map(f -> new Field(f.name(), f.type())).toList());
    }

    @Override
    public ParquetSource lenient() {
        return new ParquetSource(parts, fields.stream().map(FieldSpec::lenient).toList(), dialect, remarks);
    }

    @Override
    public List<Bounds.Known> groups() {
        return firstPieces.subList(0, firstPieces.size() - 1).stream()
                .map(pieces::get)
                .<Bounds.Known>map(piece -> field -> field < fields.size() ? bounds(piece, field) : null)
                .toList();
    }

    @Override
    public Scan scan(Notices notices) {
        remarks.forEach(notices::warn);
        return new GroupScan(0, groupCount());
    }

    private int groupCount() {
        return firstPieces.size() - 1;
    }

    @Override
    public boolean isPortable() {
        return true;
    }

    @Override
    public PiecedScan stretch(int from, int to, long start) {
        return new GroupScan(from, to);
    }

    @Override
    public Widened widened(List<Widening> wider) {
        throw new IllegalStateException("files of columns tell their types");
    }

    @Override
    public void write(DataOutput out) throws IOException {
        List<Paths.Named> files = parts.stream().map(Part::file).toList();
        PortableSources.write(ParquetFiles.FORMAT, new PortableSources.Told(files, fields, dialect), out);
    }

    /** One reading: groups of rows are given out in order, and are what others may read apart. */
    private final class GroupScan implements PiecedScan {
        private final int from;
        private final PieceTurns turns;
        private final List<GroupReader> readers = new ArrayList<>();

        /** @param from the first group, {@code to} the first behind them */
        GroupScan(int from, int to) {
            this.from = from;
            this.turns = new PieceTurns(to - from, group -> firstPieces.get(from + group));
        }

        @Override
        public int pieces() {
            return groupCount();
        }

        @Override
        public int pieceBytes() {
            long bytes = parts.stream()
                    .flatMap(p -> p.groups().stream())
                    .mapToLong(BlockMetaData::getCompressedSize)
                    .sum();
            return (int) Math.max(1, Math.min(Integer.MAX_VALUE, bytes / Math.max(1, groupCount())));
        }

        /** Groups begin where the file says, whoever reads them. */
        @Override
        public long start(int piece) {
            return piece;
        }

        @Override
        public void publish(int piece, long start) {}

        @Override
        public synchronized Reader reader(Notices notices) {
            GroupReader reader = new GroupReader(this, notices);
            readers.add(reader);
            return reader;
        }

        @Override
        public double share() {
            return turns.share();
        }

        @Override
        public boolean readsAgain() {
            return true;
        }

        @Override
        public void stop(long sequence) {
            turns.stop(sequence);
        }

        /** The first piece of a group that nobody has, or -1. */
        int claim() {
            int group = turns.claim();
            return group < 0 ? -1 : from + group;
        }

        @Override
        public synchronized void close() {
            stop(0);
            readers.forEach(GroupReader::close);
        }
    }

    /** A column of the group that a worker reads, up to a row. */
    private static final class Cursor {
        final ParquetChunk chunk;
        int at;

        Cursor(ParquetChunk chunk) {
            this.chunk = chunk;
        }
    }

    /** The reading of one worker. */
    private final class GroupReader implements Reader {
        private final GroupScan scan;
        private Notices notices;
        private int group = -1;
        private int piece = -1;
        private int part = -1;
        private int open = -1;
        private @Nullable ParquetFileReader file;
        private final Map<Integer, Cursor> cursors = new HashMap<>();

        GroupReader(GroupScan scan, Notices notices) {
            this.scan = scan;
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
            while (group < 0 || piece >= firstPieces.get(group + 1)) {
                group = scan.claim();
                if (group < 0) {
                    return null;
                }
                piece = firstPieces.get(group);
            }
            return scan.turns.isStopped(piece) ? null : batch();
        }

        @Override
        public Batch again(long sequence) {
            piece = Math.toIntExact(sequence);
            group = 0;
            while (firstPieces.get(group + 1) <= piece) {
                group++;
            }
            return batch();
        }

        private Batch batch() {
            Piece at = pieces.get(piece);
            return Batch.lazy(
                    at.rows(),
                    fields.size() + HIDDEN,
                    new Batch.Loader() {
                        @Override
                        public Column load(int field, int @Nullable [] rows, int count) {
                            return GroupReader.this.load(at, field, rows, count);
                        }

                        @Override
                        public @Nullable Bounds bounds(int field) {
                            return field < fields.size() ? ParquetSource.this.bounds(at, field) : null;
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
                return isAsItIs(spec, column) ? values : recast(spec, values, at, rows);
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
            notices.cell(ParquetSource.this, kind, spec.name(), sequence(), row, value, place(at, row));
        }

        private Column recast(FieldSpec spec, Column values, Piece at, int @Nullable [] rows) {
            IntUnaryOperator inBatch = i -> rows == null ? i : rows[i];
            return new Recast(spec, dialect)
                    .of(
                            values,
                            i -> place(at, inBatch.applyAsInt(i)),
                            (kind, i, value) -> met(kind, spec, at, inBatch.applyAsInt(i), value));
        }

        /** Columns go forwards only; what lies before a batch that was not asked for is passed over. */
        private Column values(
                Piece at,
                int field,
                ParquetField column,
                Map<Integer, ParquetField.Unfit> odd,
                Map<Integer, String> lost)
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

    private static boolean isAsItIs(FieldSpec spec, ParquetField column) {
        return spec.type().equals(column.type()) && spec.byDefault() == null;
    }

    /** What a file tells of a field in a group of rows. */
    private @Nullable Bounds bounds(Piece at, int field) {
        FieldSpec spec = fields.get(field);
        ParquetField column = parts.get(at.part()).columns().get(spec.column());
        if (column == null || !isAsItIs(spec, column)) {
            return null;
        }
        for (ColumnChunkMetaData chunk :
                parts.get(at.part()).groups().get(at.group()).getColumns()) {
            if (chunk.getPath().toDotString().equals(spec.column())) {
                return column.bounds(chunk.getStatistics());
            }
        }
        return null;
    }
}
