package dev.fiesta.report.chart;

import dev.fiesta.value.Texts;
import java.awt.Color;
import java.awt.Dimension;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.Shape;
import java.awt.geom.AffineTransform;
import java.awt.geom.PathIterator;
import java.awt.geom.Rectangle2D;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.List;
import javax.imageio.ImageIO;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import org.apache.batik.svggen.SVGGeneratorContext;
import org.apache.batik.svggen.SVGGraphics2D;
import org.w3c.dom.Document;
import org.w3c.dom.Element;

/** Charts as SVG, in the colours of the page or their own, and as PNG. */
public final class ChartImage {
    private static final int WIDTH = 920;
    /** For a page that is held in a hand. */
    private static final int SLIM = 400;
    /** What a title above a chart takes. */
    private static final int TITLE = 30;
    /** The width of a page of paper between its margins, in units of a 96th of an inch. */
    private static final int PAPER_WIDTH = 660;

    /** What stands between two charts. */
    private static final int BETWEEN = 24;

    private static final int SCALE = 2;
    private static final int MOST_SPOTS = 3000;
    private static final String SVG = "http://www.w3.org/2000/svg";

    private ChartImage() {}

    /**
     * Elements for a page, one for windows and one for narrow ones: their colours are those of the page, and their values show under the
     * pointer.
     *
     * @param id its id on the page; names inside the chart start with it, so that charts do not share them
     * @param title what the chart shows, for those who do not see it
     */
    public static String forPage(ChartSheet sheet, String id, String title) {
        return "<div class=\"broad\">" + element(sheet, id, title, WIDTH) + "</div><div class=\"slim\">"
                + element(sheet, id + "-slim", title, SLIM) + "</div>";
    }

    private static String element(ChartSheet sheet, String id, String title, int width) {
        String svg = svg(sheet, title, width, true, 0)
                .replaceAll("\\bid=\"", "id=\"" + id + "-")
                .replace("url(#", "url(#" + id + "-");
        return ChartInk.inPageColours(svg);
    }

    /**
     * An element for paper, in its own colours.
     *
     * @param half whether it stands beside another
     */
    public static String forPaper(ChartSheet sheet, String title, boolean half) {
        int width = half ? (PAPER_WIDTH - BETWEEN) / 2 : PAPER_WIDTH;
        return svg(sheet, title, width, false, 0)
                .replaceFirst("<svg", "<svg width=\"" + width + "\" height=\"" + sheet.height(width) + "\"");
    }

    /** A file of its own, with its title. */
    public static String file(ChartSheet sheet, String title) {
        int height = sheet.height(WIDTH) + TITLE;
        String svg = svg(sheet, title, WIDTH, false, TITLE)
                .replaceFirst("<svg", "<svg width=\"" + WIDTH + "\" height=\"" + height + "\"");
        int inside = svg.indexOf('>') + 1;
        return "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n" + svg.substring(0, inside)
                + "<rect width=\"100%\" height=\"100%\" fill=\"white\"/>" + svg.substring(inside);
    }

    /** A picture with its title, two dots for each of the drawing's. */
    public static byte[] png(ChartSheet sheet, String title) {
        int height = sheet.height(WIDTH) + TITLE;
        BufferedImage image = new BufferedImage(WIDTH * SCALE, height * SCALE, BufferedImage.TYPE_INT_RGB);
        Graphics2D graphics = image.createGraphics();
        graphics.setColor(Color.WHITE);
        graphics.fillRect(0, 0, image.getWidth(), image.getHeight());
        graphics.scale(SCALE, SCALE);
        graphics.setRenderingHint(RenderingHints.KEY_TEXT_ANTIALIASING, RenderingHints.VALUE_TEXT_ANTIALIAS_ON);
        title(graphics, title);
        graphics.translate(0, TITLE);
        sheet.draw(graphics, WIDTH, null);
        graphics.dispose();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            ImageIO.write(image, "png", out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toByteArray();
    }

    private static void title(Graphics2D graphics, String title) {
        graphics.setFont(ChartInk.titleFont());
        graphics.setPaint(ChartInk.INK);
        graphics.drawString(Texts.printable(title), 2, TITLE - 12);
    }

    /** @param head the room above it for its title; 0 where the title stands elsewhere */
    private static String svg(ChartSheet sheet, String title, int width, boolean spots, int head) {
        int height = sheet.height(width) + head;
        Document document = emptySvg();
        SVGGeneratorContext context = SVGGeneratorContext.createDefault(document);
        context.setComment("");
        context.setPrecision(2);
        SVGGraphics2D graphics = new SVGGraphics2D(context, false);
        graphics.setSVGCanvasSize(new Dimension(width, height));
        if (head > 0) {
            title(graphics, title);
            graphics.translate(0, head);
        }
        List<ChartSheet.Spot> found = new ArrayList<>();
        sheet.draw(graphics, width, spots ? found : null);
        Element root = graphics.getRoot();
        root.setAttribute("viewBox", "0 0 " + width + " " + height);
        root.setAttribute("role", "img");
        root.setAttribute("aria-label", Texts.printable(title));
        root.removeAttribute("width");
        root.removeAttribute("height");
        if (spots) {
            spots(document, root, found);
        }
        StringWriter out = new StringWriter();
        try {
            graphics.stream(root, out, true, false);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        String svg = Texts.printable(out.toString());
        return ChartInk.fonts(svg.substring(svg.indexOf("<svg")).stripTrailing());
    }

    /** Shapes that nobody sees, each telling the value under it. */
    private static void spots(Document document, Element root, List<ChartSheet.Spot> spots) {
        Element group = document.createElementNS(SVG, "g");
        group.setAttribute("class", "spots");
        int count = 0;
        for (ChartSheet.Spot spot : spots) {
            String told = spot.entity().getToolTipText();
            Rectangle2D room = spot.entity().getArea().getBounds2D();
            boolean drawn = Double.isFinite(room.getX() + room.getY() + room.getWidth() + room.getHeight());
            if (told == null || !drawn || ++count > MOST_SPOTS) {
                continue;
            }
            Element path = document.createElementNS(SVG, "path");
            Shape area = AffineTransform.getTranslateInstance(spot.x(), spot.y())
                    .createTransformedShape(spot.entity().getArea());
            path.setAttribute("d", path(area));
            Element text = document.createElementNS(SVG, "title");
            text.appendChild(document.createTextNode(told));
            path.appendChild(text);
            group.appendChild(path);
        }
        root.appendChild(group);
    }

    private static String path(Shape shape) {
        StringBuilder path = new StringBuilder();
        double[] at = new double[6];
        for (PathIterator parts = shape.getPathIterator(null, 0.2); !parts.isDone(); parts.next()) {
            int kind = parts.currentSegment(at);
            path.append(
                    kind == PathIterator.SEG_CLOSE
                            ? "Z"
                            : (kind == PathIterator.SEG_MOVETO ? "M" : "L") + short1(at[0]) + " " + short1(at[1]));
        }
        return path.toString();
    }

    private static String short1(double value) {
        return BigDecimal.valueOf(value)
                .setScale(1, RoundingMode.HALF_EVEN)
                .stripTrailingZeros()
                .toPlainString();
    }

    private static Document emptySvg() {
        try {
            return DocumentBuilderFactory.newDefaultInstance()
                    .newDocumentBuilder()
                    .getDOMImplementation()
                    .createDocument(SVG, "svg", null);
        } catch (ParserConfigurationException e) {
            throw new IllegalStateException(e);
        }
    }
}
