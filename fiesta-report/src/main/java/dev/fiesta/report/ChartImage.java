package dev.fiesta.report;

import dev.fiesta.value.Texts;
import java.awt.Color;
import java.awt.Dimension;
import java.awt.Shape;
import java.awt.geom.PathIterator;
import java.awt.geom.Rectangle2D;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.Collection;
import javax.imageio.ImageIO;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import org.apache.batik.svggen.SVGGeneratorContext;
import org.apache.batik.svggen.SVGGraphics2D;
import org.jfree.chart.ChartRenderingInfo;
import org.jfree.chart.entity.ChartEntity;
import org.w3c.dom.Document;
import org.w3c.dom.Element;

/** Charts as SVG, in the colours of the page or their own, and as PNG. */
final class ChartImage {
    private static final int WIDTH = 920;
    /** The width of a page of paper between its margins, in units of a 96th of an inch. */
    private static final int PAPER_WIDTH = 660;

    private static final int SCALE = 2;
    private static final int MOST_SPOTS = 3000;
    private static final String SVG = "http://www.w3.org/2000/svg";

    private ChartImage() {}

    /**
     * An element for a page: its colours are those of the page, and its values show under the pointer.
     *
     * @param id its id on the page; names inside the chart start with it, so that charts do not share them
     * @param title what the chart shows, for those who do not see it
     */
    static String forPage(Charts.Drawn drawn, String id, String title) {
        String svg = svg(drawn, title, true)
                .replaceAll("\\bid=\"", "id=\"" + id + "-")
                .replace("url(#", "url(#" + id + "-");
        return ChartLook.inPageColours(svg);
    }

    /** An element for paper, in its own colours. */
    static String forPaper(Charts.Drawn drawn, String title) {
        return sized(drawn, title, PAPER_WIDTH);
    }

    private static String sized(Charts.Drawn drawn, String title, int width) {
        int height = Math.round(drawn.height() * (float) width / WIDTH);
        return svg(drawn, title, false).replaceFirst("<svg", "<svg width=\"" + width + "\" height=\"" + height + "\"");
    }

    /** A file of its own. */
    static String file(Charts.Drawn drawn, String title) {
        String svg = sized(drawn, title, WIDTH);
        int inside = svg.indexOf('>') + 1;
        return "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n" + svg.substring(0, inside)
                + "<rect width=\"100%\" height=\"100%\" fill=\"white\"/>" + svg.substring(inside);
    }

    /** A picture, two dots for each of the drawing's. */
    static byte[] png(Charts.Drawn drawn) {
        BufferedImage image = new BufferedImage(WIDTH * SCALE, drawn.height() * SCALE, BufferedImage.TYPE_INT_RGB);
        var graphics = image.createGraphics();
        graphics.setColor(Color.WHITE);
        graphics.fillRect(0, 0, image.getWidth(), image.getHeight());
        graphics.scale(SCALE, SCALE);
        drawn.chart().draw(graphics, new Rectangle2D.Double(0, 0, WIDTH, drawn.height()));
        graphics.dispose();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            ImageIO.write(image, "png", out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toByteArray();
    }

    private static String svg(Charts.Drawn drawn, String title, boolean spots) {
        Document document = emptySvg();
        SVGGeneratorContext context = SVGGeneratorContext.createDefault(document);
        context.setComment("");
        context.setPrecision(2);
        SVGGraphics2D graphics = new SVGGraphics2D(context, false);
        graphics.setSVGCanvasSize(new Dimension(WIDTH, drawn.height()));
        ChartRenderingInfo info = new ChartRenderingInfo();
        drawn.chart().draw(graphics, new Rectangle2D.Double(0, 0, WIDTH, drawn.height()), info);
        Element root = graphics.getRoot();
        root.setAttribute("viewBox", "0 0 " + WIDTH + " " + drawn.height());
        root.setAttribute("role", "img");
        root.setAttribute("aria-label", Texts.printable(title));
        root.removeAttribute("width");
        root.removeAttribute("height");
        if (spots) {
            spots(document, root, info.getEntityCollection().getEntities());
        }
        StringWriter out = new StringWriter();
        try {
            graphics.stream(root, out, true, false);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        String svg = Texts.printable(out.toString());
        return ChartLook.fonts(svg.substring(svg.indexOf("<svg")).stripTrailing());
    }

    /** Shapes that nobody sees, each telling the value under it. */
    private static void spots(Document document, Element root, Collection<?> entities) {
        Element group = document.createElementNS(SVG, "g");
        group.setAttribute("class", "spots");
        int count = 0;
        for (Object entity : entities) {
            ChartEntity spot = (ChartEntity) entity;
            if (spot.getToolTipText() == null || ++count > MOST_SPOTS) {
                continue;
            }
            Element path = document.createElementNS(SVG, "path");
            path.setAttribute("d", path(spot.getArea()));
            Element text = document.createElementNS(SVG, "title");
            text.appendChild(document.createTextNode(spot.getToolTipText()));
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
