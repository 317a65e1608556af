package dev.fiesta.source;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.cells.BadCell;
import dev.fiesta.source.cells.CellReader;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.cells.FoundCells;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** One reading of files of lines by several workers: a record belongs to the piece in which its line starts. */
final class LineScan implements PiecedScan, ScanInTurns {
    /** A field that fewer than one in so many records have. */
    private static final int SPARSE = 8;

    private final LineSource source;
    private final List<FileChannel> channels = new ArrayList<>();
    private final int[] firstPiece;
    private final int from;
    private final PieceTurns turns;

    /** A reading of all pieces. */
    LineScan(LineSource source) {
        this(source, 0, Integer.MAX_VALUE);
    }

    /** A reading of some pieces, see {@link Portable#stretch}. */
    LineScan(LineSource source, int from, int to) {
        this.source = source;
        this.from = from;
        List<LineSource.Part> parts = source.parts();
        this.firstPiece = new int[parts.size() + 1];
        for (int i = 0; i < parts.size(); i++) {
            firstPiece[i + 1] =
                    Math.toIntExact(firstPiece[i] + (parts.get(i).size() + source.piece() - 1) / source.piece());
            try {
                channels.add(FileChannel.open(parts.get(i).file().path(), StandardOpenOption.READ));
            } catch (IOException e) {
                DelimitedScan.close(channels);
                throw new MachineException("'" + parts.get(i).file().name() + "' cannot be opened", e);
            }
        }
        this.turns = new PieceTurns(Math.min(to, pieces()) - from, piece -> from + piece);
    }

    @Override
    public int pieces() {
        return firstPiece[firstPiece.length - 1];
    }

    @Override
    public int pieceBytes() {
        return source.piece();
    }

    @Override
    public PieceTurns turns() {
        return turns;
    }

    @Override
    public Source.Reader reader(Notices notices) {
        return new PieceReader(notices);
    }

    @Override
    public void close() {
        stop(0);
        DelimitedScan.close(channels);
    }

    /** The reading of one worker. */
    private final class PieceReader implements Source.Reader {
        private final Dialect layout = new Dialect(
                LineCells.DELIMITER,
                (byte) '"',
                (byte) '\n',
                (byte) 0,
                0,
                false,
                source.dialect().decimalComma(),
                source.dialect().quotedEmptyAsMissing(),
                false,
                null,
                source.dialect().missing(),
                source.dialect().bracketsNegative());
        private final List<FieldSpec> fields = source.fields();
        private final CellReader[] readers = fields.stream()
                .map(f -> CellReader.of(f, layout, FieldSpec.texts(fields)))
                .toArray(CellReader[]::new);
        private final LineCells records = new LineCells(fields);
        private final FoundCells cells = new FoundCells(1);
        private final CellNotes notes = new CellNotes(source);
        private final @Nullable Judge judge;
        private int part = -1;
        private int piece;
        private @Nullable LineReader lines;

        PieceReader(Notices notices) {
            notes.tell(notices);
            Judge.Judging judging = source.judging();
            judge = judging == null ? null : new Judge(fields, judging);
        }

        @Override
        public void tell(Notices notices) {
            notes.tell(notices);
        }

        @Override
        public long sequence() {
            return piece;
        }

        @Override
        public @Nullable Batch next() {
            while (true) {
                int claimed = turns.claim();
                if (claimed < 0) {
                    return null;
                }
                piece = from + claimed;
                read();
                if (records.rows() > 0) {
                    return judge == null ? batch() : readable(judge);
                }
            }
        }

        private Batch readable(Judge by) {
            Batch all = batch();
            int[] rows = by.readable(judged());
            return rows == null ? all : all.select(rows, rows.length);
        }

