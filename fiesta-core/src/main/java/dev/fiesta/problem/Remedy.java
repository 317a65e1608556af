package dev.fiesta.problem;

import java.io.Serializable;

/**
 * What would help against a failure, told apart from its sentence, because whoever uses the library says it in other words: a command names
 * its option, a page its button.
 *
 * @param kind what helps
 * @param subject what it is about, such as the name of a parameter; may be empty
 */
public record Remedy(Kind kind, String subject) implements Serializable {
    /** What helps. */
    public enum Kind {
        /** To give the parameter of that name a value. */
        PARAMETER_VALUE,
        /** To give the parameter of that name several values, one for each run. */
        PARAMETER_VALUES,
        /** To let runs hold more memory. */
        MEMORY,
        /** To let temporary files stand in another folder. */
        TEMPORARY_FOLDER,
        /** To ask for all rows of a table together. */
        WHOLE_TABLE,
        /** To put rows in the place of those that are there. */
        REPLACE,
        /** To name the fields that tell rows apart. */
        ROW_KEYS,
        /** To keep tables beside the record of a run. */
        KEPT_TABLES
    }

    /**
     * {@return a failure against which something would help}
     *
     * @param <E> the class of the failure
     * @param failure what failed
     * @param kind what is counted
     * @param subject what it belongs to
     */
    public static <E extends FiestaException> E offered(E failure, Kind kind, String subject) {
        failure.offer(new Remedy(kind, subject));
        return failure;
    }
}
