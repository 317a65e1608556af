package dev.fiesta.source;

import dev.fiesta.problem.MachineException;
import dev.fiesta.value.Column;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.List;

/** Delimited text by RFC 4180, with line feeds: unformatted values, missing empty, an empty text in quotes. */
public final class CsvWriter {
    /** Writes to an open file. */
    public interface Content {
        void writeTo(Appendable out) throws IOException;
    }

    private CsvWriter() {}

    /** Writes a file beside its place and moves it there, so that nobody sees half of it. */
    public static void write(Path file, Content content) {
        Path folder = file.toAbsolutePath().getParent();
        try {
            Files.createDirectories(folder);
            Path beside = Files.createTempFile(folder, ".fiesta-", ".part");
            try {
                try (Writer out = Files.newBufferedWriter(beside, StandardCharsets.UTF_8)) {
                    content.writeTo(out);
                }
                readable(beside);
                Files.move(beside, file, StandardCopyOption.REPLACE_EXISTING);
            } finally {
                Files.deleteIfExists(beside);
            }
        } catch (IOException e) {
            throw new MachineException("'" + file.getFileName() + "' cannot be written", e);
        }
    }

    /** Temporary files are for their owner only; a result is an ordinary file. */
    private static void readable(Path file) throws IOException {
        if (file.getFileSystem().supportedFileAttributeViews().contains("posix")) {
            Files.setPosixFilePermissions(file, java.nio.file.attribute.PosixFilePermissions.fromString("rw-r--r--"));
        }
    }

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
