package dev.fiesta.formats;

import dev.fiesta.value.ShortestNumber;
import dev.fiesta.value.Texts;
import java.time.Duration;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;
import org.jspecify.annotations.Nullable;

/** Goes through the content of an OpenDocument workbook once and hands over the rows of one sheet. */
final class OpenSheetReading {
    private static final String NAMES = "urn:oasis:names:tc:opendocument:xmlns:";
    private static final String TABLE = NAMES + "table:1.0";
    private static final String OFFICE = NAMES + "office:1.0";
    private static final String TEXT = NAMES + "text:1.0";
    private static final String STYLE = NAMES + "style:1.0";
    private static final String EXTENSION = "urn:org:documentfoundation:names:experimental:calc:xmlns:calcext:1.0";

    /** More rows, or columns, than any program has. */
    private static final int MOST = 1 << 24;

    private final @Nullable String wanted;
    private final SheetRows rows;
    private final List<String> all = new ArrayList<>();
    private final List<String> shown = new ArrayList<>();
    private final Set<String> hidden = new HashSet<>();

    /** @param wanted the name of a sheet, or null for the first that is not hidden */
    OpenSheetReading(@Nullable String wanted, SheetRows rows) {
        this.wanted = wanted;
        this.rows = rows;
    }

    /** The names of all sheets. */
    List<String> all() {
        return all;
    }

    /** The names of those that are not hidden. */
    List<String> shown() {
        return shown;
    }

    void read(XMLStreamReader xml) throws XMLStreamException {
        String style = "";
        while (xml.hasNext()) {
            if (xml.next() != XMLStreamConstants.START_ELEMENT) {
                continue;
            }
            if (is(xml, STYLE, "style")) {
                style = attribute(xml, STYLE, "name", "");
            } else if (is(xml, STYLE, "table-properties")
                    && attribute(xml, TABLE, "display", "").equals("false")) {
                hidden.add(style);
            } else if (is(xml, TABLE, "table")) {
                table(xml);
            }
        }
    }

    private void table(XMLStreamReader xml) throws XMLStreamException {
        String name = attribute(xml, TABLE, "name", "");
        boolean isShown = !hidden.contains(attribute(xml, TABLE, "style-name", ""));
        boolean read = wanted == null ? isShown && shown.isEmpty() : name.equals(wanted) && !all.contains(name);
        all.add(name);
        if (isShown) {
            shown.add(name);
        }
        if (!read) {
            skip(xml);
            return;
        }
        int number = 0;
        for (int depth = 1; depth > 0; ) {
            int event = xml.next();
            if (event == XMLStreamConstants.END_ELEMENT) {
                depth--;
            } else if (event == XMLStreamConstants.START_ELEMENT) {
                if (is(xml, TABLE, "table-row")) {
                    number = row(xml, number);
                } else if (is(xml, TABLE, "shapes")) {
                    skip(xml);
                } else {
                    depth++; // groups of rows, and rows that are heads
                }
            }
        }
    }

    /** @return the number of the row below */
    private int row(XMLStreamReader xml, int number) throws XMLStreamException {
        int times = repeated(xml, "number-rows-repeated");
        List<SheetRows.Placed> cells = new ArrayList<>();
        int column = 0;
        for (int event = xml.next(); event != XMLStreamConstants.END_ELEMENT; event = xml.next()) {
            if (event != XMLStreamConstants.START_ELEMENT) {
                continue;
            }
            int wide = repeated(xml, "number-columns-repeated");
            boolean covered = !is(xml, TABLE, "table-cell"); // by a merged cell
            SheetValue value = value(xml);
            for (int i = 0; i < wide && value != null && !covered; i++) {
                cells.add(new SheetRows.Placed(column + i, value));
            }
            column = limited(column + wide);
        }
        for (int i = 0; i < times && !cells.isEmpty(); i++) {
            rows.row(number + i, cells);
        }
        return limited(number + times);
    }

    private static int repeated(XMLStreamReader xml, String attribute) {
        return limited(Integer.parseInt(attribute(xml, TABLE, attribute, "1")));
    }

