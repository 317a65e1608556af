package dev.fiesta.parquet;

import dev.fiesta.problem.Notices;
import dev.fiesta.source.PieceTurns;
import dev.fiesta.source.PiecedScan;
import dev.fiesta.source.Portable;
import dev.fiesta.source.PortableSources;
import dev.fiesta.source.ScanInTurns;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import java.io.DataOutput;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
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
    record Part(Paths.Named file, Map<String, ParquetField> columns, List<BlockMetaData> groups) {
        Part placed(UnaryOperator<Path> place) {
            return new Part(new Paths.Named(file.name(), Portable.placed(file.path(), place)), columns, groups);
        }
    }

    /** Where a batch stands. */
    record Piece(int part, int group, int firstInGroup, int rows, long firstInFile) {}

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

    List<Part> parts() {
        return parts;
    }

    List<FieldSpec> fields() {
        return fields;
    }

    Dialect dialect() {
        return dialect;
    }

    Piece piece(int number) {
        return pieces.get(number);
    }

    /** The number of the first piece of a group, or behind the last group that of all pieces. */
    int firstPiece(int group) {
        return firstPieces.get(group);
    }

    private int groupCount() {
        return firstPieces.size() - 1;
    }

    @Override
    public ParquetSource placed(UnaryOperator<Path> place) {
        return new ParquetSource(parts.stream().map(p -> p.placed(place)).toList(), fields, dialect, remarks);
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
    private final class GroupScan implements PiecedScan, ScanInTurns, ParquetReader.Turns {
        private final int from;
        private final PieceTurns turns;
        private final List<ParquetReader> readers = new ArrayList<>();

        /** @param from the first group, {@code to} the first behind them */
        GroupScan(int from, int to) {
            this.from = from;
            this.turns = new PieceTurns(to - from, group -> firstPieces.get(from + group));
        }

        @Override
        public PieceTurns turns() {
            return turns;
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

        @Override
        public synchronized Reader reader(Notices notices) {
            ParquetReader reader = new ParquetReader(ParquetSource.this, this, notices);
            readers.add(reader);
            return reader;
        }

        @Override
        public boolean isStopped(int piece) {
            return turns.isStopped(piece);
        }

        @Override
        public int claim() {
            int group = turns.claim();
            return group < 0 ? -1 : from + group;
        }

        @Override
        public synchronized void close() {
            stop(0);
            readers.forEach(ParquetReader::close);
        }
    }

    static boolean isAsItIs(FieldSpec spec, ParquetField column) {
        return spec.type().equals(column.type()) && spec.byDefault() == null;
    }

    /** What a file tells of a field in a group of rows. */
    @Nullable
    Bounds bounds(Piece at, int field) {
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
