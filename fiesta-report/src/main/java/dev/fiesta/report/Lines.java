package dev.fiesta.report;

import dev.fiesta.Result;
import dev.fiesta.TotalRow;
import dev.fiesta.ViewColumn;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** The lines of a printed table: rows, and totals where they stand. */
final class Lines {
    /** What a line is. */
    enum Kind {
        ROW,
        SUBTOTAL,
        TOTAL
    }

    /**
     * @param values one for each shown column
     * @param label the column that holds the label of a total, -1 for none
     */
    record Line(Kind kind, List<@Nullable Object> values, int label) {
        /** A value as it is printed. */
        String print(int column, CellFormat format) {
            if (column == label) {
                return TotalRow.LABEL;
            }
            boolean lacking = kind != Kind.ROW && values.get(column) == null;
            return lacking && column > label ? "" : format.print(values.get(column));
        }
    }

    private Lines() {}

    /** The lines up to so many rows; totals behind further rows are left out, but for the grand total. */
    static List<Line> of(Result result, int rows) {
        return of(result, rows, result.view());
    }

    /** As {@link #of(Result, int)}, of some columns only. */
    static List<Line> of(Result result, int rows, List<ViewColumn> columns) {
        List<Line> lines = new ArrayList<>();
        int next = 0;
        List<TotalRow> totals = result.totals();
        for (int row = 0; row <= rows; row++) {
            for (; next < totals.size() && totals.get(next).after() <= row; next++) {
                lines.add(total(columns, totals.get(next)));
            }
            if (row < rows) {
                List<@Nullable Object> values = new ArrayList<>();
                for (ViewColumn view : columns) {
                    values.add(result.shown(view.field(), row));
                }
                lines.add(new Line(Kind.ROW, values, -1));
            }
        }
        for (; next < totals.size(); next++) {
            if (totals.get(next).grand()) {
                lines.add(total(columns, totals.get(next)));
            }
        }
        return lines;
    }

    private static Line total(List<ViewColumn> columns, TotalRow total) {
        List<@Nullable Object> values = new ArrayList<>();
        int label = -1;
        for (ViewColumn view : columns) {
            label = view.field().equals(total.label()) ? values.size() : label;
            values.add(total.values().get(view.field()));
        }
        return new Line(total.grand() ? Kind.TOTAL : Kind.SUBTOTAL, values, label);
    }
}
