package dev.fiesta.formats;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Names;
import dev.fiesta.source.FieldNames;
import dev.fiesta.source.Inside;
import dev.fiesta.source.RecordFormat.Records;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** Makes records of the rows of a sheet. */
final class SheetRows {
    private final String file;
    private final CellRange range;
    private final Records to;
    private boolean headed;
    private List<String> names = List.of();
    private final Map<String, Integer> errors = new TreeMap<>();
    private final Map<Integer, long[]> sorts = new TreeMap<>();

    /**
     * A cell that holds something.
     *
     * @param column from 0
     */
    record Placed(int column, SheetValue value) {}

    /** @param inside which cells are read, and whether their first row names the fields */
    SheetRows(String file, Inside inside, Records to) {
        this.file = file;
        this.range = inside.range() == null ? CellRange.ALL : CellRange.of(inside.range());
        this.headed = !inside.header();
        this.to = to;
    }

    /**
     * Takes a row.
     *
     * @param number from 0
     * @param all cells that hold something, from left to right
     */
    void row(int number, List<Placed> all) {
        if (!range.hasRow(number)) {
            return;
        }
        List<Placed> cells =
                all.stream().filter(c -> range.hasColumn(c.column())).toList();
        if (cells.isEmpty()) {
            return; // as an empty line
        }
        if (!headed) {
            headed = true;
            header(cells);
            return;
        }
        cells.forEach(cell -> cell(cell, number + 1));
        to.end(number + 1L);
    }

    private void header(List<Placed> cells) {
        int width = cells.get(cells.size() - 1).column() - range.firstColumn() + 1;
        String[] told = new String[width];
        Arrays.fill(told, "");
        cells.forEach(c -> told[c.column() - range.firstColumn()] = c.value().text());
        List<String> remarks = new ArrayList<>();
        names = FieldNames.named(List.of(told), file, remarks);
        remarks.forEach(to::remark);
        names.forEach(to::field);
    }

    private String name(Placed cell, int row) {
        int column = cell.column() - range.firstColumn();
        if (column < names.size()) {
            return names.get(column);
        }
        if (names.isEmpty()) { // there is no header
            return "field_" + (column + 1);
        }
        String at = CellRange.letters(cell.column()) + row;
        String first = CellRange.letters(range.firstColumn());
        String last = CellRange.letters(range.firstColumn() + names.size() - 1);
        throw new DataException(
                file + ", row " + row + ": cell " + at + " stands behind the last column that has a name, " + last
                        + ".\n  Name it in the first row, leave it out: range '" + first + ":" + last
                        + "', or say where the names stand: range '" + at + "'",
                file,
                row,
                null,
                null);
    }

    private void cell(Placed cell, int row) {
        String name = name(cell, row);
        SheetValue value = cell.value();
        switch (value.kind()) {
            case NUMBER -> to.number(name, value.text());
            case TEXT -> to.text(name, value.text());
            case TRUTH -> to.truth(name, value.text().equals("true"));
            case DATE -> to.cell(name, value.text());
            default -> {
                errors.merge(value.text(), 1, Integer::sum);
                to.missing(name);
            }
        }
        sort(cell.column(), value, row);
    }

    /** Notes numbers that stand beside texts that look like numbers. */
    private void sort(int column, SheetValue value, int row) {
        long[] met = sorts.computeIfAbsent(column, c -> new long[3]);
        if (value.kind() == SheetValue.Kind.NUMBER) {
            met[0]++;
        } else if (value.kind() == SheetValue.Kind.TEXT && isNumber(value.text())) {
            met[1]++;
            met[2] = met[2] == 0 ? row : met[2];
        }
    }

    private static boolean isNumber(String text) {
        byte[] bytes = text.strip().getBytes(java.nio.charset.StandardCharsets.UTF_8);
        return bytes.length > 0
                && dev.fiesta.source.cells.CellType.of(bytes, 0, bytes.length).isNumeric();
    }

    private static String counted(long count, String one, String more) {
        return count + " " + (count == 1 ? one : more);
    }

    /** All rows are there: what was odd is told. */
    void end() {
        if (!headed) {
            throw new DataException(
                    "'" + file + "' has nothing in the sheet" + (range == CellRange.ALL ? "." : " at these cells."),
                    file,
                    0,
                    null,
                    null);
        }
        errors.forEach((error, count) -> to.remark(file + ": " + counted(count, "cell holds", "cells hold") + " "
                + error + "; " + (count == 1 ? "it is" : "they are") + " missing."));
        sorts.forEach((column, met) -> {
            if (met[0] > 0 && met[1] > 0) {
                String name = column - range.firstColumn() < names.size()
                        ? names.get(column - range.firstColumn())
                        : "field_" + (column - range.firstColumn() + 1);
                to.remark(file + ": in " + name + " " + counted(met[1], "number stands", "numbers stand")
                        + " as text (first in row " + met[2]
                        + "), so the field is text. To read all as numbers: fields "
                        + name + " decimal(2)");
            }
        });
    }

    static DataException damaged(String file) {
        return new DataException(
                "'" + file + "' cannot be read as a workbook: it is damaged, locked by a password, or something else.",
                file,
                0,
                null,
                null);
    }

    /** @param names of the sheets that there are */
    static DataException noSheet(String file, String wanted, List<String> names) {
        return new DataException(
                "'" + file + "' has no sheet '" + wanted + "'. " + Names.didYouMean(wanted, names, "It has"),
                file,
                0,
                null,
                null);
    }

    /**
     * Tells which sheet is read where nobody said.
     *
     * @param shown the names of those that are not hidden
     * @throws DataException when there are none
     */
    static void tellOthers(String file, List<String> shown, Records to) {
        if (shown.isEmpty()) {
            throw new DataException("'" + file + "' has no sheet that is shown.", file, 0, null, null);
        }
        if (shown.size() > 1) {
            to.remark(file + ": its sheet '" + shown.get(0) + "' is read, the first of " + shown.size()
                    + ". For another: sheet '" + shown.get(1) + "'");
        }
    }
}
