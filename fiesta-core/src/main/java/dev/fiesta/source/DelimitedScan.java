package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * One reading of delimited files by several workers. Each takes the next piece of a file, guesses where its first record
 * starts (behind the first line end) and finds its cells; then it waits to be told where the record really starts, which the
 * worker of the piece before knows, and looks again if the guess was wrong (a line end inside quotes). So quotes are read
 * right whatever the content, and pieces are still read side by side.
 */
final class DelimitedScan implements Source.Scan {
    private static final int MOST_IN_A_LINE = 16 << 20;
    private static final long UNKNOWN = -1;

    private final DelimitedSource source;
    private final List<FileChannel> channels = new ArrayList<>();
    private final int[] firstPiece;
    private final long[] starts;
    private int next;
    private long stop = Long.MAX_VALUE;

    DelimitedScan(DelimitedSource source) {
        this.source = source;
        List<DelimitedSource.Part> parts = source.parts();
        firstPiece = new int[parts.size() + 1];
        for (int i = 0; i < parts.size(); i++) {
            long length = parts.get(i).size() - parts.get(i).dataStart();
            firstPiece[i + 1] = Math.toIntExact(firstPiece[i] + (length + source.piece() - 1) / source.piece());
        }
        starts = new long[firstPiece[parts.size()] + 1];
        Arrays.fill(starts, UNKNOWN);
        for (int i = 0; i < parts.size(); i++) {
            starts[firstPiece[i]] = parts.get(i).dataStart();
        }
        open(parts);
    }

    private void open(List<DelimitedSource.Part> parts) {
        for (DelimitedSource.Part part : parts) {
            try {
                channels.add(FileChannel.open(part.path(), StandardOpenOption.READ));
            } catch (IOException e) {
                close();
                throw new MachineException("'" + part.name() + "' cannot be opened", e);
            }
        }
    }

    @Override
    public Source.Reader reader(Notices notices) {
        return new PieceReader(notices);
    }

    @Override
    public boolean readsAgain() {
        return true;
    }

    @Override
    public synchronized void stop(long sequence) {
        stop = Math.min(stop, sequence);
        notifyAll();
    }

    @Override
    public void close() {
        stop(0);
        close(channels);
    }

    static void close(List<FileChannel> channels) {
        for (FileChannel channel : channels) {
            try {
                channel.close();
            } catch (IOException e) {
                // Nothing was written: there is nothing to lose.
                continue;
            }
        }
    }

    @Override
    public synchronized double share() {
        int pieces = firstPiece[firstPiece.length - 1];
        return pieces == 0 ? 1 : Math.min(1, (double) next / pieces);
    }

    private synchronized int claim() {
        return next >= stop || next >= firstPiece[firstPiece.length - 1] ? -1 : next++;
    }

    private synchronized long known(int piece) {
        return starts[piece];
    }

