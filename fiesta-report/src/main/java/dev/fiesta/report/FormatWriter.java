package dev.fiesta.report;

import dev.fiesta.output.OutputFolder;
import java.io.IOException;
import java.io.OutputStream;

/** Writes a report in one format. Whoever adds one says so in {@link Format}. */
interface FormatWriter {
    /**
     * Writes as many files as the format makes of a report.
     *
     * @param format this one, by which they are named
     * @param guarded whether texts that a spreadsheet would take for a formula are defused
     */
    void write(Report report, Format format, boolean guarded, OutputFolder folder);

    /**
     * Writes the one thing that the format makes of a report.
     *
     * @param format this one, by which it is told of
     * @throws dev.fiesta.problem.RequestException when it makes several
     */
    void write(Report report, Format format, OutputStream out) throws IOException;
}
