package dev.fiesta.formats;

import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.InputFormat;
import dev.fiesta.source.Inside;
import dev.fiesta.source.RecordFormat;
import dev.fiesta.source.files.Paths;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.dhatim.fastexcel.reader.Cell;
import org.dhatim.fastexcel.reader.CellType;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.dhatim.fastexcel.reader.ReadingOptions;
import org.dhatim.fastexcel.reader.Row;
import org.dhatim.fastexcel.reader.Sheet;
import org.dhatim.fastexcel.reader.SheetVisibility;
import org.jspecify.annotations.Nullable;

/**
 * A sheet of a workbook: its first row names the fields, each row below is a record. Cells are what they are there: dates where they are
 * shown as dates, numbers, texts; formulas by the values that were stored with them.
 *
 * <pre>{@code
 * Fiesta fiesta = Fiesta.with().reads(Workbooks.FORMAT).open();
 * }</pre>
 */
public final class Workbooks implements RecordFormat {
    /** {@code as xlsx}, and files that end in {@code .xlsx}. */
    public static final InputFormat FORMAT = InputFormat.records(
            "xlsx", List.of(".xlsx", ".xlsm"), Set.of("sheet", "range", "no header"), new Workbooks());

    private Workbooks() {}

    @Override
    public String counted() {
        return "row";
    }

    @Override
    public void read(Paths.Named file, Inside inside, Records to) throws IOException {
        SheetRows rows = new SheetRows(file.name(), inside, to);
        try (ReadableWorkbook book = new ReadableWorkbook(file.path().toFile(), new ReadingOptions(true, true))) {
            Sheet sheet = sheet(book, inside.sheet(), file.name(), to);
            try (Stream<Row> all = sheet.openStream()) {
                all.forEach(row -> rows.row(row.getRowNum() - 1, cells(row, book.isDate1904())));
            }
            rows.end();
        } catch (FiestaException e) {
            throw e;
        } catch (IOException | RuntimeException e) { // the library throws what its parser does
            throw SheetRows.damaged(file.name());
        } catch (NoClassDefFoundError e) {
            throw new RequestException(
                    "'" + file.name()
                            + "' is a workbook, and what reads those is not here: --add-modules org.dhatim.fastexcel.reader",
                    e);
        }
    }

    private static List<SheetRows.Placed> cells(Row row, boolean dates1904) {
        List<SheetRows.Placed> cells = new ArrayList<>();
        for (Cell cell : row) {
            if (cell != null && !isEmpty(cell)) {
                cells.add(new SheetRows.Placed(cell.getColumnIndex(), SheetValue.of(cell, dates1904)));
            }
        }
        return cells;
    }

    private static boolean isEmpty(Cell cell) {
        return cell.getType() == CellType.EMPTY
                || (cell.getType() == CellType.STRING && cell.getText().isEmpty());
    }

    private static Sheet sheet(ReadableWorkbook book, @Nullable String wanted, String file, Records to) {
        List<Sheet> all = book.getSheets().toList();
        List<String> names = all.stream().map(Sheet::getName).toList();
        if (wanted != null) {
            return all.stream()
                    .filter(s -> s.getName().equals(wanted))
                    .findFirst()
                    .orElseThrow(() -> SheetRows.noSheet(file, wanted, names));
        }
        List<Sheet> shown = all.stream()
                .filter(s -> s.getVisibility() == SheetVisibility.VISIBLE)
                .toList();
        SheetRows.tellOthers(file, shown.stream().map(Sheet::getName).toList(), to);
        return shown.get(0);
    }
}
