package dev.fiesta.report.page;

import com.openhtmltopdf.util.Diagnostic;
import com.openhtmltopdf.util.XRLog;
import com.openhtmltopdf.util.XRLogger;
import java.util.logging.Level;

/**
 * Keeps the library that sets pages quiet while it sets ours. Its log is one for the whole virtual machine, so what other threads
 * log through it goes where it went before.
 */
final class PdfLog implements XRLogger {
    private static final ThreadLocal<Boolean> OURS = ThreadLocal.withInitial(() -> false);

    private final XRLogger others;

    private PdfLog(XRLogger others) {
        this.others = others;
    }

    /** Work that logs nothing. */
    static <T> T quietly(java.util.function.Supplier<T> work) {
        install();
        OURS.set(true);
        try {
            return work.get();
        } finally {
            OURS.remove();
        }
    }

    private static synchronized void install() {
        XRLogger now = XRLog.getLoggerImpl();
        if (!(now instanceof PdfLog)) {
            XRLog.setLoggerImpl(new PdfLog(now));
        }
    }

    @Override
    public void log(String where, Level level, String text) {
        if (!OURS.get()) {
            others.log(where, level, text);
        }
    }

    @Override
    public void log(String where, Level level, String text, Throwable cause) {
        if (!OURS.get()) {
            others.log(where, level, text, cause);
        }
    }

    @Override
    public void setLevel(String logger, Level level) {
        others.setLevel(logger, level);
    }

    @Override
    public boolean isLogLevelEnabled(Diagnostic diagnostic) {
        return !OURS.get() && others.isLogLevelEnabled(diagnostic);
    }
}
