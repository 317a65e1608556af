package dev.fiesta.report;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.Objects;
import java.util.logging.Level;
import java.util.logging.Logger;
import org.apache.fontbox.FontBoxFont;
import org.apache.fontbox.ttf.TTFParser;
import org.apache.fontbox.ttf.TrueTypeFont;
import org.apache.pdfbox.io.RandomAccessReadBuffer;
import org.apache.pdfbox.pdmodel.font.CIDFontMapping;
import org.apache.pdfbox.pdmodel.font.FontMapper;
import org.apache.pdfbox.pdmodel.font.FontMappers;
import org.apache.pdfbox.pdmodel.font.FontMapping;
import org.apache.pdfbox.pdmodel.font.PDCIDSystemInfo;
import org.apache.pdfbox.pdmodel.font.PDFontDescriptor;
import org.jspecify.annotations.Nullable;

/** The bundled font stands in for every other, so that pages do not depend on the fonts of the machine. */
final class PdfFonts implements FontMapper {
    private static final Logger LOG = Logger.getLogger("org.apache.pdfbox");

    private final TrueTypeFont font;

    private PdfFonts(TrueTypeFont font) {
        this.font = font;
    }

    /** Lets no font of the machine be looked for from now on. */
    static synchronized void use() {
        LOG.setLevel(Level.SEVERE);
        try (InputStream in =
                Objects.requireNonNull(PdfFonts.class.getResourceAsStream("LiberationSans-Regular.ttf"))) {
            FontMappers.set(new PdfFonts(new TTFParser().parse(new RandomAccessReadBuffer(in.readAllBytes()))));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    @Override
    public FontMapping<TrueTypeFont> getTrueTypeFont(String name, @Nullable PDFontDescriptor descriptor) {
        return new FontMapping<>(font, true);
    }

    @Override
    public FontMapping<FontBoxFont> getFontBoxFont(String name, @Nullable PDFontDescriptor descriptor) {
        return new FontMapping<>(font, true);
    }

    @Override
    public CIDFontMapping getCIDFont(
            String name, @Nullable PDFontDescriptor descriptor, @Nullable PDCIDSystemInfo system) {
        return new CIDFontMapping(null, font, true);
    }
}
