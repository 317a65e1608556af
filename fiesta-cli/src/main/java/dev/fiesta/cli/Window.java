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

    /** How wide the window is, and whether it shows colours. */
    record Size(int width, boolean coloured) {}

    static Size size(Colour colour) {
        Map<String, String> environment = System.getenv();
        boolean window = System.console() != null;
        boolean coloured =
                colour == Colour.ALWAYS || (colour == Colour.AUTO && window && !environment.containsKey("NO_COLOR"));
        return new Size(width(environment.getOrDefault("COLUMNS", "")), coloured);
    }

    /** A printer for a locale; as wide as the window, or 100 characters where there is none. */
    static Terminal terminal(String locale, Colour colour, int rows) {
        Size size = size(colour);
        return new Terminal(locale, size.width(), rows, size.coloured());
    }

    private static int width(String columns) {
        return columns.matches("[1-9][0-9]{1,3}") ? Math.max(20, Integer.parseInt(columns)) : USUAL_WIDTH;
    }
}
