package dev.fiesta.stretch;

import dev.fiesta.crew.Crew;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.PiecedScan;
import dev.fiesta.source.Portable;
import dev.fiesta.source.Source;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * How the inputs of a run are read together with others.
 *
 * @param work what the run asks of the crew
 * @param task makes a task of what is to be read: it tells the tables too
 */
public record Sharing(Crew crew, Crew.Work work, UnaryOperator<byte[]> task) {
    private static final int TASKS_A_PART = 4;
    private static final int MOST_PARTS = 256;

    /**
     * How an input is read with others; null where it is read here alone: it is small, or stands where nobody else can read it.
     *
     * @param scan the reading that knows where pieces start once all is through
     * @param threads that take in what comes
     */
    public @Nullable Together together(Source source, Source.Scan scan, int threads) {
        return step(crew, source, scan) > 0 ? new Together(this, (Portable) source, (PiecedScan) scan, threads) : null;
    }

    /** {@return how many pieces of an input make a task; 0 where it is read here alone} */
    public static int step(Crew crew, Source source, Source.Scan scan) {
        return source instanceof Portable portable
                        && portable.isPortable()
                        && scan instanceof PiecedScan pieced
                        && pieced.pieces() > 0
                        && (long) pieced.pieces() * pieced.pieceBytes() >= crew.leastBytes()
                ? (int) Math.max(1, Math.min(1 << 20, crew.taskBytes() / pieced.pieceBytes()))
                : 0;
    }

    /** {@return who reads, in words} */
    public String readers() {
        return crew.members() == 1 ? "a member" : crew.members() + " members";
    }

    /** Into how many parts members put rows that they go on with: each about as much as some tasks read, and one for each at least. */
    int parts(PiecedScan scan) {
        long bytes = (long) scan.pieces() * scan.pieceBytes();
        return (int) Math.max(crew.members(), Math.min(MOST_PARTS, bytes / (crew.taskBytes() * TASKS_A_PART)));
    }

    /** In how many parts a crew reads an input; 0 where it is read here alone. */
    public static int parts(Crew crew, Source source) {
        try (Source.Scan scan = source.scan(new Notices())) {
            int step = step(crew, source, scan);
            return step == 0 ? 0 : (((PiecedScan) scan).pieces() - 1) / step + 1;
        }
    }
}
