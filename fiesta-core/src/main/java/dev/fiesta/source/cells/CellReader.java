package dev.fiesta.source.cells;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.nio.charset.StandardCharsets;
import org.jspecify.annotations.Nullable;

/** Reads one field of the rows of a block into a column. Belongs to one worker. A class of its own reads each kind of values. */
public abstract class CellReader {
    /** Takes note of a cell that is counted. */
    @FunctionalInterface
    public interface Counted {
        /** @param offset where the cell starts in the bytes handed over */
        void note(Notices.Kind kind, FieldSpec field, int offset, String value);
    }

    final FieldSpec field;
    final Dialect dialect;
    final byte[][] missing;
    private Counted counted = (kind, spec, offset, value) -> {};
    private byte[] scratch = new byte[64];
    /** The content of the cell that is looked at: from {@link #start} to before {@link #end}. */
    byte[] from = new byte[0];

    int start;
    int end;
    boolean quoted;

    CellReader(FieldSpec field, Dialect dialect) {
        this.field = field;
        this.dialect = dialect;
        this.missing = dialect.missingBytes();
    }

    /** @param texts how many fields of texts share the memory of a worker for them */
    public static CellReader of(FieldSpec field, Dialect dialect, int texts) {
        return switch (field.type().kind()) {
            case TEXT -> new TextReader(field, dialect, texts);
            case REAL -> new RealReader(field, dialect);
            case TRUTH -> new TruthReader(field, dialect);
            case INTEGER, DECIMAL -> new ExactReader(field, dialect);
            default -> new TimeReader(field, dialect);
        };
    }

    /** @param cell the place of the field in its row, or -1 when the file lacks it */
    public final Column read(
            byte[] bytes, FoundCells cells, int cell, int @Nullable [] rows, int count, Counted noted) {
        this.counted = noted;
        return cell < 0 ? Column.missing(field.type(), count) : column(bytes, cells, cell, rows, count);
    }

    /** The values of some rows, or of all. */
    abstract Column column(byte[] bytes, FoundCells cells, int cell, int @Nullable [] rows, int count);

    /** Counts the cell that is looked at. */
    final void note(Notices.Kind kind, int offset, String value) {
        counted.note(kind, field, offset, value);
    }

    /** Points {@link #from} at a cell's content, without its quotes. */
    final void take(byte[] bytes, int s, int e) {
        quoted = s < e && bytes[s] == dialect.quote();
        from = bytes;
        start = s;
        end = Math.max(s, e);
        if (quoted) {
            unquote(bytes, s, e);
        }
    }

    private void unquote(byte[] bytes, int s, int e) {
        byte quote = dialect.quote();
        if (scratch.length < e - s) {
            scratch = new byte[(e - s) * 2];
        }
        int length = 0;
        boolean inside = true;
        for (int i = s + 1; i < e; i++) {
            if (bytes[i] == quote && inside) {
                if (i + 1 < e && bytes[i + 1] == quote) {
                    i++;
                } else {
                    inside = false;
                    continue;
                }
            }
            scratch[length++] = bytes[i];
        }
        from = scratch;
        start = 0;
        end = length;
    }

    /** As {@link #take}, for values that are not texts: trimmed, and without what is taken out. False when nothing is there. */
    final boolean carefully(byte[] bytes, int s, int e) {
        if (isEmpty(bytes, s, e)) {
            return false;
        }
        strip();
        return !isMissingWord();
    }

    /** Takes out of the content what does not belong to the value. */
    void strip() {}

    /** Points at other bytes for the content. */
    final void contentIs(String text) {
        from = text.getBytes(StandardCharsets.UTF_8);
        start = 0;
        end = from.length;
    }

    final String content() {
        return new String(from, start, end - start, StandardCharsets.UTF_8);
    }

    final boolean isEmpty(byte[] bytes, int s, int e) {
        take(bytes, s, e);
        while (start < end && from[start] == ' ') {
            start++;
        }
        while (end > start && from[end - 1] == ' ') {
            end--;
        }
        return start == end;
    }

    final boolean isMissingWord() {
        return missing.length > 0 && isOneOfMissing();
    }

    private boolean isOneOfMissing() {
        for (byte[] word : missing) {
            boolean same = end - start == word.length;
            for (int i = 0; same && i < word.length; i++) {
                same = from[start + i] == word[i];
            }
            if (same) {
                return true;
            }
        }
        return false;
    }

    /** A value that cannot be read: missing and counted where the brief says so, else told. */
    final long bad(int offset, long result) {
        return bad(offset, result, seen());
    }

    final Type seen() {
        return CellType.of(from, start, end);
    }

    final long bad(int offset, long result, Type seen) {
        Type wider = CellType.wider(field.type(), seen);
        boolean mayWiden = !field.declared() && wider.isNumeric() && !wider.equals(field.type());
        String value = content();
        if (field.badAsMissing() && !mayWiden) {
            note(Notices.Kind.BAD_AS_MISSING, offset, "'" + BadCell.cut(value) + "'");
            return result;
        }
        throw new BadCell(offset, field, value, seen);
    }
}
