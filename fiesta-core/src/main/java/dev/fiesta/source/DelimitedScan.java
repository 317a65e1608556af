package dev.fiesta.source;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * One reading of delimited files by several workers. Each takes the next piece of a file, guesses where its first record
 * starts (behind the first line end) and finds its cells; then it waits to be told where the record really starts, which the
 * worker of the piece before knows, and looks again if the guess was wrong (a line end inside quotes). So quotes are read
 * right whatever the content, and pieces are still read side by side.
 */
final class DelimitedScan implements PiecedScan {
    private static final int GUESS = 1 << 12;

    private final DelimitedSource source;
    private final List<@Nullable FileChannel> channels = new ArrayList<>();
    private final int[] firstPiece;
    private final int from;
    private final int to;
    /** Of the pieces from {@link #from} to {@link #to}. */
    private final long[] starts;

    private int next;
    private long stop = Long.MAX_VALUE;

    /** A reading of all pieces. */
    DelimitedScan(DelimitedSource source) {
        this(source, 0, Integer.MAX_VALUE);
    }

    private DelimitedScan(DelimitedSource source, int from, int to) {
        this.source = source;
        List<DelimitedSource.Part> parts = source.parts();
        firstPiece = new int[parts.size() + 1];
        for (int i = 0; i < parts.size(); i++) {
            long length = parts.get(i).size() - parts.get(i).dataStart();
            firstPiece[i + 1] = Math.toIntExact(firstPiece[i] + (length + source.piece() - 1) / source.piece());
        }
        this.from = from;
        this.to = Math.min(to, firstPiece[parts.size()]);
        this.next = from;
        starts = new long[this.to - from + 1];
        Arrays.fill(starts, UNKNOWN);
        for (int i = 0; i < parts.size(); i++) {
            if (firstPiece[i] >= from && firstPiece[i] <= this.to) {
                starts[firstPiece[i] - from] = parts.get(i).dataStart();
            }
        }
        open(parts);
    }

    /** A reading of some pieces, see {@link Portable#stretch}. */
    static DelimitedScan stretch(DelimitedSource source, int from, int to, long start) {
        DelimitedScan some = new DelimitedScan(source, from, to);
        if (some.starts[0] == UNKNOWN) {
            some.starts[0] = start == UNKNOWN ? some.guess(from) : start;
        }
        return some;
    }

    /** Behind the first line end from the byte before a piece on. */
    private long guess(int piece) {
        int part = 0;
        while (piece >= firstPiece[part + 1]) {
            part++;
        }
        DelimitedSource.Part file = source.parts().get(part);
        long at = file.dataStart() + (long) (piece - firstPiece[part]) * source.piece() - 1;
        ByteBuffer bytes = ByteBuffer.allocate(GUESS);
        try {
            while (channel(part).read(bytes.clear(), at) > 0) {
                for (int i = 0; i < bytes.position(); i++) {
                    if (bytes.get(i) == file.dialect().newline()) {
                        return at + i + 1;
                    }
                }
                at += bytes.position();
            }
            return file.size();
        } catch (IOException e) {
            close();
            throw new MachineException("'" + file.name() + "' cannot be read", e);
        }
    }

    @Override
    public int pieces() {
        return firstPiece[firstPiece.length - 1];
    }

    @Override
    public int pieceBytes() {
        return source.piece();
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
        return new PieceReader(this, source, notices);
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

    static void close(List<? extends @Nullable FileChannel> channels) {
        for (FileChannel channel : channels) {
            try {
                if (channel != null) {
                    channel.close();
                }
            } catch (IOException e) {
                // Nothing was written: there is nothing to lose.
                continue;
            }
        }
    }

    @Override
    public synchronized double share() {
        return to == from ? 1 : Math.min(1, (double) (next - from) / (to - from));
    }

    /** The number of the first piece of a file. */
    int firstPiece(int part) {
        return firstPiece[part];
    }

    FileChannel channel(int part) {
        return Objects.requireNonNull(channels.get(part), "a file of these pieces");
    }

    /** The next piece that nobody reads yet; -1 behind the last. */
    synchronized int claim() {
        return next >= stop || next >= to ? -1 : next++;
    }

    @Override
    public synchronized long start(int piece) {
        return starts[piece - from];
    }

    /** Waits for the worker of the piece before; -1 when reading was stopped. */
    synchronized long await(int piece) {
        try {
            while (start(piece) == UNKNOWN && piece < stop) {
                wait();
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            stop = 0;
        }
        return start(piece);
    }

    /** Tells where the first record behind a piece starts; a piece that starts a file knows that already. */
    @Override
    public synchronized void publish(int piece, long start) {
        if (start(piece) == UNKNOWN) {
            starts[piece - from] = start;
        }
        notifyAll();
    }
}
