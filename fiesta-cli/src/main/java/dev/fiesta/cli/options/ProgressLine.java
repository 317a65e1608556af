package dev.fiesta.cli.options;

import dev.fiesta.progress.Progress;
import java.io.PrintWriter;
import java.util.Locale;
import java.util.function.Consumer;
import java.util.function.LongSupplier;

/**
 * One line on the terminal that tells where a run stands, from half a second on, and that goes when the run ends: phase, rows and
 * rate, and where the whole is known the share that is done and the time left.
 */
final class ProgressLine implements Consumer<Progress> {
    private static final long PATIENCE_MILLIS = 500;
    static final String WIPE = "\r\033[K";

    private final PrintWriter out;
    private final LongSupplier clock;
    private final int width;
    private final long start;
    private String phase = "";
    private long phaseStart;
    private boolean shown;

    /** @param clock milliseconds */
    ProgressLine(PrintWriter out, int width, LongSupplier clock) {
        this.out = out;
        this.width = width;
        this.clock = clock;
        this.start = clock.getAsLong();
        this.phaseStart = start;
    }

    @Override
    public synchronized void accept(Progress progress) {
        long now = clock.getAsLong();
        if (!progress.phase().equals(phase)) {
            phase = progress.phase();
            phaseStart = now;
        }
        if (now - start < PATIENCE_MILLIS) {
            return;
        }
        String line = line(progress, now - phaseStart);
        out.print(WIPE + (line.length() < width ? line : line.substring(0, width - 1)));
        out.flush();
        shown = true;
    }

    private static String line(Progress progress, long millis) {
        StringBuilder line = new StringBuilder(progress.phase());
        if (progress.rows() > 0) {
            line.append(String.format(Locale.ROOT, "  %,d rows", progress.rows()));
        }
        boolean reading = progress.share() >= 0;
        if (reading && millis > 0) {
            line.append(String.format(Locale.ROOT, "  %,d a second", progress.rows() * 1000 / millis));
        }
        if (reading) {
            line.append(String.format(Locale.ROOT, "  %d%%", (int) (progress.share() * 100)));
        }
        if (progress.share() > 0.02 && progress.share() < 1 && millis >= PATIENCE_MILLIS) {
            long left = Math.round(millis / progress.share() * (1 - progress.share()) / 1000);
            line.append("  ")
                    .append(left < 60 ? left + " s" : left / 60 + " min " + left % 60 + " s")
                    .append(" left");
        }
        return line.toString();
    }

    /** Wipes the line. */
    synchronized void end() {
        if (shown) {
            out.print(WIPE);
            out.flush();
            shown = false;
        }
    }
}
