package dev.fiesta.report.write;

import dev.fiesta.language.BriefTree;
import dev.fiesta.output.OutputFolder;
import dev.fiesta.report.chart.ChartSheet;
import dev.fiesta.report.chart.Drawing;
import dev.fiesta.report.content.Content;
import java.io.IOException;
import java.io.OutputStream;

/** Writes each chart of a report, in a file of its own. */
public record ChartsWriter(Drawing drawing) implements FormatWriter {
    /** What becomes of a chart. */
    @FunctionalInterface
    public interface Drawing {
        byte[] of(ChartSheet chart, String title) throws IOException;
    }

    @Override
    public void write(Content report, String ending, boolean guarded, OutputFolder folder) {
        for (BriefTree.Chart chart : report.charts()) {
            folder.writeBytes(report.chartFile(chart, ending), out -> out.write(drawn(report, chart)));
        }
    }

    @Override
    public void write(Content report, String format, OutputStream out) throws IOException {
        out.write(drawn(report, report.only(report.charts(), "chart", format)));
    }

    private byte[] drawn(Content report, BriefTree.Chart chart) throws IOException {
        return drawing.of(report.draw(chart), report.title(chart));
    }
}
