package dev.fiesta.output;

import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.util.List;
import java.util.Objects;
import java.util.function.IntFunction;
import org.jspecify.annotations.Nullable;

/**
 * Delimited text by RFC 4180, with line feeds: unformatted values, missing empty, an empty text in quotes. What is written
 * goes out in parts; {@link #flush} sends the last one.
 */
public final class CsvWriter {
    private static final int PART = 1 << 16;

    private final @Nullable Appendable out;
    private final TextStyle style;
    private final byte delimiter;
    private final ByteText text = new ByteText();

    public CsvWriter(Appendable out, TextStyle style) {
        this(style, out);
    }

    private CsvWriter(TextStyle style, @Nullable Appendable out) {
        this.out = out;
        this.style = style;
        this.delimiter = (byte) style.delimiter();
    }

    /** A part of a text, put together before it is its turn: {@link #sendTo} sends it. */
    public static CsvWriter part(TextStyle style) {
        return new CsvWriter(style, null);
    }

    /** Sends what was put together. */
    public void sendTo(Appendable to) throws IOException {
        text.sendTo(to);
    }

    /** Writes the names of the columns. */
    public void header(List<String> names) throws IOException {
        for (int c = 0; c < names.size(); c++) {
            start(c);
            text(names.get(c), false);
        }
        end();
    }

    /** Writes a row. */
    public void row(int width, IntFunction<@Nullable Object> values) throws IOException {
        for (int c = 0; c < width; c++) {
            start(c);
            Object value = values.apply(c);
            if (value instanceof String words) {
                text(words, true);
            } else if (value != null) {
                text.put(Texts.of(value));
            }
        }
        end();
    }

    /** Writes a row of columns; the same as {@link #row(int, IntFunction)} with their values, without making objects of them. */
    public void row(Column[] columns, int row) throws IOException {
        for (int c = 0; c < columns.length; c++) {
            start(c);
            if (!columns[c].isMissing(row)) {
                cell(columns[c], row);
            }
        }
        end();
    }

    /** Sends what has not gone out yet. */
    public void flush() throws IOException {
        if (out != null) {
            text.sendTo(out);
        }
    }

    private void start(int column) {
        if (column > 0) {
            text.put(style.delimiter());
        }
    }

    private void end() throws IOException {
        text.put('\n');
        if (out != null && text.size() > PART) {
            flush();
        }
    }

    private void cell(Column column, int row) {
        int at = row & column.mask();
        if (column instanceof TextColumn texts) {
            texts(texts, texts.codes()[at]);
        } else if (column instanceof DoubleColumn numbers) {
            text.number(numbers.values()[at]);
        } else if (!(column instanceof LongColumn longs) || !put(longs.type().kind(), longs, at)) {
            text.put(Texts.of(Objects.requireNonNull(column.get(row))));
        }
    }

    /** Puts what is held in a long; false where only an object can tell it. */
    private boolean put(Kind kind, LongColumn column, int at) {
        long value = column.values()[at];
        if (kind == Kind.DATE) {
            return text.day(value);
        }
        if (kind == Kind.DATETIME) {
            return text.dayAndTime(value);
        }
        if (column.type().isExact()) {
            text.exact(value, column.type().scale());
            return true;
        }
        return false;
    }

    private void texts(TextColumn column, int code) {
        if (style.guarded() && isFormula(column.dictionary().text(code))) {
            text(column.dictionary().text(code), true);
            return;
        }
        int from = text.size();
        text.put(column.dictionary(), code);
        text.cell(from, delimiter, true);
    }

    private void text(String words, boolean quotesNothing) {
        int from = text.size();
        if (style.guarded() && isFormula(words)) {
            text.put('\'');
        }
        text.put(words);
        text.cell(from, delimiter, quotesNothing);
    }

    private static boolean isFormula(String words) {
        return !words.isEmpty() && "=+-@\t\r".indexOf(words.charAt(0)) >= 0;
    }
}
