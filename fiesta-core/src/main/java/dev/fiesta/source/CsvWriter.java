package dev.fiesta.source;

import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Values;
import java.io.IOException;
import java.util.List;
import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;

/** Delimited text by RFC 4180, with line feeds: unformatted values, missing empty, an empty text in quotes. */
public final class CsvWriter {
    private final Appendable out;
    private final StringBuilder line = new StringBuilder();

    public CsvWriter(Appendable out) {
        this.out = out;
    }

    /** Writes the names of the columns. */
    public void header(List<String> names) throws IOException {
        for (int c = 0; c < names.size(); c++) {
            out.append(c == 0 ? "" : ",").append(quoted(names.get(c)));
        }
        out.append('\n');
    }

    /** Writes a row. */
    public void row(int width, IntFunction<@Nullable Object> values) throws IOException {
        for (int c = 0; c < width; c++) {
            Object value = values.apply(c);
            out.append(c == 0 ? "" : ",");
            if (value instanceof String text) {
                out.append(text.isEmpty() ? "\"\"" : quoted(text));
            } else if (value != null) {
                out.append(Texts.of(value));
            }
        }
        out.append('\n');
    }

    /** Writes a row of columns; the same as {@link #row(int, IntFunction)} with their values, without making objects of them. */
    public void row(Column[] columns, int row) throws IOException {
        line.setLength(0);
        for (int c = 0; c < columns.length; c++) {
            if (c > 0) {
                line.append(',');
            }
            cell(columns[c], row);
        }
        out.append(line.append('\n'));
    }

    private void cell(Column column, int row) {
        if (column.isMissing(row)) {
            return;
        }
        if (column instanceof TextColumn texts) {
            String text = java.util.Objects.requireNonNull(texts.get(row));
            line.append(text.isEmpty() ? "\"\"" : quoted(text));
        } else if (column instanceof LongColumn longs && column.type().isExact()) {
            exact(longs.values()[row & column.mask()], column.type().scale());
        } else {
            line.append(Texts.of(java.util.Objects.requireNonNull(column.get(row))));
        }
    }

    /** Decimals with all their digits. */
    private void exact(long value, int scale) {
        if (scale == 0) {
            line.append(value);
            return;
        }
        long size = Math.abs(value);
        long unit = Values.power(scale);
        line.append(value < 0 ? "-" : "").append(size / unit).append('.');
        String rest = Long.toString(size % unit);
        line.append("0".repeat(scale - rest.length())).append(rest);
    }

    private static String quoted(String text) {
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c == ',' || c == '"' || c == '\n' || c == '\r') {
                return '"' + text.replace("\"", "\"\"") + '"';
            }
        }
        return text;
    }
}
