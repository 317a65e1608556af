package dev.fiesta.formats;

import static dev.fiesta.formats.SmallBook.DAY;
import static dev.fiesta.formats.SmallBook.DAY_AND_TIME;
import static dev.fiesta.formats.SmallBook.PLAIN;
import static dev.fiesta.formats.SmallBook.TIME;
import static dev.fiesta.formats.SmallBook.UNIT;
import static dev.fiesta.formats.SmallBook.formula;
import static dev.fiesta.formats.SmallBook.number;
import static dev.fiesta.formats.SmallBook.text;
import static dev.fiesta.formats.SmallBook.typed;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Result;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.RequestException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Sheets of workbooks: what cells are, where the table stands, and what cannot be right. */
class WorkbooksTest {
    @TempDir
    Path folder;

    @BeforeEach
    void books() throws IOException {
        new SmallBook()
                .sheet("Cover", "hidden")
                .row(1, text("A", "x"))
                .sheet("May", "")
                .row(1, text("A", "Plan of the Quay"))
                .row(
                        4,
                        text("B", "day"),
                        text("C", "takings"),
                        text("D", "at"),
                        text("E", "open"),
                        text("F", "code"),
                        text("G", "note"))
                .row(
                        5,
                        number("B", "46143", DAY),
                        number("C", "33.170000000000002", PLAIN),
                        number("D", "46143.7291666667", DAY_AND_TIME),
                        typed("E", "b", "1"),
                        text("F", "007"),
                        text("G", "a \"quoted\" one"))
                .row(
                        6,
                        number("B", "46144", DAY),
                        formula("C", "n", "C5*2", "66.340000000000003"),
                        number("D", "46144.5", DAY_AND_TIME),
                        typed("E", "b", "0"),
                        number("F", "12", PLAIN),
                        typed("G", "e", "#N/A"))
                .row(
                        8,
                        number("B", "46145", DAY),
                        number("C", "1E-3", UNIT),
                        number("D", "46145", DAY_AND_TIME),
                        formula("E", "b", "1=1", "1"),
                        text("F", "13"),
                        formula("G", "str", "A1", "x"))
                .row(9, number("B", "46146", DAY), typed("C", "e", "#DIV/0!"), formula("G", "e", "1/0", "#DIV/0!"))
                .sheet("June", "")
                .row(1, text("A", "t"), text("B", "t"))
                .row(2, number("A", "0.75", TIME), number("B", "61", DAY))
                .row(3, number("A", "0.5", TIME), number("B", "59", DAY))
                .write(folder.resolve("plan.xlsx"));
    }

    private Result read(String file, String options) {
        return new Reading(folder, Workbooks.FORMAT).read(file, options);
    }

    @Test
    void cellsAreWhatTheyAreThere() {
        Result plan = read("plan.xlsx", "range 'B4:G9'");
        assertThat(Reading.types(plan))
                .containsExactly(
                        "day date", "takings decimal(3)", "at datetime", "open truth", "code text", "note text");
        assertThat(Reading.values(plan, "day")).containsExactly("2026-05-01", "2026-05-02", "2026-05-03", "2026-05-04");
        assertThat(Reading.values(plan, "takings")).containsExactly("33.170", "66.340", "0.001", "null");
        assertThat(Reading.values(plan, "at"))
                .containsExactly("2026-05-01T17:30", "2026-05-02T12:00", "2026-05-03T00:00", "null");
        assertThat(Reading.values(plan, "open")).containsExactly("true", "false", "true", "null");
        assertThat(Reading.values(plan, "code")).containsExactly("007", "12", "13", "null");
        assertThat(Reading.values(plan, "note")).containsExactly("a \"quoted\" one", "null", "x", "null");
    }

    @Test
    void whatIsOddIsTold() {
        assertThat(read("plan.xlsx", "range 'B4:G9'").notices().warnings())
                .containsExactly(
                        "plan.xlsx: its sheet 'May' is read, the first of 2. For another: sheet 'June'",
                        "plan.xlsx: 2 cells hold #DIV/0!; they are missing.",
                        "plan.xlsx: 1 cell holds #N/A; it is missing.",
                        "plan.xlsx: in code 1 number stands as text (first in row 8), so the field is text. "
                                + "To read all as numbers: fields code decimal(2)");
    }

    @Test
    void sheetsAreChosenByName() {
        Result june = read("plan.xlsx", "sheet 'June'");
        assertThat(Reading.types(june)).containsExactly("t text", "t_2 date");
        assertThat(Reading.values(june, "t")).containsExactly("18:00", "12:00");
        assertThat(Reading.values(june, "t_2")).containsExactly("1900-03-01", "1900-02-28");
        assertThat(read("plan.xlsx", "sheet 'Cover'").rows()).isZero();
    }

