package dev.fiesta.report.content;

import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.ViewColumn;
import dev.fiesta.language.Braces;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Formats;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.value.Column;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Texts of a report with their places filled: {@code {:from_day}}, {@code {best.rows}}, {@code {best.takings}}, each with a format
 * behind it if wanted: {@code {best.takings money EUR}}. Without one, a field is written as its column is, and a date as the locale
 * of the brief writes it.
 */
public final class FilledTexts {
    private final Tables tables;
    private final Map<String, Result> results;
    private final LocaleStyle style;
    private final boolean localeTold;

    /** @param localeTold whether the brief names its locale; otherwise dates are written in ISO form */
    FilledTexts(Tables tables, Map<String, Result> results, String locale, boolean localeTold) {
        this.tables = tables;
        this.results = results;
        this.style = LocaleStyle.of(locale);
        this.localeTold = localeTold;
    }

    String fill(String text) {
        return Texts.printable(Braces.fill(text, this::place));
    }

    /** The tables that the texts of a piece speak of, {@code {best.rows}}, or its lines stand for. */
    public static List<String> tables(BriefTree.Piece piece) {
        List<String> tables = new ArrayList<>();
        for (BriefTree.Marker line : piece.lines()) {
            if (line.table() != null) {
                tables.add(line.table().name());
            }
        }
        for (String text : piece.texts()) {
            Braces.fill(text, inner -> {
                int dot = inner.indexOf('.');
                if (dot > 0) {
                    tables.add(inner.substring(0, dot));
                }
                return null;
            });
        }
        return tables;
    }

    /** What is wrong with the places of a text: names that are not there, in the order of the text. */
    public static List<String> unknown(
            String text, Set<String> parameters, Function<String, @Nullable List<String>> fields) {
        List<String> unknown = new ArrayList<>();
        Braces.fill(text, inner -> {
            String name = inner.split("\\s+", 2)[0];
            int dot = name.indexOf('.');
            if (name.startsWith(":")) {
                if (!parameters.contains(name.substring(1))) {
                    unknown.add("There is no parameter '" + name + "' to fill in here.");
                }
            } else if (dot > 0) {
                List<String> known = fields.apply(name.substring(0, dot));
                String field = name.substring(dot + 1);
                if (known == null) {
                    unknown.add("There is no table '" + name.substring(0, dot) + "' to fill in here.");
                } else if (!field.equals("rows") && !known.contains(field)) {
                    unknown.add("'" + name.substring(0, dot) + "' has no field '" + field + "' to fill in here.");
                }
            }
            return null;
        });
        return unknown;
    }

    private @Nullable String place(String inner) {
        String[] parts = inner.strip().split("\\s+", 2);
        List<Clause.Format> formats = parts.length < 2 ? List.of() : List.of(format(parts[1].strip()));
        return parts[0].startsWith(":") ? parameter(parts[0].substring(1), formats) : field(parts[0], formats);
    }

    /** {@code money EUR}, {@code date d MMMM}: the text behind the name of a format stands without quotes. */
    private static Clause.Format format(String written) {
        String[] parts = written.split("\\s+", 2);
        return new Clause.Format(parts[0], parts.length < 2 ? null : parts[1]);
    }

    private @Nullable String parameter(String name, List<Clause.Format> formats) {
        List<Object> items = tables.parameterItems(name);
        return items == null
                ? null
                : items.stream().map(item -> shown(item, formats)).collect(Collectors.joining(", "));
    }

    private String shown(Object value, List<Clause.Format> formats) {
        if (formats.isEmpty()) {
            return value instanceof LocalDate && localeTold
                    ? dev.fiesta.value.CalendarNames.formatter(style.datePattern(), style.tag())
                            .format((LocalDate) value)
                    : Texts.of(value);
        }
        Column column = Column.of(typeOf(value), List.of(value));
        return printed(new CellFormat(style, new ViewColumn("", null, ViewColumn.Role.FIGURE, formats), column), value);
    }

    private static Type typeOf(Object value) {
        if (value instanceof java.math.BigDecimal decimal) {
            return Type.decimal(Math.max(0, decimal.scale()));
        }
        return value instanceof Long
                ? Type.INTEGER
                : value instanceof Double
                        ? Type.REAL
                        : value instanceof LocalDate
                                ? Type.DATE
                                : value instanceof java.time.LocalDateTime
                                        ? Type.DATETIME
                                        : value instanceof Boolean ? Type.TRUTH : Type.TEXT;
    }

    /** {@code best.rows}, or a field of the first row. */
    private @Nullable String field(String name, List<Clause.Format> formats) {
        int dot = name.indexOf('.');
        Result result = dot < 0 ? null : results.get(name.substring(0, dot));
        if (result == null) {
            return null;
        }
        String field = name.substring(dot + 1);
        if (field.equals("rows")) {
            return style.number(Integer.toString(result.rows()));
        }
        if (result.schema().indexOf(field) < 0) {
            return null;
        }
        ViewColumn view = CellFormat.view(result, field);
        ViewColumn wanted = formats.isEmpty() ? view : new ViewColumn(field, view.title(), view.role(), formats);
        Object value = result.rows() == 0 ? null : result.shown(field, 0);
        if (formats.isEmpty() && view.formats().isEmpty() && value instanceof LocalDate) {
            return shown(value, formats);
        }
        return printed(new CellFormat(style, wanted, result.column(field)), value);
    }

    /** A value with its unit: in a sentence there is no heading to say it. */
    private static String printed(CellFormat format, @Nullable Object value) {
        String unit = value == null ? "" : format.unit();
        return format.print(value) + (unit.isEmpty() ? "" : " " + unit);
    }

    /** Whether a word is a format that may stand in a place. */
    static boolean isFormat(String word) {
        return Formats.NAMES.contains(word);
    }
}
