package dev.fiesta.report;

import dev.fiesta.output.CsvWriter;
import dev.fiesta.output.FileNames;
import dev.fiesta.output.OutputFolder;
import dev.fiesta.output.TextStyle;
import dev.fiesta.source.Aside;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.regex.Pattern;

/** The records that a run set aside: files to be repaired, and beside each what was wrong. */
final class SetAside {
    static final String FOLDER = "set-aside";
    private static final List<String> REASONS = List.of("file", "line", "line_aside", "field", "value", "reason");

    private SetAside() {}

    /** Writes them; what a run before left of inputs that now set nothing aside goes. */
    static void write(Map<String, Aside> asides, OutputFolder folder) {
        for (Aside aside : asides.values()) {
            String name = FileNames.of(aside.input());
            if (aside.count() > 0) {
                aside.files()
                        .forEach((ending, content) ->
                                folder.writeBytes(FOLDER + "/" + name + ending, out -> content.write(out)));
                folder.write(FOLDER + "/" + name + "-reasons.csv", out -> reasons(aside, out));
            }
            Pattern own = Pattern.compile(Pattern.quote(name) + "(-\\d+|-reasons)?\\.[A-Za-z0-9]{1,5}");
            folder.removeOthers(FOLDER, file -> own.matcher(file).matches());
        }
    }

    private static void reasons(Aside aside, Appendable out) throws IOException {
        try {
            write(aside, out);
        } catch (UncheckedIOException e) {
            throw Objects.requireNonNull(e.getCause());
        }
    }

    private static void write(Aside aside, Appendable out) throws IOException {
        CsvWriter csv = new CsvWriter(out, TextStyle.CSV);
        csv.header(REASONS);
        aside.reasons(reason -> {
            List<Object> cells = List.of(
                    reason.file(), reason.line(), reason.lineAside(), reason.field(), reason.value(), reason.reason());
            try {
                csv.row(cells.size(), cells::get);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
        csv.flush();
    }
}
