package dev.fiesta.source;

import dev.fiesta.source.files.Paths;
import java.io.IOException;

/**
 * A format whose records can only be read one after another: documents, workbooks, anything that is read through a library. Records are handed over
 * once and written into a temporary file, so that they can then be read side by side, several times, and in bounded memory; their fields, the
 * types of those and their order come from what was handed over.
 *
 * <pre>{@code
 * InputFormat cards = InputFormat.records("cards", List.of(".vcf"), Set.of(), (file, inside, to) -> {
 *     for (Card card : CardReader.all(file.path())) {
 *         to.text("name", card.name());
 *         to.number("visits", Integer.toString(card.visits()));
 *         to.end(card.line());
 *     }
 * });
 * }</pre>
 */
@FunctionalInterface
public interface RecordFormat {
    /** Takes records: the fields of one, then its end. */
    interface Records extends LineFormat.Fields {
        /**
         * Names a field before any record does, so that it has its place and is there even when no record has it.
         *
         * @param name of the field
         */
        void field(String name);

        /**
         * Ends a record.
         *
         * @param number by which it is told of: its row, its place in the document …
         */
        void end(long number);

        /** Something that whoever reads the records should know, in a sentence. */
        void remark(String sentence);
    }

    /**
     * Reads all records of a file.
     *
     * @param file unpacked, with the name by which it is told of
     * @param inside where in it records stand
     * @throws IOException when it cannot be read
     * @throws dev.fiesta.problem.DataException when what stands in it cannot be right
     */
    void read(Paths.Named file, Inside inside, Records to) throws IOException;

    /** What records are counted in, as messages tell them: {@code plan.xlsx, row 7}. */
    default String counted() {
        return "record";
    }
}
