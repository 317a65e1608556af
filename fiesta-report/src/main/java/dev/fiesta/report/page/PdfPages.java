package dev.fiesta.report.page;

import com.openhtmltopdf.outputdevice.helper.BaseRendererBuilder.FSFontUseCase;
import com.openhtmltopdf.outputdevice.helper.BaseRendererBuilder.FontStyle;
import com.openhtmltopdf.pdfboxout.PdfBoxRenderer;
import com.openhtmltopdf.pdfboxout.PdfRendererBuilder;
import com.openhtmltopdf.svgsupport.BatikSVGDrawer;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.report.chart.FontFiles;
import dev.fiesta.report.content.Content;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.util.Calendar;
import java.util.EnumSet;
import java.util.GregorianCalendar;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TimeZone;
import java.util.concurrent.ConcurrentHashMap;
import org.apache.pdfbox.pdmodel.PDDocument;

/** The report as pages for paper, made from a page of its own. The same report always gives the same bytes. */
public final class PdfPages {
    private static final String FAMILY = "Liberation Sans";
    /** In a font of the TrueType form: where the list of tables begins, how long an entry is, and names of tables, the last of which means nothing. */
    private static final int TABLES = 12;

    private static final int TABLE = 16;
    private static final int LIGATURES = 0x47535542; // GSUB
    private static final int NOTHING = 0x78787878;
    private static final Map<String, byte[]> PLAIN = new ConcurrentHashMap<>();

    private PdfPages() {}

    public static byte[] render(Content report) {
        return PdfLog.quietly(() -> set(report));
    }

    private static byte[] set(Content report) {
        List<Blocks.Block> blocks = HtmlPage.blocksForPaper(report, Map.of());
        try (PdfBoxRenderer first = laidOut(report, blocks)) {
            PaperRoom room = new PaperRoom(first, blocks);
            Map<String, Integer> higher = room.higher();
            if (higher.isEmpty()) {
                return written(first, report);
            }
            List<Blocks.Block> grown = HtmlPage.blocksForPaper(report, higher);
            try (PdfBoxRenderer second = laidOut(report, grown)) {
                boolean same = new PaperRoom(second, grown).places().equals(room.places());
                return written(same ? second : first, report);
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (FiestaException e) {
            throw e;
        } catch (RuntimeException e) {
            throw new MachineException("The pages for paper cannot be set", e);
        }
    }

    private static PdfBoxRenderer laidOut(Content report, List<Blocks.Block> blocks) {
        PdfRendererBuilder builder = new PdfRendererBuilder();
        // With tags for those who have pages read to them; the fonts of the machine are not looked for then.
        builder.usePdfUaAccessibility(true);
        builder.useSVGDrawer(new BatikSVGDrawer());
        font(builder, "LiberationSans-Regular.ttf", 400);
        font(builder, "LiberationSans-Bold.ttf", 700);
        builder.useUriResolver((base, uri) -> null);
        builder.withHtmlContent(HtmlPage.renderForPaper(report, blocks), "about:blank");
        builder.withProducer("Fiesta");
        builder.toStream(new ByteArrayOutputStream());
        PdfBoxRenderer renderer = builder.buildPdfRenderer();
        renderer.layout();
        return renderer;
    }

    private static byte[] written(PdfBoxRenderer renderer, Content report) throws IOException {
        PDDocument document = renderer.getPdfDocument();
        renderer.createPDFWithoutClosing();
        Calendar fixed = new GregorianCalendar(TimeZone.getTimeZone("UTC"), java.util.Locale.ROOT);
        fixed.setTimeInMillis(0);
        document.getDocumentInformation().setCreationDate(fixed);
        document.getDocumentInformation().setModificationDate(fixed);
        document.getDocumentInformation().setTitle(report.title());
        document.setDocumentId((long) report.title().hashCode());
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        document.save(bytes);
        return bytes.toByteArray();
    }

    /** For texts from the jar; charts need a file, and without a file that can be read they would be set in another font. */
    private static void font(PdfRendererBuilder builder, String file, int weight) {
        builder.useFont(
                () -> new ByteArrayInputStream(plain(file)),
                FAMILY,
                weight,
                FontStyle.NORMAL,
                true,
                EnumSet.of(FSFontUseCase.DOCUMENT));
        builder.useFont(
                FontFiles.of(file).toFile(), FAMILY, weight, FontStyle.NORMAL, true, EnumSet.of(FSFontUseCase.SVG));
    }

    /**
     * A font without the table of its ligatures, which nobody misses: each text that is set would be searched for them by patterns that are
     * made anew each time, which takes half of the time of long tables.
     */
    private static byte[] plain(String file) {
        return PLAIN.computeIfAbsent(file, name -> {
            try (InputStream in =
                    Objects.requireNonNull(PdfPages.class.getResourceAsStream("/dev/fiesta/report/" + name))) {
                byte[] font = in.readAllBytes();
                ByteBuffer tables = ByteBuffer.wrap(font);
                int count = tables.getShort(4);
                for (int table = 0; table < count; table++) {
                    int at = TABLES + table * TABLE;
                    if (tables.getInt(at) == LIGATURES) {
                        tables.putInt(at, NOTHING);
                    }
                }
                return font;
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
    }
}
