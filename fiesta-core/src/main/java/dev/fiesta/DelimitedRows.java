package dev.fiesta;

import dev.fiesta.output.CsvWriter;
import dev.fiesta.output.TextStyle;
import dev.fiesta.total.Worked;
import dev.fiesta.value.Column;
import java.io.IOException;
import java.util.List;
import java.util.stream.IntStream;

/** Writes the shown columns of a result as delimited text, totals where they stand; rows are written by several threads. */
final class DelimitedRows {
    private final Result result;
    private final Worked worked;
    private final TextStyle style;
    private final List<TotalRow> totals;

    DelimitedRows(Result result, Worked worked, TextStyle style) {
        this.result = result;
        this.worked = worked;
        this.style = style;
        this.totals = result.totals();
    }

    void write(Appendable out) throws IOException {
        List<String> fields = result.view().stream().map(ViewColumn::field).toList();
        int[] shown = fields.stream().mapToInt(result.schema()::indexOf).toArray();
        CsvWriter head = CsvWriter.part(style);
        head.header(fields);
        head.sendTo(out);
        worked.eachPart(
                (columns, from, to, before) -> {
                    CsvWriter csv = CsvWriter.part(style);
                    Column[] seen =
                            IntStream.of(shown).mapToObj(c -> columns[c]).toArray(Column[]::new);
                    int next = totalsBefore(before);
                    for (int i = from; i < to; i++) {
                        next = totals(csv, fields, next, before + i - from);
                        if (worked.hidden().isEmpty()) {
                            csv.row(seen, i);
                        } else {
                            int number = before + i - from;
                            int row = i;
                            csv.row(
                                    fields.size(),
                                    c -> result.isHidden(fields.get(c), number) ? Result.HIDDEN : seen[c].get(row));
                        }
                    }
                    return csv;
                },
                part -> part.sendTo(out));
        CsvWriter end = CsvWriter.part(style);
        totals(end, fields, totalsBefore(result.rows()), result.rows());
        end.sendTo(out);
    }

    /** How many totals stand before those of a row. */
    private int totalsBefore(int row) {
        int next = 0;
        while (next < totals.size() && totals.get(next).after() < row) {
            next++;
        }
        return next;
    }

    /** Writes the totals that stand before a row; which comes next. */
    private int totals(CsvWriter csv, List<String> fields, int first, int row) throws IOException {
        int next = first;
        for (; next < totals.size() && totals.get(next).after() == row; next++) {
            TotalRow total = totals.get(next);
            csv.row(fields.size(), c -> total.shown(fields.get(c)));
        }
        return next;
    }
}
