package dev.fiesta.cli;

import dev.fiesta.report.Terminal;
import java.util.Map;

/** The window that results are printed in. */
final class Window {
    /** When colours are used. */
    enum Colour {
        AUTO,
        ALWAYS,
        NEVER
    }

    private static final int USUAL_WIDTH = 100;

    private Window() {}

    /** A printer for a locale; as wide as the window, or 100 characters where there is none. */
    static Terminal terminal(String locale, Colour colour, int rows) {
        Map<String, String> environment = System.getenv();
        boolean window = System.console() != null;
        boolean coloured =
                colour == Colour.ALWAYS || (colour == Colour.AUTO && window && !environment.containsKey("NO_COLOR"));
        return new Terminal(locale, width(environment.getOrDefault("COLUMNS", "")), rows, coloured);
    }

    private static int width(String columns) {
        return columns.matches("[1-9][0-9]{1,3}") ? Math.max(20, Integer.parseInt(columns)) : USUAL_WIDTH;
    }
}
