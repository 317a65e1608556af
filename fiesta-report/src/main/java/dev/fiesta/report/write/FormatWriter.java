package dev.fiesta.report.write;

import dev.fiesta.output.OutputFolder;
import dev.fiesta.report.content.Content;
import java.io.IOException;
import java.io.OutputStream;

/** Writes a report in one format. Whoever adds one names it as a format. */
public interface FormatWriter {
    /**
     * Writes as many files as the format makes of a report.
     *
     * @param ending of their names
     * @param guarded whether texts that a spreadsheet would take for a formula are defused
     */
    void write(Content report, String ending, boolean guarded, OutputFolder folder);

    /**
     * Writes the one thing that the format makes of a report.
     *
     * @param format this one, by which it is told of
     * @throws dev.fiesta.problem.RequestException when it makes several
     */
    void write(Content report, String format, OutputStream out) throws IOException;
}
