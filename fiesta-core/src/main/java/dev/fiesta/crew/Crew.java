package dev.fiesta.crew;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.concurrent.CompletableFuture;

/**
 * Several who read the inputs of a run together, on this machine or on others. What comes of a run is the same, to the byte, as
 * without them; who does which task, when, and how often decides nothing.
 */
public interface Crew extends AutoCloseable {
    /** {@return how many tasks are worked on at once} */
    int members();

    /** {@return about the bytes of an input that make a task} */
    long taskBytes();

    /** {@return the least bytes of an input that is read together; one that is smaller is soon read alone} */
    long leastBytes();

    /** {@return how many answers a member merges into one, at least 2, once so many wait where the run was begun} */
    int mergedAtOnce();

    /** What is asked for. */
    enum Purpose {
        /** Tables of a run, or a survey. */
        TABLES,
        /** Sums that tell whether files are the ones they were. */
        SUMS
    }

    /**
     * Begins to ask.
     *
     * @param purpose what for
     * @return what is asked by; to be closed, when all that was laid down and answered for it goes
     */
    Work begin(Purpose purpose);

    /** Lets go of the members. */
    @Override
    void close();

    /** What one run asks of its crew. */
    interface Work extends AutoCloseable {
        /**
         * Lays something down where every member finds it.
         *
         * @param content writes it
         * @return the name by which a task may ask for it
         */
        String lay(Content content);

        /**
         * Puts a file that only this process sees where every member may read it.
         *
         * @param file stays as it is until this is closed
         * @return where it stands then
         */
        Path place(Path file);

        /**
         * Lets somebody do a task; whoever is lost while at it, it is done by another.
         *
         * @param task as {@link dev.fiesta.member.Member} reads it
         * @return the answer, once it is there; fails with a {@link dev.fiesta.problem.MachineException} when nobody could
         */
        CompletableFuture<Answer> ask(byte[] task);

        @Override
        void close();
    }

    /** Writes something down. */
    @FunctionalInterface
    interface Content {
        /**
         * @param out where it is written; not to be closed
         * @throws IOException when it cannot be
         */
        void writeTo(Sections out) throws IOException;
    }

    /** Where things lie that a task names. */
    @FunctionalInterface
    interface Laid {
        /**
         * @param name of what was laid down, or of an answer
         * @param section the number of a section, from 0
         * @return what was written into it, from the beginning
         * @throws IOException when it cannot be read
         */
        InputStream open(String name, int section) throws IOException;
    }

    /** What has come of a task. */
    interface Answer {
        /**
         * What was written for it.
         *
         * @param section the number of a section, from 0
         * @return what stands in that section, from the beginning
         * @throws IOException when it is not there any more, or not whole: it is asked for again then
         */
        InputStream open(int section) throws IOException;

        /** {@return the name by which another task may ask for it} */
        String name();

        /** {@return about the bytes that it takes} */
        long bytes();

        /** Nobody needs it any more. */
        void drop();
    }
}
