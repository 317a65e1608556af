package dev.fiesta.stretch;

import dev.fiesta.crew.Crew;
import dev.fiesta.crew.GivenTask;
import dev.fiesta.crew.Sections;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.source.PiecedScan;
import dev.fiesta.source.Source;
import java.io.BufferedInputStream;
import java.io.DataInput;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import java.util.stream.LongStream;
import org.jspecify.annotations.Nullable;

/** What is found in records that are read in stretches, some here and some by others; nobody can tell afterwards which. */
public interface Findings {
    /** Reads some pieces. */
    void read(Source.Scan some);

    /** Writes what has come of all that was read. */
    void write(Sections out) throws IOException;

    /** Takes in what was written elsewhere; several may do so at once. */
    void read(DataInput in) throws IOException;

    /** Whether what has come of several parts becomes less once it is in one. */
    boolean reduces();

    /** Whether records must be read in their order for now, as only the first ones are wanted. */
    default boolean anyCounts() {
        return false;
    }

    /** Whether no record is wanted any more. */
    default boolean hasEnough() {
        return false;
    }

    /** Whether what others have found is not only taken in, but opened again later. */
    default boolean stands() {
        return false;
    }

    /** As {@link #read(Source.Scan)}; the failure, where the pieces cannot be read. */
    private @Nullable RuntimeException attempt(Source.Scan some) {
        try {
            read(some);
            return null;
        } catch (Interrupted e) {
            throw e;
        } catch (RuntimeException e) {
            return e;
        }
    }

    /**
     * Reads pieces for somebody else, and writes what came of them, a failure of the data among it.
     *
     * @param from the first, {@code to} the first behind them
     */
    default void answer(PiecedScan some, int from, int to, Sections out) throws IOException {
        RuntimeException failure = attempt(some);
        if (failure != null && !FailureBytes.isOfData(failure)) {
            throw failure; // somebody else may do it
        }
        long[] starts = IntStream.rangeClosed(from, to).mapToLong(some::start).toArray();
        DataOutputStream head = new DataOutputStream(out);
        if (failure != null) {
            new Head(starts, Head.Outcome.FAILED).write(head);
            FailureBytes.write(failure, head);
        } else {
            new Head(starts, Head.Outcome.READ).write(head);
            write(out);
        }
    }

    /**
     * Makes one answer of several, if each begins where the one before it ended.
     *
     * @param answers their names
     */
    default void merge(List<String> answers, Crew.Laid laid, Sections out) throws IOException {
        LongStream.Builder starts = LongStream.builder();
        long behind = PiecedScan.UNKNOWN;
        boolean apart = false;
        for (String answer : answers) {
            try (DataInputStream in = new DataInputStream(new BufferedInputStream(laid.open(answer, 0), 1 << 16))) {
                Head head = Head.read(in);
                apart = head.outcome() != Head.Outcome.READ || behind != PiecedScan.UNKNOWN && behind != head.first();
                if (apart) {
                    break;
                }
                Arrays.stream(head.starts(), 0, head.starts().length - 1).forEach(starts::add);
                behind = head.behind();
                read(in);
            } catch (IOException e) {
                throw GivenTask.unreadable(e);
            }
        }
        new Head(starts.add(behind).build().toArray(), apart ? Head.Outcome.APART : Head.Outcome.READ)
                .write(new DataOutputStream(out));
        if (!apart) {
            write(out);
        }
    }
}
