package dev.fiesta.source.cells;

import dev.fiesta.value.Kind;
import dev.fiesta.value.Type;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/**
 * What the cells of one field have shown so far: the narrowest type that holds all, and for numbers the most digits before and after
 * the point, which may be those of two cells and together more than a decimal has.
 */
public final class MetCells {
    /** Of a decimal whose scale is told nowhere: its cells are looked at for their digits only. */
    private final boolean exactOnly;

    private Type type = Type.EMPTY;
    private int before;
    private int after;
    private String longestBefore = "";
    private String longestAfter = "";

    public MetCells(boolean exactOnly) {
        this.exactOnly = exactOnly;
    }

    public Kind kind() {
        return type.kind();
    }

    /** Takes a cell that is not empty. */
    public void cell(byte[] b, int start, int end) {
        cell(b, start, end, CellType.of(b, start, end));
    }

    /** Takes a cell whose type is known otherwise. */
    public void cell(byte[] b, int start, int end, Type seen) {
        if (exactOnly && !seen.isExact()) {
            return; // told when it is read
        }
        type = CellType.both(type, seen);
        if (!seen.isExact()) {
            return;
        }
        int digits = CellType.before(b, start, end);
        if (digits > before) {
            before = digits;
            longestBefore = text(b, start, end);
        }
        if (seen.scale() > after) {
            after = seen.scale();
            longestAfter = text(b, start, end);
        }
    }

    private static String text(byte[] b, int start, int end) {
        return new String(b, start, end - start, StandardCharsets.UTF_8).strip();
    }

    /** Takes what others have met in cells that stand after these. */
    public void add(MetCells other) {
        type = CellType.both(type, other.type);
        if (other.before > before) {
            before = other.before;
            longestBefore = other.longestBefore;
        }
        if (other.after > after) {
            after = other.after;
            longestAfter = other.longestAfter;
        }
    }

    private boolean tooLong() {
        return type.isExact() && type.scale() > 0 && before + after > Type.MOST_DIGITS;
    }

    /** The narrowest type for all cells. */
    public Type type() {
        if (exactOnly) {
            return Type.decimal(type.scale());
        }
        return tooLong() ? Type.REAL : type;
    }

    /** What is to be told where two values have too many digits together. */
    public Optional<String> remark(String field) {
        return tooLong() && !exactOnly
                ? Optional.of(field + ": the digits of " + longestBefore + " before the point and of " + longestAfter
                        + " after it are more than the " + Type.MOST_DIGITS
                        + " of a decimal, so the field is read as real numbers.")
                : Optional.empty();
    }
}
