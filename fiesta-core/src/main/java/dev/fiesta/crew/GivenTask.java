package dev.fiesta.crew;

import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.MachineException;
import java.io.BufferedInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;

/** A task that somebody does, and its answer once it is wanted: one that is gone or damaged by then is asked for again. */
public final class GivenTask implements AutoCloseable {
    private static final int ATTEMPTS = 4;
    private static final int BUFFER = 1 << 16;

    private final Crew.Work work;
    private final byte[] task;
    private CompletableFuture<Crew.Answer> answer;

    private GivenTask(Crew.Work work, byte[] task) {
        this.work = work;
        this.task = task;
        this.answer = work.ask(task);
    }

    /** Lets somebody do a task. */
    public static GivenTask of(Crew.Work work, byte[] task) {
        return new GivenTask(work, task);
    }

    /** As {@link #open(int)}, the first section. */
    public DataInputStream open() {
        return open(0);
    }

    /**
     * Waits for the answer.
     *
     * @param section the number of a section of it
     * @return what was written, from the beginning
     * @throws Interrupted when somebody asked this thread to stop
     * @throws FiestaException when nobody could do it
     */
    public DataInputStream open(int section) {
        for (int attempt = 1; ; attempt++) {
            try {
                return new DataInputStream(new BufferedInputStream(there().open(section), BUFFER));
            } catch (IOException e) {
                if (attempt == ATTEMPTS) {
                    throw unreadable(e);
                }
                answer = work.ask(task);
            }
        }
    }

    /** Whether it is answered, or nobody could do it. */
    public boolean isDone() {
        return answer.isDone();
    }

    /** The answer, where it is there by now. */
    public Optional<Crew.Answer> found() {
        return answer.isDone() && !answer.isCompletedExceptionally() ? Optional.of(answer.join()) : Optional.empty();
    }

    /** Has somebody told once {@link #isDone} holds. */
    public void onceDone(Runnable told) {
        answer.whenComplete((there, failure) -> told.run());
    }

    /** The failure that an answer is which cannot be read to its end. */
    public static MachineException unreadable(IOException e) {
        return new MachineException("What a member of the crew wrote cannot be read", e);
    }

    private Crew.Answer there() {
        try {
            return answer.get();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new Interrupted();
        } catch (ExecutionException e) {
            if (e.getCause() instanceof FiestaException told) {
                throw told;
            }
            throw new IllegalStateException("a member of the crew failed", e.getCause());
        }
    }

    /** Nobody needs the answer any more, be it there or not. */
    @Override
    public void close() {
        answer.cancel(true);
        answer.whenComplete((there, failure) -> {
            if (there != null) {
                there.drop();
            }
        });
    }
}
