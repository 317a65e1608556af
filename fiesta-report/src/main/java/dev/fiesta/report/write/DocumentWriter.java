package dev.fiesta.report.write;

import dev.fiesta.output.OutputFolder;
import dev.fiesta.problem.MachineException;
import dev.fiesta.report.content.Content;
import java.io.IOException;
import java.io.OutputStream;

/** Writes the whole of a report as one document. */
public record DocumentWriter(Document document) implements FormatWriter {
    /** What becomes of a report. */
    @FunctionalInterface
    public interface Document {
        void write(Content report, OutputStream out) throws IOException;
    }

    @Override
    public void write(Content report, String ending, boolean guarded, OutputFolder folder) {
        folder.writeBytes("report." + ending, out -> document(report, "'report." + ending + "'", out));
    }

    @Override
    public void write(Content report, String format, OutputStream out) throws IOException {
        document(report, "the report as " + format, out);
    }

    private void document(Content report, String name, OutputStream out) throws IOException {
        try {
            document.write(report, out);
        } catch (OutOfMemoryError e) { // only files of data are written row by row
            String fewer = "let tables of the report show fewer rows: table NAME rows 1000";
            throw new MachineException(MachineException.memory(name, fewer), e);
        }
    }
}
