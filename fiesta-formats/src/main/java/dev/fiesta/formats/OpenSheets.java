package dev.fiesta.formats;

import dev.fiesta.problem.FiestaException;
import dev.fiesta.source.InputFormat;
import dev.fiesta.source.Inside;
import dev.fiesta.source.RecordFormat;
import dev.fiesta.source.files.Paths;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import java.util.Set;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;

/**
 * A sheet of an OpenDocument workbook (ISO/IEC 26300), read as {@link Workbooks} reads others: cells are what they are there, formulas
 * by the values that were stored with them.
 *
 * <pre>{@code
 * Fiesta fiesta = Fiesta.with().reads(OpenSheets.FORMAT).open();
 * }</pre>
 */
public final class OpenSheets implements RecordFormat {
    /** {@code as ods}, and files that end in {@code .ods}. */
    public static final InputFormat FORMAT =
            InputFormat.records("ods", List.of(".ods"), Set.of("sheet", "range", "no header"), new OpenSheets());

    private OpenSheets() {}

    @Override
    public String counted() {
        return "row";
    }

    @Override
    public void read(Paths.Named file, Inside inside, Records to) throws IOException {
        SheetRows rows = new SheetRows(file.name(), inside, to);
        OpenSheetReading reading = new OpenSheetReading(inside.sheet(), rows);
        try (ZipFile book = new ZipFile(file.path().toFile())) {
            ZipEntry content = book.getEntry("content.xml");
            if (content == null) {
                throw SheetRows.damaged(file.name());
            }
            try (InputStream in = book.getInputStream(content)) {
                XMLStreamReader xml = factory().createXMLStreamReader(in);
                reading.read(xml);
                xml.close();
            }
        } catch (FiestaException e) {
            throw e;
        } catch (XMLStreamException | IOException | RuntimeException e) { // the parser throws what it likes
            throw SheetRows.damaged(file.name());
        }
        if (inside.sheet() == null) {
            SheetRows.tellOthers(file.name(), reading.shown(), to);
        } else if (!reading.all().contains(inside.sheet())) {
            throw SheetRows.noSheet(file.name(), inside.sheet(), reading.all());
        }
        rows.end();
    }

    /** Nothing outside the document is ever fetched. */
    private static XMLInputFactory factory() {
        XMLInputFactory factory = XMLInputFactory.newDefaultFactory();
        factory.setProperty(XMLInputFactory.SUPPORT_DTD, false);
        factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
        return factory;
    }
}
