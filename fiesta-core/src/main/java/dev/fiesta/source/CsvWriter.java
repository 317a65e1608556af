package dev.fiesta.source;

import dev.fiesta.value.Texts;
import java.io.IOException;
import java.util.List;
import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;

/** Delimited text by RFC 4180, with line feeds: unformatted values, missing empty, an empty text in quotes. */
public final class CsvWriter {
    private final Appendable out;

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
