package dev.fiesta.report.write;

import dev.fiesta.Result;
import dev.fiesta.output.FileNames;
import dev.fiesta.output.OutputFolder;
import dev.fiesta.output.Utf8Writer;
import dev.fiesta.report.content.Content;
import java.io.IOException;
import java.io.OutputStream;
import java.io.Writer;
import org.jspecify.annotations.Nullable;

/**
 * Writes each table of a report as data, in a file of its own.
 *
 * @param text what becomes of a table where that is text, else null
 * @param bytes the same as bytes, texts in UTF-8
 */
public record TablesWriter(@Nullable Text text, Bytes bytes) implements FormatWriter {
    /** A table as text. */
    @FunctionalInterface
    public interface Text {
        void write(Result result, boolean guarded, Appendable out) throws IOException;
    }

    /** A table as bytes. */
    @FunctionalInterface
    public interface Bytes {
        void write(Result result, boolean guarded, OutputStream out) throws IOException;
    }

    public static TablesWriter ofText(Text text) {
        return new TablesWriter(text, (result, guarded, out) -> {
            Writer writer = new Utf8Writer(out);
            text.write(result, guarded, writer);
            writer.flush();
        });
    }

    public static TablesWriter ofBytes(Bytes bytes) {
        return new TablesWriter(null, bytes);
    }

    @Override
    public void write(Content report, String ending, boolean guarded, OutputFolder folder) {
        for (Result result : report.data()) {
            folder.writeBytes(FileNames.of(result.name()) + "." + ending, out -> bytes.write(result, guarded, out));
        }
    }

    @Override
    public void write(Content report, String format, OutputStream out) throws IOException {
        bytes.write(report.only(report.data(), "table", format), false, out);
    }
}
