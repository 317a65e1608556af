package dev.fiesta.report.page;

import dev.fiesta.Result;
import dev.fiesta.ViewColumn;
import dev.fiesta.report.content.Courses;
import dev.fiesta.report.page.Blocks.Cell;
import dev.fiesta.report.text.CellFormat;
import dev.fiesta.report.text.Lines;
import dev.fiesta.report.text.NoteSigns;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import java.util.AbstractCollection;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/** The lines of a table as pages take them, made one by one as they are asked for: a long table need not be held as cells. */
final class TableLines extends AbstractCollection<Blocks.Line> {
    /** The values of a column that is drawn or coloured: the largest, whatever its sign, and whether there are negative ones. */
    private record Reach(double largest, boolean signed) {}

    private final Result result;
    private final int shown;
    private final List<Courses.Column> courses;
    private final BehindRows behind;
    private final boolean paper;
    private final List<CellFormat> formats = new ArrayList<>();
    private final List<Reach> reaches = new ArrayList<>();
    private final NoteSigns signs;

    /** @param samples records behind the rows, or null for none */
    TableLines(
            Result result,
            int shown,
            List<Courses.Column> courses,
            @Nullable Result samples,
            LocaleStyle locale,
            boolean paper) {
        this.result = result;
        this.shown = shown;
        this.courses = courses;
        this.behind = new BehindRows(result, samples, locale);
        this.paper = paper;
        for (ViewColumn view : result.view()) {
            CellFormat format = new CellFormat(locale, view, result.column(view.field()));
            formats.add(format);
            reaches.add(format.bar() || format.shade() ? reach(view.field()) : new Reach(0, false));
        }
        this.signs = NoteSigns.of(lines());
    }

    private Iterable<Lines.Line> lines() {
        return Lines.each(result, shown, result.view());
    }

    private Reach reach(String field) {
        double largest = 0;
        boolean signed = false;
        for (int i = 0; i < shown; i++) {
            if (result.shown(field, i) instanceof Number number) {
                largest = Math.max(largest, Math.abs(number.doubleValue()));
                signed |= number.doubleValue() < 0;
            }
        }
        return new Reach(largest, signed);
    }

    /** The notes at its cells. */
    NoteSigns signs() {
        return signs;
    }

    List<Blocks.Head> heads() {
        List<Blocks.Head> heads = new ArrayList<>();
        formats.forEach(f -> heads.add(Blocks.Head.of(f)));
        for (int i = courses.size() - 1; i >= 0; i--) {
            heads.add(courses.get(i).place(), new Blocks.Head(courses.get(i).title(), "", ""));
        }
        return heads;
    }

    @Override
    public int size() {
        return Lines.count(result, shown);
    }

    @Override
    public Iterator<Blocks.Line> iterator() {
        Iterator<Lines.Line> lines = lines().iterator();
        int[] row = {0};
        return new Iterator<>() {
            @Override
            public boolean hasNext() {
                return lines.hasNext();
            }

            @Override
            public Blocks.Line next() {
                Lines.Line line = lines.next();
                return made(line, line.kind() == Lines.Kind.ROW ? row[0]++ : -1);
            }
        };
    }

    /** @param row its number, -1 for a total */
    private Blocks.Line made(Lines.Line line, int row) {
        List<Cell> cells = new ArrayList<>();
        for (int c = 0; c < formats.size(); c++) {
            cells.add(cell(formats.get(c), line, c, reaches.get(c), signs.at(line, c)));
        }
        for (int i = courses.size() - 1; i >= 0; i--) {
            Courses.Course course = row < 0 ? null : courses.get(i).rows().get(row);
            cells.add(courses.get(i).place(), Cell.drawn(course == null ? "" : Courses.svg(course, paper)));
        }
        return new Blocks.Line(
                line.kind().name().toLowerCase(Locale.ROOT), cells, row < 0 ? List.of() : behind.of(row));
    }

    private static Cell cell(CellFormat format, Lines.Line line, int column, Reach reach, String signs) {
        @Nullable Object value = line.values().get(column);
        boolean row = line.kind() == Lines.Kind.ROW;
        double size = value instanceof Number number ? number.doubleValue() : 0;
        double part = reach.largest() > 0 ? Math.abs(size) / reach.largest() : 0;
        int shade = format.shade() && value instanceof Number && row ? (int) Math.min(4, Math.floor(part * 5)) : -1;
        String raw = value instanceof Number number ? Texts.of(number) : "";
        return new Cell(
                line.print(column, format),
                raw,
                format.right(),
                value == null && row,
                size < 0,
                format.bar() ? Blocks.Bar.of(row ? part : 0, size < 0, reach.signed()) : null,
                shade,
                line.few().get(column),
                signs,
                column < line.again(),
                "");
    }
}
