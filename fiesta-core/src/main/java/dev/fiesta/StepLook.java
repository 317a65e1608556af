package dev.fiesta;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A table as one of its clauses leaves it.
 *
 * @param table the table
 * @param clause the clause on one line; null for the rows that the table starts from, whose name {@code from} tells
 * @param line the line it starts on, 0 when there is none
 * @param from the table or input it starts from
 * @param rows the rows there are
 * @param keys the keys of the groups that rows are; null for records
 * @param first the first rows
 */
public record StepLook(
        String table,
        @Nullable String clause,
        int line,
        String from,
        long rows,
        @Nullable List<String> keys,
        Result first) {

    /** The same without a line, for clauses that stand in no file. */
    StepLook withoutLine() {
        return new StepLook(table, clause, 0, from, rows, keys, first);
    }
}
