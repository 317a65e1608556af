package dev.fiesta.source.cells;

import dev.fiesta.problem.DataException;
import dev.fiesta.value.Kind;
import dev.fiesta.value.TimePattern;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** A cell that cannot be read. */
public final class BadCell extends RuntimeException {
    private static final long serialVersionUID = 1L;
    public final int offset;
    public final transient FieldSpec field;
    public final String value;
    final transient Type seen;
    private final transient List<String> patterns;

    BadCell(int offset, FieldSpec field, String value, Type seen) {
        this(offset, field, value, seen, List.of());
    }

    /** @param patterns two that read it as different days, or none */
    BadCell(int offset, FieldSpec field, String value, Type seen, List<String> patterns) {
        super(value, null, false, false);
        this.patterns = List.copyOf(patterns);
        this.offset = offset;
        this.field = field;
        this.value = value;
        this.seen = seen;
    }

    /** The wider type that takes it and what was met before, where the field may have another; else null. */
    public @Nullable Type wider() {
        Type both = CellType.wider(field.type(), seen);
        return !field.declared() && both.isNumeric() && !both.equals(field.type()) ? both : null;
    }

    /**
     * The failure that it is.
     *
     * @param counted what records are counted in: lines, rows of a sheet …
     * @param line the number of its record
     */
    public DataException at(String file, String counted, long line) {
        return new DataException(
                file + ", " + counted + " " + line + ": field " + field.name() + ": " + why(),
                file,
                line,
                field.name(),
                value);
    }

    /** The value as it is shown. */
    public String shown() {
        return "'" + cut(value) + "'";
    }

    static String cut(String value) {
        return value.length() > 60 ? value.substring(0, 59) + "…" : value;
    }

    private String why() {
        if (!patterns.isEmpty()) {
            return "'" + cut(value) + "' is one day written " + patterns.get(0) + " and another written "
                    + patterns.get(1) + ".\n  Repair the line, leave one pattern out, or add 'first pattern wins'.";
        }
        if (field.type().kind() == Kind.TEXT) {
            return "'" + value + "' holds bytes that are not UTF-8.\n  "
                    + "Tell the input its encoding, such as encoding 'windows-1252', or repair the line.";
        }
        String shown = cut(value);
        String type = field.type().withArticle();
        String plain = field.type().scale() > 0 ? type.replaceAll("\\(.*", "") : type;
        String declaration =
                field.name() + " " + field.type() + (field.pattern() == null ? "" : " '" + field.pattern() + "'");
        String meant = field.pattern() == null ? null : TimePattern.meant(field.pattern());
        if (meant != null) {
            return "'" + shown + "' is not " + plain + " written " + field.pattern()
                    + ".\n  In a pattern yyyy is the year, "
                    + "MM the month, dd the day, HH the hour and mm the minute: '" + meant + "'.";
        }
        String suggestion = field.declared()
                ? "The field was declared"
                        + declaration.substring(field.name().length()) + ". Repair the line, or declare '"
                        + declaration + " bad as missing'."
                : "The field looked like " + type + " elsewhere. Repair the line, or declare '" + declaration
                        + " bad as missing' or '" + field.name() + " text'.";
        if (!field.rules().patterns().isEmpty()) {
            List<String> all = new ArrayList<>(List.of(Objects.requireNonNull(field.pattern())));
            all.addAll(field.rules().patterns());
            String last = all.remove(all.size() - 1);
            return "'" + shown + "' is not " + plain + " written " + String.join(", ", all) + " or " + last
                    + ".\n  Repair the line, add its pattern, or 'bad as missing'.";
        }
        String fits = seen.isExact() && field.type().isExact() ? "does not fit " + type : "is not " + plain;
        return "'" + shown + "' " + fits + ".\n  " + suggestion;
    }
}
