package dev.fiesta.source;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * One reading of delimited files by several workers. Each takes the next piece of a file, guesses where its first record
 * starts (behind the first line end) and finds its cells; then it waits to be told where the record really starts, which the
 * worker of the piece before knows, and looks again if the guess was wrong (a line end inside quotes). So quotes are read
 * right whatever the content, and pieces are still read side by side.
 */
final class DelimitedScan implements Source.Scan {
    static final long UNKNOWN = -1;

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

    /** The number of the first piece of a file. */
    int firstPiece(int part) {
        return firstPiece[part];
    }

    FileChannel channel(int part) {
        return channels.get(part);
    }

    /** The next piece that nobody reads yet; -1 behind the last. */
    synchronized int claim() {
        return next >= stop || next >= firstPiece[firstPiece.length - 1] ? -1 : next++;
    }

    /** Where the first record of a piece starts, as far as anybody knows. */
    synchronized long known(int piece) {
        return starts[piece];
    }

    /** Waits for the worker of the piece before; -1 when reading was stopped. */
    synchronized long await(int piece) {
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
    synchronized void publish(int piece, long start) {
        if (starts[piece] == UNKNOWN) {
            starts[piece] = start;
        }
        notifyAll();
    }
}