    @Test
    void daysOfTheOtherCalendarCountFrom1904() throws IOException {
        new SmallBook()
                .dates1904()
                .sheet("A", "")
                .row(1, text("A", "d"))
                .row(2, number("A", "0", DAY))
                .row(3, number("A", "44681", DAY))
                .write(folder.resolve("old.xlsx"));
        assertThat(Reading.values(read("old.xlsx", ""), "d")).containsExactly("1904-01-01", "2026-05-01");
    }

    @Test
    void withoutHeaderFieldsAreNumbered() {
        assertThat(Reading.types(read("plan.xlsx", "range 'B5:C9' no header")))
                .containsExactly("field_1 date", "field_2 decimal(3)");
    }

    @Test
    void optionsOfFieldsHoldForCells() {
        Result plan =
                read("plan.xlsx", "range 'B4:G9' missing 'x' fields code integer, takings decimal(2) bad as missing");
        assertThat(Reading.values(plan, "code")).containsExactly("7", "12", "13", "null");
        assertThat(Reading.values(plan, "takings")).containsExactly("33.17", "66.34", "null", "null");
        assertThat(Reading.values(plan, "note")).containsExactly("a \"quoted\" one", "null", "null", "null");
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "sheet 'Juni' | 'plan.xlsx' has no sheet 'Juni'. Did you mean 'June'?",
                "range 'B4:G9' fields code integer, note integer | plan.xlsx, row 5: field note: 'a \"quoted\" one' is not an integer.",
                "'' | plan.xlsx, row 4: cell B4 stands behind the last column that has a name, A.",
            })
    void wrongCellsAreToldByRow(String options, String message) {
        String given = options.equals("''") ? "" : options;
        assertThatThrownBy(() -> read("plan.xlsx", given))
                .isInstanceOf(DataException.class)
                .hasMessageStartingWith(message);
    }

    @Test
    void whatCannotBeRightIsRefused() throws IOException {
        assertThatThrownBy(() -> read("plan.xlsx", "range '4B'"))
                .isInstanceOf(RequestException.class)
                .hasMessage("'4B' is no range of cells. Write for instance range 'B4:H200', "
                        + "range 'B4' for all from there, range 'B:H' for some columns.");
        assertThatThrownBy(() -> read("plan.xlsx", "delimiter ';'"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("This input is read as xlsx, to which 'delimiter' means nothing.");
        assertThatThrownBy(() -> read("plan.xlsx", "range 'B4:G9' unreadable aside"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("Records of 's' cannot be set aside");
        Files.writeString(folder.resolve("bad.xlsx"), "hello");
        assertThatThrownBy(() -> read("bad.xlsx", ""))
                .isInstanceOf(DataException.class)
                .hasMessage(
                        "'bad.xlsx' cannot be read as a workbook: it is damaged, locked by a password, or something else.");
        new SmallBook().sheet("A", "").write(folder.resolve("empty.xlsx"));
        assertThatThrownBy(() -> read("empty.xlsx", ""))
                .isInstanceOf(DataException.class)
                .hasMessage("'empty.xlsx' has nothing in the sheet.");
        new SmallBook().sheet("A", "hidden").write(folder.resolve("hidden.xlsx"));
        assertThatThrownBy(() -> read("hidden.xlsx", ""))
                .isInstanceOf(DataException.class)
                .hasMessage("'hidden.xlsx' has no sheet that is shown.");
    }

    @Test
    void whatOthersWriteIsReadBack() throws IOException {
        try (Workbook book = new Workbook(Files.newOutputStream(folder.resolve("many.xlsx")), "test", "1.0")) {
            Worksheet sheet = book.newWorksheet("Sales");
            sheet.value(0, 0, "site");
            sheet.value(0, 1, "amount");
            sheet.value(0, 2, "note");
            for (int i = 1; i <= 3000; i++) {
                sheet.value(i, 0, i % 2 == 0 ? "Quay" : "Meadow");
                sheet.value(i, 1, i / 100.0);
                sheet.value(i, 2, i % 3 == 0 ? "a\tb\\c\nd" : null);
            }
        }
        String brief = "input s from 'many.xlsx' table t from s per site give n = count(), a = sum(amount), "
                + "notes = list(note)";
        for (int threads = 1; threads <= 3; threads++) {
            Result t = new Reading(folder, Workbooks.FORMAT).run(brief + " sort site", threads, 1);
            assertThat(Reading.values(t, "n")).containsExactly("1500", "1500");
            assertThat(Reading.values(t, "a")).containsExactly("22500.00", "22515.00");
            assertThat(Reading.values(t, "notes")).allSatisfy(v -> assertThat(v).startsWith("a\tb\\c\nd"));
        }
    }
}
