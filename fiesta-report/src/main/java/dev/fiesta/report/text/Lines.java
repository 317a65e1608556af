package dev.fiesta.report.text;

import dev.fiesta.Result;
import dev.fiesta.TotalRow;
import dev.fiesta.ViewColumn;
import dev.fiesta.language.Formats;
import dev.fiesta.value.LocaleStyle;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Iterator;
import java.util.List;
import java.util.NoSuchElementException;
import java.util.Objects;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** The lines of a printed table: rows, and totals where they stand. */
public final class Lines {
    /** What a line is. */
    public enum Kind {
        ROW,
        SUBTOTAL,
        TOTAL
    }

    /**
     * @param values one for each shown column
     * @param label the column that holds the label of a total, -1 for none
     * @param few the columns whose values rest on few records
     * @param notes for each column what is noted at its value; empty where nothing is
     * @param again how many keys in front are those of the row above, so that they need not be printed once more
     */
    public record Line(
            Kind kind, List<@Nullable Object> values, int label, BitSet few, List<List<String>> notes, int again) {
        /** A value as it is printed. */
        public String print(int column, CellFormat format) {
            if (column == label) {
                return format.total();
            }
            boolean lacking = kind != Kind.ROW && values.get(column) == null;
            return lacking && column > label ? "" : format.print(values.get(column));
        }
    }

    private Lines() {}

    /** The lines up to so many rows, one by one; totals behind further rows are left out, but for the grand total. */
    public static Iterable<Line> each(Result result, int rows, List<ViewColumn> columns) {
        return () -> new OneByOne(result, rows, columns);
    }

    /** How many lines there are up to so many rows. */
    public static int count(Result result, int rows) {
        return rows
                + (int) result.totals().stream()
                        .filter(t -> t.after() <= rows || t.grand())
                        .count();
    }

    private static final class OneByOne implements Iterator<Line> {
        private final Result result;
        private final int rows;
        private final List<ViewColumn> columns;
        private final List<TotalRow> totals;
        private final int keys;
        private int row;
        private int next;
        private @Nullable Line above;

        OneByOne(Result result, int rows, List<ViewColumn> columns) {
            this.result = result;
            this.rows = rows;
            this.columns = columns;
            this.totals = result.totals();
            this.keys = keys(columns);
        }

        /** Whether a total stands here; behind the last row only those of all. */
        private boolean isTotal() {
            while (row == rows
                    && next < totals.size()
                    && totals.get(next).after() > row
                    && !totals.get(next).grand()) {
                next++;
            }
            return next < totals.size() && (totals.get(next).after() <= row || row == rows);
        }

        @Override
        public boolean hasNext() {
            return row < rows || isTotal();
        }

        @Override
        public Line next() {
            if (!hasNext()) {
                throw new NoSuchElementException();
            }
            Line line = isTotal() ? total(columns, totals.get(next++)) : row(row++);
            above = line;
            return line;
        }

        private Line row(int number) {
            List<@Nullable Object> values = new ArrayList<>();
            BitSet few = new BitSet();
            List<List<String>> notes = new ArrayList<>();
            for (ViewColumn view : columns) {
                few.set(values.size(), result.restsOnFew(view.field(), number));
                values.add(result.shown(view.field(), number));
                notes.add(result.notes(view.field(), number));
            }
            return new Line(Kind.ROW, values, -1, few, notes, again(above, values, keys));
        }
    }

    /** How many keys in front of a table may repeat: at least one of them all is printed in each row. */
    private static int keys(List<ViewColumn> columns) {
        int front = 0;
        while (front < columns.size() && columns.get(front).key()) {
            front++;
        }
        boolean more = columns.stream().skip(front).anyMatch(ViewColumn::key);
        return more ? front : front - 1;
    }

    private static int again(@Nullable Line above, List<@Nullable Object> values, int keys) {
        int again = 0;
        while (above != null
                && above.kind() == Kind.ROW
                && again < keys
                && Objects.equals(above.values().get(again), values.get(again))) {
            again++;
        }
        return again;
    }

    /** What is said under a table of which so many rows are shown, and all columns. */
    public static List<String> notes(Result result, int shown, LocaleStyle locale) {
        int columns = result.view().size();
        return notes(result, shown, columns, columns, locale);
    }

    /** As {@link #notes(Result, int, LocaleStyle)}, of which so many columns are shown of so many. */
    public static List<String> notes(Result result, int shown, int columns, int ofColumns, LocaleStyle locale) {
        Words words = Words.of(locale.tag());
        List<String> notes = new ArrayList<>();
        List<String> parts = new ArrayList<>();
        if (shown < result.rows()) {
            parts.add(range("rows", shown, result.rows(), locale));
        }
        if (columns < ofColumns) {
            parts.add(range(parts.isEmpty() ? "columns" : "columns_too", columns, ofColumns, locale));
        }
        if (!parts.isEmpty()) {
            notes.add(String.join(", ", parts) + ".");
        }
        boolean few = false;
        boolean hidden = false;
        for (ViewColumn view : result.view()) {
            for (int row = 0; row < shown; row++) {
                few |= result.restsOnFew(view.field(), row);
                hidden |= result.isHidden(view.field(), row);
            }
        }
        if (few) {
            notes.add(words.get("few", fewest(result, locale)));
        }
        if (hidden) {
            notes.add(words.get("hidden", Result.HIDDEN));
        }
        return notes;
    }

    /** {@code Rows 1 to 40 of 252}. */
    private static String range(String what, int shown, int of, LocaleStyle locale) {
        return Words.of(locale.tag())
                .get(what, "1", locale.number(Integer.toString(shown)), locale.number(Integer.toString(of)));
    }

    private static String fewest(Result result, LocaleStyle locale) {
        return result.view().stream()
                .flatMap(v -> v.formats().stream())
                .filter(f -> f.name().equals(Formats.MARK_FEW))
                .map(f -> locale.number(Objects.requireNonNull(f.argument())))
                .distinct()
                .collect(Collectors.joining(" " + Words.of(locale.tag()).get("or") + " "));
    }

    private static Line total(List<ViewColumn> columns, TotalRow total) {
        List<@Nullable Object> values = new ArrayList<>();
        int label = -1;
        for (ViewColumn view : columns) {
            label = view.field().equals(total.label()) ? values.size() : label;
            values.add(total.values().get(view.field()));
        }
        return new Line(total.grand() ? Kind.TOTAL : Kind.SUBTOTAL, values, label, new BitSet(), List.of(), 0);
    }
}
