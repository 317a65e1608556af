package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.cells.BadCell;
import dev.fiesta.source.cells.CellFinder;
import dev.fiesta.source.cells.CellReader;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.FileLines;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** The reading of one worker of a {@link DelimitedScan}: pieces, their cells, and batches that look into them when they are asked. */
final class PieceReader implements Source.Reader {
    private static final int MOST_IN_A_LINE = 16 << 20;

    private final DelimitedScan scan;
    private final DelimitedSource source;
    private final CellReader[] readers;
    private byte[] bytes;
    private long base;
    private int filled;
    private @Nullable CellFinder cells;
    private final CellNotes notes;
    private final @Nullable Judge judge;
    private int part = -1;
    private int piece;

    PieceReader(DelimitedScan scan, DelimitedSource source, Notices notices) {
        this.scan = scan;
        this.source = source;
        this.readers = new CellReader[source.fields().size()];
        this.bytes = new byte[source.piece() * 2 + CellFinder.PADDING];
        this.notes = new CellNotes(source);
        notes.tell(notices);
        Judge.Judging judging = source.judging();
        judge = judging == null ? null : new Judge(source.fields(), judging);
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
            piece = scan.claim();
            if (piece < 0) {
                return null;
            }
            enter();
            CellFinder found = read();
            if (found == null) {
                return null;
            }
            if (found.rows() > 0 || found.ragged() != null) {
                return judge == null ? batch(found) : readable(judge, found);
            }
        }
    }

    private Batch readable(Judge by, CellFinder found) {
        Batch all = batch(found);
        int[] rows = by.readable(judged(found));
        return rows == null ? all : all.select(rows, rows.length);
    }

    private Judge.Piece judged(CellFinder found) {
        DelimitedSource.Part file = source.parts().get(part);
        return new Judge.Piece() {
            @Override
            public int rows() {
                return found.rows();
            }

            @Override
            public Map<Integer, String> odd() {
                Map<Integer, String> told = new TreeMap<>();
                found.odd().forEach((row, odd) -> told.put(row, odd.why(file.width())));
                return told;
            }

            @Override
            public int row(int offset) {
                return found.row(offset);
            }

            @Override
            public long start(int row) {
                return base + found.rowStart(row);
            }

            @Override
            public long end(int row) {
                return base + found.rowEnd(row);
            }

            @Override
            public void read(CellReader reader, int field, int[] rows, CellReader.Counted counted) {
                reader.read(bytes, found, file.cells()[field], rows, rows.length, counted);
            }
        };
    }

    @Override
    public void settled(int rows) {
        if (judge != null && cells != null) {
            judge.settle(piece, Math.min(rows, cells.rows()));
        }
    }

    @Override
    public Batch again(long sequence) {
        piece = Math.toIntExact(sequence);
        enter();
        return batch(Objects.requireNonNull(read(), "a piece that was read has a known start"));
    }

    private void enter() {
        int at = part;
        while (at < 0 || piece >= scan.firstPiece(at + 1)) {
            at++;
        }
        if (at != part) {
            part = at;
            DelimitedSource.Part now = source.parts().get(part);
            cells = new CellFinder(now.dialect(), now.width(), judge != null);
            if (judge != null) {
                judge.begin(part, now.dialect());
            }
            for (int f = 0; f < readers.length; f++) {
                readers[f] = readers[f] != null && sameDialect(at)
                        ? readers[f]
                        : CellReader.of(source.fields().get(f), now.dialect(), FieldSpec.texts(source.fields()));
            }
        }
    }

    private boolean sameDialect(int at) {
        if (at == 0) {
            return false;
        }
        Dialect dialect = source.parts().get(at).dialect();
        Dialect before = source.parts().get(at - 1).dialect();
        return dialect == before || dialect.equals(before);
    }

    /** The cells of the piece; null when reading was stopped. */
    private @Nullable CellFinder read() {
        DelimitedSource.Part file = source.parts().get(part);
        long from = file.dataStart() + (long) (piece - scan.firstPiece(part)) * source.piece();
        long behind = Math.min(from + source.piece(), file.size());
        long guess = scan.start(piece);
        base = guess == PiecedScan.UNKNOWN ? from - 1 : Math.min(guess, from);
        filled = 0;
        fill(file, behind);
        if (guess == PiecedScan.UNKNOWN) {
            int at = 0;
            while (at < filled && bytes[at] != file.dialect().newline()) {
                at++;
            }
            guess = base + at + 1;
        }
        guess = tried(file, guess, behind) ? guess : PiecedScan.UNKNOWN;
        long start = scan.await(piece);
        if (start == PiecedScan.UNKNOWN) {
            return null;
        }
        if (start != guess) {
            find(file, start, behind);
        }
        CellFinder found = Objects.requireNonNull(cells);
        scan.publish(piece + 1, base + found.behind());
        return found;
    }

    /** Finds cells from a guess; what is wrong there may be the guess, and is then told when the start is known. */
    private boolean tried(DelimitedSource.Part file, long guess, long behind) {
        try {
            find(file, guess, behind);
            return true;
        } catch (DataException e) {
            return false;
        }
    }

    private void find(DelimitedSource.Part file, long start, long behind) {
        CellFinder finder = Objects.requireNonNull(cells);
        long limit = Math.max(behind, start);
        while (base + filled < Math.min(limit, file.size())) {
            fill(file, limit);
        }
        while (!finder.find(bytes, (int) (start - base), (int) (limit - base), filled, base + filled >= file.size())) {
            if (filled > MOST_IN_A_LINE + source.piece()) {
                long line = line(base + finder.behind());
                throw new DataException(
                        file.name() + ", line " + line + ": a record is longer than 16 MiB; a quote may not be closed.",
                        file.name(),
                        line,
                        null,
                        null);
            }
            fill(file, Math.min(file.size(), base + filled + Math.max(1 << 16, filled / 2)));
        }
    }

    /** Reads on to a place of the file, at least. */
    private void fill(DelimitedSource.Part file, long to) {
        int wanted = Math.toIntExact(Math.min(file.size(), to + (1 << 12)) - base);
        if (wanted + CellFinder.PADDING > bytes.length) {
            bytes = Arrays.copyOf(bytes, Math.max(wanted + CellFinder.PADDING, bytes.length * 3 / 2));
        }
        ByteBuffer buffer = ByteBuffer.wrap(bytes, filled, Math.max(0, wanted - filled));
        try {
            while (buffer.hasRemaining()) {
                int count = scan.channel(part).read(buffer, base + buffer.position());
                if (count < 0) {
                    throw new DataException(
                            file.name() + " became shorter while it was read.", file.name(), 0, null, null);
                }
            }
        } catch (IOException e) {
            throw new MachineException("'" + file.name() + "' cannot be read", e);
        }
        filled = Math.max(filled, wanted);
    }

    private Batch batch(CellFinder found) {
        if (found.rows() == 0) {
            throw ragged(found);
        }
        DelimitedSource.Part file = source.parts().get(part);
        notes.begin(piece);
        Batch.Loader loader = notes.loader((field, rows, count) -> {
            if (field == readers.length) {
                return Column.constant(Type.TEXT, file.name(), count);
            }
            if (field > readers.length) {
                return origins(found, rows, count);
            }
            try {
                return readers[field].read(
                        bytes,
                        found,
                        file.cells()[field],
                        rows,
                        count,
                        (kind, spec, offset, value) ->
                                notes.met(kind, field, spec.name(), found.row(offset), value, place(base + offset)));
            } catch (BadCell bad) {
                throw Source.Widened.orFailure(
                        bad, source, source::with, () -> bad.at(file.name(), LineSource.LINE, line(base + bad.offset)));
            }
        });
        return Batch.lazy(
                found.rows(), readers.length + Source.HIDDEN, loader, piece, row -> place(base + found.rowStart(row)));
    }

    private Column origins(CellFinder found, int @Nullable [] rows, int count) {
        long[] origins = new long[count];
        for (int i = 0; i < count; i++) {
            origins[i] = Source.origin(part, base + found.rowStart(rows == null ? i : rows[i]));
        }
        return new LongColumn(Type.INTEGER, origins, count, null);
    }

    @Override
    public void finish() {
        if (cells != null && cells.ragged() != null && cells.rows() > 0) {
            throw ragged(cells);
        }
    }

    private DataException ragged(CellFinder found) {
        DelimitedSource.Part file = source.parts().get(part);
        CellFinder.Ragged row = Objects.requireNonNull(found.ragged());
        long line = line(base + row.start());
        if (row.cells() == CellFinder.Ragged.UNCLOSED) {
            return new DataException(
                    file.name() + ", line " + line + ": " + row.why(file.width()) + ".\n  "
                            + "Close it, or add another quote to the input, such as quote '~', if quotes are just signs.",
                    file.name(),
                    line,
                    null,
                    null);
        }
        return new DataException(
                file.name() + ", line " + line + ": " + row.why(file.width()) + ".\n  "
                        + "Repair the line"
                        + (row.cells() < file.width()
                                ? ", or add 'short rows as missing' to the input."
                                : "; a value that holds a delimiter must stand in quotes."),
                file.name(),
                line,
                null,
                null);
    }

    private Supplier<@Nullable String> place(long offset) {
        DelimitedSource.Part file = source.parts().get(part);
        return new FilePlace(
                file.name(), file.path(), file.home(), offset, file.dialect().newline());
    }

    /** The line of a place in the file. */
    private long line(long offset) {
        byte end = source.parts().get(part).dialect().newline();
        return FileLines.line(scan.channel(part), offset, end);
    }
}
