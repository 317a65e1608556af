package dev.fiesta.formats;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;

/** Writes OpenDocument workbooks, cell by cell. */
final class SmallSheets {
    private static final String HEAD = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
            + "<office:document-content xmlns:office=\"urn:oasis:names:tc:opendocument:xmlns:office:1.0\""
            + " xmlns:table=\"urn:oasis:names:tc:opendocument:xmlns:table:1.0\""
            + " xmlns:text=\"urn:oasis:names:tc:opendocument:xmlns:text:1.0\""
            + " xmlns:style=\"urn:oasis:names:tc:opendocument:xmlns:style:1.0\""
            + " xmlns:draw=\"urn:oasis:names:tc:opendocument:xmlns:drawing:1.0\""
            + " xmlns:calcext=\"urn:org:documentfoundation:names:experimental:calc:xmlns:calcext:1.0\">"
            + "<office:automatic-styles><style:style style:name=\"off\" style:family=\"table\">"
            + "<style:table-properties table:display=\"false\"/></style:style></office:automatic-styles>"
            + "<office:body><office:spreadsheet>";

    private final StringBuilder content = new StringBuilder(HEAD);

    /** Begins a sheet; the one before ends. */
    SmallSheets sheet(String name, boolean hidden) {
        end();
        content.append("<table:table table:name=\"").append(name).append("\"");
        content.append(hidden ? " table:style-name=\"off\">" : ">").append("<table:table-column/>\n");
        return this;
    }

    private void end() {
        if (content.length() > HEAD.length()) {
            content.append("</table:table>");
        }
    }

    SmallSheets row(String... cells) {
        return repeated(1, cells);
    }

    SmallSheets repeated(int times, String... cells) {
        content.append("<table:table-row table:number-rows-repeated=\"")
                .append(times)
                .append("\">\n  ")
                .append(String.join("\n  ", cells))
                .append("</table:table-row>\n");
        return this;
    }

    /** Something between rows, or around them. */
    SmallSheets raw(String xml) {
        content.append(xml);
        return this;
    }

    static String text(String shown) {
        return cell("string", "", "<text:p>" + shown + "</text:p>");
    }

    static String number(String value) {
        return cell("float", "office:value=\"" + value + "\"", "<text:p>as shown</text:p>");
    }

    static String cell(String type, String attributes, String content) {
        return "<table:table-cell office:value-type=\"" + type + "\" " + attributes + ">" + content
                + "</table:table-cell>";
    }

    static String empty(int times) {
        return "<table:table-cell table:number-columns-repeated=\"" + times + "\"/>";
    }

    void write(Path file) throws IOException {
        end();
        content.append("</office:spreadsheet></office:body></office:document-content>");
        zip(file, "content.xml", content.toString());
    }

    static void zip(Path file, String name, String text) throws IOException {
        try (OutputStream out = Files.newOutputStream(file);
                ZipOutputStream zip = new ZipOutputStream(out)) {
            zip.putNextEntry(new ZipEntry(name));
            zip.write(text.getBytes(StandardCharsets.UTF_8));
            zip.closeEntry();
        }
    }
}
