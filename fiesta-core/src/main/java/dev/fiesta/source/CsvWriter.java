package dev.fiesta.source;

import dev.fiesta.value.Column;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.util.List;

/** Delimited text by RFC 4180, with line feeds: unformatted values, missing empty, an empty text in quotes. */
public final class CsvWriter {
    private CsvWriter() {}

    /** Writes a header and rows. */
    public static void write(Appendable out, List<String> names, List<Column> columns, int rows) throws IOException {
        for (int c = 0; c < names.size(); c++) {
            out.append(c == 0 ? "" : ",").append(quoted(names.get(c)));
        }
        out.append('\n');
        for (int row = 0; row < rows; row++) {
            for (int c = 0; c < columns.size(); c++) {
                Object value = columns.get(c).get(row);
                out.append(c == 0 ? "" : ",");
                if (value instanceof String text) {
                    out.append(text.isEmpty() ? "\"\"" : quoted(text));
                } else if (value != null) {
                    out.append(Texts.of(value));
                }
            }
            out.append('\n');
        }
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