    /** Waits for the worker of the piece before; -1 when reading was stopped. */
    private synchronized long await(int piece) {
        try {
            while (starts[piece] == UNKNOWN && piece < stop) {
                wait();
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            stop = 0;
        }
        return starts[piece];
    }

    /** Tells where the first record behind a piece starts; a piece that starts a file knows that already. */
    private synchronized void publish(int piece, long start) {
        if (starts[piece] == UNKNOWN) {
            starts[piece] = start;
        }
        notifyAll();
    }

    /** The reading of one worker. */
    private final class PieceReader implements Source.Reader {
        private final CellReader[] readers = new CellReader[source.fields().size()];
        private byte[] bytes = new byte[source.piece() * 2 + Cells.PADDING];
        private long base;
        private int filled;
        private @Nullable Cells cells;
        private final CellNotes notes = new CellNotes(source);
        private final @Nullable Judge judge;
        private int part = -1;
        private int piece;

        PieceReader(Notices notices) {
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
                piece = claim();
                if (piece < 0) {
                    return null;
                }
                enter();
                Cells found = read();
                if (found == null) {
                    return null;
                }
                if (found.rows() > 0 || found.ragged() != null) {
                    return judge == null ? batch(found) : readable(judge, found);
                }
            }
        }

        private Batch readable(Judge by, Cells found) {
            Batch all = batch(found);
            int[] rows = by.readable(judged(found));
            return rows == null ? all : all.select(rows, rows.length);
        }

        private Judge.Piece judged(Cells found) {
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
            return batch(java.util.Objects.requireNonNull(read(), "a piece that was read has a known start"));
        }

        private void enter() {
            int at = part;
            while (at < 0 || piece >= firstPiece[at + 1]) {
                at++;
            }
            if (at != part) {
                part = at;
                DelimitedSource.Part now = source.parts().get(part);
                cells = new Cells(now.dialect(), now.width(), judge != null);
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
            return at > 0
                    && source.parts()
                            .get(at)
                            .dialect()
                            .equals(source.parts().get(at - 1).dialect());
        }

        /** The cells of the piece; null when reading was stopped. */
        private @Nullable Cells read() {
            DelimitedSource.Part file = source.parts().get(part);
            long from = file.dataStart() + (long) (piece - firstPiece[part]) * source.piece();
            long behind = Math.min(from + source.piece(), file.size());
            long guess = known(piece);
            base = guess == UNKNOWN ? from - 1 : Math.min(guess, from);
            filled = 0;
            fill(file, behind);
            if (guess == UNKNOWN) {
                int at = 0;
                while (at < filled && bytes[at] != file.dialect().newline()) {
                    at++;
                }
                guess = base + at + 1;
            }
            guess = tried(file, guess, behind) ? guess : UNKNOWN;
            long start = await(piece);
            if (start == UNKNOWN) {
                return null;
            }
            if (start != guess) {
                find(file, start, behind);
            }
            Cells found = java.util.Objects.requireNonNull(cells);
            publish(piece + 1, base + found.behind());
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
            Cells finder = java.util.Objects.requireNonNull(cells);
            long limit = Math.max(behind, start);
            while (base + filled < Math.min(limit, file.size())) {
                fill(file, limit);
            }
            while (!finder.find(
                    bytes, (int) (start - base), (int) (limit - base), filled, base + filled >= file.size())) {
                if (filled > MOST_IN_A_LINE + source.piece()) {
                    long line = line(base + finder.behind());
                    throw new DataException(
                            file.name() + ", line " + line
                                    + ": a record is longer than 16 MiB; a quote may not be closed.",
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
            if (wanted + Cells.PADDING > bytes.length) {
                bytes = Arrays.copyOf(bytes, Math.max(wanted + Cells.PADDING, bytes.length * 3 / 2));
            }
            ByteBuffer buffer = ByteBuffer.wrap(bytes, filled, Math.max(0, wanted - filled));
            try {
                while (buffer.hasRemaining()) {
                    int count = channels.get(part).read(buffer, base + buffer.position());
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

        private Batch batch(Cells found) {
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
                            (kind, spec, offset, value) -> notes.met(
                                    kind, field, spec.name(), found.row(offset), value, place(base + offset)));
                } catch (BadCell bad) {
                    throw bad.told(source, source::with, file.name(), LineSource.LINE, () -> line(base + bad.offset));
                }
            });
            return Batch.lazy(
                    found.rows(),
                    readers.length + Source.HIDDEN,
                    loader,
                    piece,
                    row -> place(base + found.rowStart(row)));
        }

        private Column origins(Cells found, int @Nullable [] rows, int count) {
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

        private DataException ragged(Cells found) {
            DelimitedSource.Part file = source.parts().get(part);
            Cells.Ragged row = java.util.Objects.requireNonNull(found.ragged());
            long line = line(base + row.start());
            if (row.cells() == Cells.Ragged.UNCLOSED) {
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
            return FileLines.place(
                    file.name(), file.path(), offset, file.dialect().newline());
        }

        /** The line of a place in the file. */
        private long line(long offset) {
            byte end = source.parts().get(part).dialect().newline();
            return FileLines.line(channels.get(part), offset, end);
        }
    }
}
