package dev.fiesta.formats;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;

/** A workbook written part by part, as the standard has it, so that cells are exactly what a test says. */
final class SmallBook {
    /** Formats of cells: none, a day, a day and a time, a number with letters in it, a time. */
    static final int PLAIN = 0;

    static final int DAY = 1;
    static final int DAY_AND_TIME = 2;
    static final int UNIT = 3;
    static final int TIME = 4;

    private static final String MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
    private static final String RELATIONS = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
    private static final String PACKAGE = "http://schemas.openxmlformats.org/package/2006/";
    private static final String TYPE = "application/vnd.openxmlformats-officedocument.spreadsheetml.";

    private final List<String> names = new ArrayList<>();
    private final List<String> states = new ArrayList<>();
    private final List<StringBuilder> sheets = new ArrayList<>();
    private boolean dates1904;

    SmallBook dates1904() {
        dates1904 = true;
        return this;
    }

    /** @param state empty, or {@code hidden} */
    SmallBook sheet(String name, String state) {
        names.add(name);
        states.add(state);
        sheets.add(new StringBuilder());
        return this;
    }

    /** @param cells as the methods below write them, with {@code #} for the number of the row */
    SmallBook row(int row, String... cells) {
        StringBuilder sheet = sheets.get(sheets.size() - 1);
        sheet.append("<row r=\"").append(row).append("\">");
        for (String cell : cells) {
            sheet.append(cell.replace("#\"", row + "\""));
        }
        sheet.append("</row>");
        return this;
    }

    static String text(String column, String text) {
        return "<c r=\"" + column + "#\" t=\"inlineStr\"><is><t>" + text + "</t></is></c>";
    }

    static String number(String column, String digits, int format) {
        return "<c r=\"" + column + "#\" s=\"" + format + "\"><v>" + digits + "</v></c>";
    }

    /** @param type {@code b}, {@code e}, {@code str}, or {@code n} */
    static String typed(String column, String type, String value) {
        return "<c r=\"" + column + "#\" t=\"" + type + "\"><v>" + value + "</v></c>";
    }

    static String formula(String column, String type, String formula, String stored) {
        return "<c r=\"" + column + "#\" t=\"" + type + "\"><f>" + formula + "</f><v>" + stored + "</v></c>";
    }

    void write(Path file) throws IOException {
        try (OutputStream out = Files.newOutputStream(file);
                ZipOutputStream zip = new ZipOutputStream(out)) {
            part(
                    zip,
                    "[Content_Types].xml",
                    "<Types xmlns=\"" + PACKAGE + "content-types\">"
                            + "<Default Extension=\"rels\" ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/>"
                            + "<Default Extension=\"xml\" ContentType=\"application/xml\"/>"
                            + "<Override PartName=\"/xl/workbook.xml\" ContentType=\"" + TYPE + "sheet.main+xml\"/>"
                            + "<Override PartName=\"/xl/styles.xml\" ContentType=\"" + TYPE + "styles+xml\"/></Types>");
            part(
                    zip,
                    "_rels/.rels",
                    "<Relationships xmlns=\"" + PACKAGE + "relationships\"><Relationship Id=\"r1\" Type=\"" + RELATIONS
                            + "/officeDocument\" Target=\"xl/workbook.xml\"/></Relationships>");
            StringBuilder list = new StringBuilder();
            StringBuilder relations = new StringBuilder();
            for (int i = 0; i < names.size(); i++) {
                String state = states.get(i).isEmpty() ? "" : " state=\"" + states.get(i) + "\"";
                list.append("<sheet name=\"" + names.get(i) + "\" sheetId=\"" + (i + 1) + "\" r:id=\"s" + i + "\""
                        + state + "/>");
                relations.append("<Relationship Id=\"s" + i + "\" Type=\"" + RELATIONS
                        + "/worksheet\" Target=\"worksheets/sheet" + i + ".xml\"/>");
                part(
                        zip,
                        "xl/worksheets/sheet" + i + ".xml",
                        "<worksheet xmlns=\"" + MAIN + "\"><sheetData>" + sheets.get(i) + "</sheetData></worksheet>");
            }
            part(
                    zip,
                    "xl/workbook.xml",
                    "<workbook xmlns=\"" + MAIN + "\" xmlns:r=\"" + RELATIONS + "\">"
                            + (dates1904 ? "<workbookPr date1904=\"1\"/>" : "") + "<sheets>" + list
                            + "</sheets></workbook>");
            part(
                    zip,
                    "xl/_rels/workbook.xml.rels",
                    "<Relationships xmlns=\"" + PACKAGE + "relationships\">" + relations
                            + "<Relationship Id=\"st\" Type=\"" + RELATIONS
                            + "/styles\" Target=\"styles.xml\"/></Relationships>");
            part(
                    zip,
                    "xl/styles.xml",
                    "<styleSheet xmlns=\"" + MAIN + "\"><numFmts count=\"2\">"
                            + "<numFmt numFmtId=\"164\" formatCode=\"dd/mm/yyyy\\ hh:mm\"/>"
                            + "<numFmt numFmtId=\"165\" formatCode=\"#,##0.00\\ &quot;days&quot;\"/></numFmts>"
                            + "<cellXfs count=\"5\"><xf numFmtId=\"0\"/><xf numFmtId=\"14\"/><xf numFmtId=\"164\"/>"
                            + "<xf numFmtId=\"165\"/><xf numFmtId=\"20\"/></cellXfs></styleSheet>");
        }
    }

    private static void part(ZipOutputStream zip, String name, String content) throws IOException {
        zip.putNextEntry(new ZipEntry(name));
        zip.write(("<?xml version=\"1.0\" encoding=\"UTF-8\"?>" + content).getBytes(StandardCharsets.UTF_8));
        zip.closeEntry();
    }
}
