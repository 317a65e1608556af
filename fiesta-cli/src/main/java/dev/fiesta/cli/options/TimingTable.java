package dev.fiesta.cli.options;

import dev.fiesta.progress.Timing;
import java.io.PrintWriter;
import java.util.List;
import java.util.Locale;

/** What the steps of a run read, kept, held, wrote to the temporary file and took. */
final class TimingTable {
    private TimingTable() {}

    static void print(List<Timing> timings, PrintWriter out) {
        int table = Math.max(
                5, timings.stream().mapToInt(t -> t.table().length()).max().orElse(0));
        int step = Math.max(
                4, timings.stream().mapToInt(t -> t.step().length()).max().orElse(0));
        String layout = "%-" + table + "s  %-" + step + "s  %13s  %13s  %9s  %8s  %10s%n";
        out.printf(layout, "table", "step", "rows in", "rows left", "seconds", "MB held", "MB on disk");
        for (Timing timing : timings) {
            out.printf(
                    Locale.ROOT,
                    layout,
                    timing.table(),
                    timing.step(),
                    String.format(Locale.ROOT, "%,d", timing.rowsIn()),
                    String.format(Locale.ROOT, "%,d", timing.rowsOut()),
                    timing.nanos() == 0 ? "" : String.format(Locale.ROOT, "%.3f", timing.nanos() / 1e9),
                    megabytes(timing.held()),
                    megabytes(timing.written()));
        }
    }

    private static String megabytes(long bytes) {
        return bytes == 0 ? "" : String.format(Locale.ROOT, "%.1f", bytes / 1e6);
    }
}
