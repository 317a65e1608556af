package dev.fiesta.source.cells;

import dev.fiesta.value.WrittenNumber;
import org.jspecify.annotations.Nullable;

/** Numbers, which may be written in ways of their own: with a decimal comma, grouped digits, a currency. */
abstract class NumberReader extends CellReader {
    private final @Nullable WrittenNumber written;

    NumberReader(FieldSpec field, Dialect dialect) {
        super(field, dialect);
        boolean told = field.declared() && !field.openScale();
        this.written = told || dialect.decimalComma() ? written(field, dialect) : null;
    }

    private static WrittenNumber written(FieldSpec field, Dialect dialect) {
        CellRules rules = field.rules();
        return field.declared()
                ? new WrittenNumber(
                        dialect.decimalComma(), dialect.bracketsNegative(), rules.grouped(), rules.without())
                : WrittenNumber.workedOut();
    }

    @Override
    final void strip() {
        if (written != null && !field.rules().without().isEmpty()) {
            contentIs(written.bare(content())); // a currency without an amount is no empty cell: it is told
        }
    }

    /** Points at the number that a cell writes in its own way; false, and left as it is, where it writes none. */
    final boolean asWritten() {
        WrittenNumber form = written;
        if (form == null || form.isPlain(from, start, end)) {
            return true;
        }
        String plain = form.plain(content());
        if (plain != null) {
            contentIs(plain);
        }
        return plain != null;
    }
}
