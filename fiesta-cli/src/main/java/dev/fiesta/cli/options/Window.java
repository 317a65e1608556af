package dev.fiesta.cli.options;

import dev.fiesta.report.Terminal;
import java.util.Map;

/** The window that results are printed in; where they go to a pipe or a file there is none, and nothing is cut. */
public final class Window {
    /** When colours are used. */
    enum Colour {
        AUTO,
        ALWAYS,
        NEVER
    }

    /** Most rows of a table in a window where nothing else is told. */
    static final int USUAL_ROWS = 40;

    private static final int USUAL_WIDTH = 100;

    private static final int HELP_WIDTH = 80;

    private Window() {}

    /** How wide the window is, and whether it shows colours. */
    public record Size(int width, boolean coloured) {}

    public static Size size(Colour colour) {
        Map<String, String> environment = System.getenv();
        boolean window = isTerminal("out");
        boolean coloured =
                colour == Colour.ALWAYS || (colour == Colour.AUTO && window && !environment.containsKey("NO_COLOR"));
        String told = environment.getOrDefault("COLUMNS", System.getProperty("fiesta.columns", ""));
        return new Size(window || environment.containsKey("COLUMNS") ? width(told) : Terminal.UNCUT, coloured);
    }

    /** How wide lines of help are: as the window, but not so wide that they are hard to read. */
    public static int helpWidth() {
        int width = size(Colour.AUTO).width();
        return width == Terminal.UNCUT ? HELP_WIDTH : Math.max(HELP_WIDTH - 20, Math.min(width, HELP_WIDTH + 20));
    }

    /**
     * Whether a stream of the process is a terminal: the start script knows; without it, whatever the JDK makes of both streams.
     *
     * @param stream {@code in}, {@code out} or {@code err}
     */
    public static boolean isTerminal(String stream) {
        String told = System.getProperty("fiesta.terminal");
        return told == null ? System.console() != null && isOldJdk() : told.contains(stream);
    }

    /** Newer JDKs have a console even where there is no terminal. */
    private static boolean isOldJdk() {
        return Runtime.version().feature() < 22;
    }

    /**
     * A printer for a locale.
     *
     * @param rows most rows of a table as told, 0 for all, less than 0 for what is usual
     */
    public static Terminal terminal(String locale, Colour colour, int rows) {
        Size size = size(colour);
        int most = rows >= 0 ? rows : isTerminal("out") ? USUAL_ROWS : 0;
        return new Terminal(locale, size.width(), most, size.coloured());
    }

    private static int width(String columns) {
        return columns.matches("[1-9][0-9]{1,3}") ? Math.max(20, Integer.parseInt(columns)) : USUAL_WIDTH;
    }
}