    private static int limited(int count) {
        if (count < 0 || count > MOST) {
            throw new IllegalArgumentException("no sheet is as large");
        }
        return count;
    }

    /** What a cell holds, up to its end; null for nothing. */
    private static @Nullable SheetValue value(XMLStreamReader xml) throws XMLStreamException {
        String type = attribute(xml, OFFICE, "value-type", "");
        boolean error = attribute(xml, EXTENSION, "value-type", "").equals("error");
        String value = attribute(
                xml,
                OFFICE,
                switch (type) {
                    case "date" -> "date-value";
                    case "time" -> "time-value";
                    case "boolean" -> "boolean-value";
                    case "string" -> "string-value";
                    default -> "value";
                },
                "");
        String text = text(xml);
        if (error || (type.equals("string") && value.isEmpty() && text.matches("#[A-Z0-9/]+[!?]?"))) {
            return new SheetValue(SheetValue.Kind.ERROR, text);
        }
        return switch (type) {
            case "" -> null;
            case "float", "percentage", "currency" ->
                new SheetValue(SheetValue.Kind.NUMBER, ShortestNumber.of(Double.parseDouble(value)));
            case "date" -> new SheetValue(SheetValue.Kind.DATE, date(value));
            case "boolean" -> new SheetValue(SheetValue.Kind.TRUTH, value);
            case "time" -> new SheetValue(SheetValue.Kind.TEXT, time(value, text));
            default -> {
                String held = value.isEmpty() ? text : value;
                yield held.isEmpty() ? null : new SheetValue(SheetValue.Kind.TEXT, held);
            }
        };
    }

    /** A date, or a date with a time whose fractions are often written to the last of nine digits. */
    private static String date(String value) {
        return value.contains("T") ? Texts.of(LocalDateTime.parse(value).truncatedTo(ChronoUnit.MICROS)) : value;
    }

    /** A time of day; what is longer than a day as it is shown. */
    private static String time(String value, String shown) {
        Duration length = Duration.parse(value);
        return length.isNegative() || length.toDays() > 0
                ? shown
                : LocalTime.MIDNIGHT.plus(length).toString();
    }

    /** The text of the element that was begun, up to its end; comments and drawings in it are left out. */
    private static String text(XMLStreamReader xml) throws XMLStreamException {
        StringBuilder text = new StringBuilder();
        int paragraphs = 0;
        for (int depth = 1; depth > 0; ) {
            switch (xml.next()) {
                case XMLStreamConstants.END_ELEMENT -> depth--;
                case XMLStreamConstants.CHARACTERS, XMLStreamConstants.SPACE, XMLStreamConstants.CDATA -> {
                    if (depth > 1) { // blanks between elements are none of the cell
                        text.append(xml.getText());
                    }
                }
                case XMLStreamConstants.START_ELEMENT -> {
                    if (!TEXT.equals(xml.getNamespaceURI())) {
                        skip(xml);
                        continue;
                    }
                    depth++;
                    switch (xml.getLocalName()) {
                        case "p" -> text.append(paragraphs++ > 0 ? "\n" : "");
                        case "s" -> text.append(" ".repeat(limited(Integer.parseInt(attribute(xml, TEXT, "c", "1")))));
                        case "tab" -> text.append('\t');
                        case "line-break" -> text.append('\n');
                        default -> {} // spans and links: their text counts
                    }
                }
                default -> {} // comments
            }
        }
        return text.toString();
    }

    private static void skip(XMLStreamReader xml) throws XMLStreamException {
        for (int depth = 1; depth > 0; ) {
            int event = xml.next();
            depth += event == XMLStreamConstants.START_ELEMENT ? 1 : event == XMLStreamConstants.END_ELEMENT ? -1 : 0;
        }
    }

    private static boolean is(XMLStreamReader xml, String namespace, String name) {
        return xml.getLocalName().equals(name) && namespace.equals(xml.getNamespaceURI());
    }

    private static String attribute(XMLStreamReader xml, String namespace, String name, String otherwise) {
        String value = xml.getAttributeValue(namespace, name);
        return value == null ? otherwise : value;
    }
}
