package dev.fiesta.progress;

/**
 * What one step of a run did.
 *
 * @param table the input or table
 * @param number which of the table's steps it is, from 0; -1 for a reading
 * @param step the clause in a word, or {@code read}
 * @param rowsIn the rows that came in
 * @param rowsOut the rows left
 * @param nanos the time it took; 0 for steps that are part of a reading
 * @param held about the most memory that its rows and states took, in bytes; 0 for steps that are part of a reading
 * @param written what went to the temporary file, in bytes
 */
public record Timing(
        String table, int number, String step, long rowsIn, long rowsOut, long nanos, long held, long written) {
    /**
     * {@return the same, with another name for the table}
     *
     * @param otherTable the other name
     */
    public Timing of(String otherTable) {
        return new Timing(otherTable, number, step, rowsIn, rowsOut, nanos, held, written);
    }
}
