package dev.fiesta.source;

/**
 * How the fields of a record are read from a line of text. Lines are handed over by several threads at once, so it holds no
 * state of a reading.
 */
@FunctionalInterface
public interface LineFormat {
    /** Takes the fields of a record, in the order in which they stand. A name that comes twice counts as last told. */
    interface Fields {
        void text(String name, String value);

        /** @param digits a number as written: {@code 12}, {@code -3.50}, {@code 1.5e3} */
        void number(String name, String digits);

        /** @param written a value as delimited text has it: its type is worked out; empty for a missing one */
        void cell(String name, String written);

        void truth(String name, boolean value);

        void missing(String name);
    }

    /** Says why a line is no record. */
    final class Unreadable extends Exception {
        private static final long serialVersionUID = 1L;

        /** @param why follows the file and the line: {@code this is no JSON object} */
        public Unreadable(String why) {
            super(why, null, false, false);
        }
    }

    /**
     * Reads the record in the bytes from {@code start} to before {@code end}: UTF-8, without a line end.
     *
     * @throws Unreadable when there is none
     */
    void read(byte[] bytes, int start, int end, Fields fields) throws Unreadable;
}
