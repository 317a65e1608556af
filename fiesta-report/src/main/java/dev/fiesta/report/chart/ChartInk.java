package dev.fiesta.report.chart;

import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.Font;
import java.awt.FontFormatException;
import java.awt.Polygon;
import java.awt.Shape;
import java.awt.Stroke;
import java.awt.geom.Ellipse2D;
import java.awt.geom.Rectangle2D;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;

/** What charts are drawn with: colours that colour-blind readers and grey print keep apart, dashes, signs, one bundled font. */
public final class ChartInk {
    public static final Color INK = new Color(0x24, 0x21, 0x1C);
    static final Color SOFT = new Color(0x6D, 0x66, 0x5A);
    static final Color LINE = new Color(0xD8, 0xD1, 0xC3);
    static final Color[] SERIES = {
        new Color(0x1F5F6B),
        new Color(0xD08A1D),
        new Color(0xA63D2F),
        new Color(0x6C86C4),
        new Color(0x6F7F2A),
        new Color(0x7B4A75),
        new Color(0xB59C74),
        new Color(0x4A4A4A)
    };
    static final float[][] DASHES = {null, null, {7, 3}, null, {12, 3}, {9, 3, 2, 3}, {4, 3}, null};
    static final Shape[] SHAPES = {
        new Ellipse2D.Double(-4, -4, 8, 8),
        new Rectangle2D.Double(-3.5, -3.5, 7, 7),
        polygon(-5, 4, 5, 4, 0, -5),
        polygon(-5, 0, 0, -5, 5, 0, 0, 5),
        polygon(-5, -4, 5, -4, 0, 5),
        new Ellipse2D.Double(-2.5, -2.5, 5, 5),
        new Rectangle2D.Double(-5, -2, 10, 4),
        new Rectangle2D.Double(-2, -5, 4, 10)
    };
    static final Font FONT = font();

    private ChartInk() {}

    private static Font font() {
        try {
            return Font.createFont(
                    Font.TRUETYPE_FONT,
                    FontFiles.of("LiberationSans-Regular.ttf").toFile());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (FontFormatException e) {
            throw new IllegalStateException("the bundled font cannot be read", e);
        }
    }

    private static Shape polygon(int... at) {
        Polygon polygon = new Polygon();
        for (int i = 0; i < at.length; i += 2) {
            polygon.addPoint(at[i], at[i + 1]);
        }
        return polygon;
    }

    static Stroke stroke(int series) {
        float[] dash = DASHES[series % DASHES.length];
        return dash == null
                ? new BasicStroke(2.2f, BasicStroke.CAP_ROUND, BasicStroke.JOIN_ROUND)
                : new BasicStroke(2.2f, BasicStroke.CAP_BUTT, BasicStroke.JOIN_ROUND, 1, dash, 0);
    }

    /** The colour of a series. */
    public static Color series(int number) {
        return SERIES[number % SERIES.length];
    }

    /** The dashes and gaps of the line of a series, in points; none where it has no gaps. */
    public static List<Integer> dash(int number) {
        float[] dash = DASHES[number % DASHES.length];
        List<Integer> lengths = new ArrayList<>();
        for (int i = 0; dash != null && i < dash.length; i++) {
            lengths.add(Math.round(dash[i]));
        }
        return lengths;
    }

    /** The titles of small charts, and of those in files of their own. */
    static Font titleFont() {
        return FONT.deriveFont(15f);
    }

    /** Values written at their bars or points. */
    static Font valueFont() {
        return FONT.deriveFont(12.5f); // what has the size that is usual in drawings gets lost on paper
    }

    /** Names of fonts that stand in where the bundled one is not there. */
    static String fonts(String svg) {
        return svg.replace("'Liberation Sans'", "'Liberation Sans', Arial, sans-serif");
    }

    /** Colours become those of the page, so that dark pages show lighter ones. */
    static String inPageColours(String svg) {
        String page = named(svg, INK, "--ink");
        page = named(page, SOFT, "--soft");
        page = named(page, LINE, "--line").replace("fill:white;", "fill:var(--paper);");
        for (int i = 0; i < SERIES.length; i++) {
            page = named(page, SERIES[i], "--series-" + (i + 1));
        }
        return page;
    }

    private static String named(String svg, Color colour, String name) {
        String rgb = "rgb(" + colour.getRed() + "," + colour.getGreen() + "," + colour.getBlue() + ")";
        return svg.replace(rgb, "var(" + name + ")");
    }
}