        private Judge.Piece judged() {
            return new Judge.Piece() {
                @Override
                public int rows() {
                    return records.rows();
                }

                @Override
                public Map<Integer, String> odd() {
                    return records.odd();
                }

                @Override
                public int row(int offset) {
                    return records.row(offset);
                }

                @Override
                public long start(int row) {
                    return records.line(row);
                }

                @Override
                public long end(int row) {
                    return records.lineEnd(row);
                }

                @Override
                public void read(CellReader reader, int field, int[] rows, CellReader.Counted counted) {
                    records.column(field, cells);
                    reader.read(records.bytes(), cells, 0, rows, rows.length, counted);
                }
            };
        }

        @Override
        public void settled(int rows) {
            if (judge != null) {
                judge.settle(piece, Math.min(rows, records.rows()));
            }
        }

        @Override
        public Batch again(long sequence) {
            piece = Math.toIntExact(sequence);
            read();
            return batch();
        }

        private void read() {
            enter();
            long first = (long) (piece - firstPiece[part]) * source.piece();
            LineReader reader = Objects.requireNonNull(lines);
            records.clear();
            reader.read(first, first + source.piece(), records, line -> records.endRow(line, reader.behind()));
            if (!records.unknown().isEmpty()) {
                throw widened();
            }
        }

        private Batch batch() {
            records.gather();
            notes.begin(piece);
            return Batch.lazy(
                    records.rows(),
                    readers.length + Source.HIDDEN,
                    notes.loader(this::load),
                    piece,
                    row -> place(records.line(row)));
        }

        private void enter() {
            int at = Math.max(0, part);
            while (piece >= firstPiece[at + 1]) {
                at++;
            }
            if (at != part) {
                part = at;
                lines = new LineReader(
                        source,
                        source.parts().get(part),
                        channels.get(part),
                        judge == null ? null : (line, why) -> records.odd(why));
                if (judge != null) {
                    judge.begin(part, layout);
                }
            }
        }

        private Column load(int field, int @Nullable [] rows, int count) {
            String file = source.parts().get(part).file().name();
            if (field == readers.length) {
                return Column.constant(Type.TEXT, file, count);
            }
            if (field > readers.length) {
                long[] origins = new long[count];
                for (int i = 0; i < count; i++) {
                    origins[i] = Source.origin(part, records.line(rows == null ? i : rows[i]));
                }
                return new LongColumn(Type.INTEGER, origins, count, null);
            }
            try {
                return column(field, rows, count);
            } catch (BadCell bad) {
                long line = records.line(records.row(bad.offset));
                LineSource.Part read = source.parts().get(part);
                throw Source.Widened.orFailure(
                        bad,
                        source,
                        f -> source.with(List.of(f)),
                        () -> bad.at(file, read.counted(), read.number(channels.get(part), line)));
            }
        }

        /** A field that nearly no record has is read where it stands, and then spread over the rows. */
        private Column column(int field, int @Nullable [] rows, int count) {
            CellReader reader = readers[field];
            CellReader.Counted counted = (kind, spec, offset, value) -> {
                int row = records.row(offset);
                notes.met(kind, field, spec.name(), row, value, place(records.line(row)));
            };
            int there = records.cells(field);
            if (rows != null
                    || there * SPARSE > records.rows()
                    || fields.get(field).byDefault() != null) {
                records.column(field, cells);
                return reader.read(records.bytes(), cells, 0, rows, count, counted);
            }
            int[] spread = records.thinned(field, cells);
            return reader.read(records.bytes(), cells, 0, null, there + 1, counted)
                    .take(spread, count);
        }

        private Supplier<@Nullable String> place(long offset) {
            return source.parts().get(part).place(offset);
        }

        private Source.Widened widened() {
            List<FieldSpec> more = new ArrayList<>();
            List<Source.Widening> told = new ArrayList<>();
            records.unknown().forEach((name, type) -> {
                more.add(FieldSpec.undeclared(name).as(type));
                told.add(new Source.Widening(name, Type.EMPTY, type));
            });
            return new Source.Widened(source, source.with(more), told);
        }
    }
}
