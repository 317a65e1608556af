package dev.fiesta.formats;

import static dev.fiesta.formats.SmallSheets.cell;
import static dev.fiesta.formats.SmallSheets.empty;
import static dev.fiesta.formats.SmallSheets.number;
import static dev.fiesta.formats.SmallSheets.text;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Result;
import dev.fiesta.problem.DataException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Sheets of OpenDocument workbooks. */
class OpenSheetsTest {
    @TempDir
    Path folder;

    @BeforeEach
    void books() throws IOException {
        new SmallSheets()
                .sheet("Cover", true)
                .row(text("x"))
                .sheet("May", false)
                .raw("<table:shapes><draw:frame><text:p>a drawing</text:p></draw:frame></table:shapes>")
                .row(text("Plan of the Quay"))
                .repeated(2, empty(1024))
                .raw("<table:table-header-rows>")
                .row(empty(1), text("day"), text("takings"), text("at"), text("open"), text("code"), text("note"))
                .raw("</table:table-header-rows><table:table-row-group>")
                .row(
                        empty(1),
                        cell("date", "office:date-value=\"2026-05-01\"", "<text:p>01.05.26</text:p>"),
                        number("33.170000000000002"),
                        cell("date", "office:date-value=\"2026-05-01T17:30:00.500000000\"", ""),
                        cell("boolean", "office:boolean-value=\"true\"", "<text:p>YES</text:p>"),
                        text("007"),
                        text("a <text:span>quoted</text:span><text:s text:c=\"2\"/>one</text:p><text:p>below"))
                .row(
                        empty(1),
                        cell("date", "office:date-value=\"2026-05-02\"", ""),
                        cell("currency", "office:currency=\"EUR\" office:value=\"1E-3\"", ""),
                        empty(1),
                        cell("boolean", "office:boolean-value=\"false\"", ""),
                        number("12"),
                        cell(
                                "string",
                                "office:string-value=\"\" calcext:value-type=\"error\"",
                                "<text:p>#N/A</text:p>"))
                .raw("</table:table-row-group>")
                .repeated(
                        2,
                        empty(2),
                        cell("percentage", "office:value=\"0.12\" table:number-columns-repeated=\"1\"", ""),
                        "<table:covered-table-cell office:value-type=\"string\"><text:p>beneath</text:p>"
                                + "</table:covered-table-cell>",
                        empty(2),
                        cell("string", "", "<office:annotation><text:p>a comment</text:p></office:annotation>"))
                .repeated(1_048_000, empty(16384))
                .sheet("June", false)
                .row(text("t"), text("u"))
                .row(
                        cell("time", "office:time-value=\"PT18H30M00S\"", "<text:p>18:30</text:p>"),
                        cell("time", "office:time-value=\"PT30H00M00S\"", "<text:p>30:00:00</text:p>"))
                .write(folder.resolve("plan.ods"));
    }

    private Result read(String file, String options) {
        return new Reading(folder, OpenSheets.FORMAT).read(file, options);
    }

    @Test
    void cellsAreWhatTheyAreThere() {
        Result plan = read("plan.ods", "range 'B4:G999'");
        assertThat(Reading.types(plan))
                .containsExactly(
                        "day date", "takings decimal(3)", "at datetime", "open truth", "code text", "note text");
        assertThat(Reading.values(plan, "day")).containsExactly("2026-05-01", "2026-05-02", "null", "null");
        assertThat(Reading.values(plan, "takings")).containsExactly("33.170", "0.001", "0.120", "0.120");
        assertThat(Reading.values(plan, "at")).containsExactly("2026-05-01T17:30:00.500", "null", "null", "null");
        assertThat(Reading.values(plan, "open")).containsExactly("true", "false", "null", "null");
        assertThat(Reading.values(plan, "code")).containsExactly("007", "12", "null", "null");
        assertThat(Reading.values(plan, "note")).containsExactly("a quoted  one\nbelow", "null", "null", "null");
        assertThat(plan.notices().warnings())
                .containsExactly(
                        "plan.ods: its sheet 'May' is read, the first of 2. For another: sheet 'June'",
                        "plan.ods: 1 cell holds #N/A; it is missing.");
    }

    @Test
    void sheetsAreChosenByNameAndTimesOfDayAreTexts() {
        Result june = read("plan.ods", "sheet 'June'");
        assertThat(Reading.values(june, "t")).containsExactly("18:30");
        assertThat(Reading.values(june, "u")).containsExactly("30:00:00");
        assertThat(read("plan.ods", "sheet 'Cover'").rows()).isZero();
        assertThatThrownBy(() -> read("plan.ods", "sheet 'Juni'"))
                .isInstanceOf(DataException.class)
                .hasMessageContaining("'plan.ods' has no sheet 'Juni'. Did you mean 'June'?");
    }

    @Test
    void rowsAreToldByTheirNumbers() {
        assertThatThrownBy(() -> read("plan.ods", "range 'B4:G9' fields code integer, open text, takings integer"))
                .isInstanceOf(DataException.class)
                .hasMessageContaining("plan.ods, row 5: field takings: '33.17'");
    }

    @Test
    void whatIsNoWorkbookIsTold() throws IOException {
        SmallSheets.zip(folder.resolve("other.ods"), "mimetype", "x");
        SmallSheets.zip(folder.resolve("cut.ods"), "content.xml", "<a><b>");
        SmallSheets.zip(
                folder.resolve("outside.ods"),
                "content.xml",
                "<!DOCTYPE a [<!ENTITY e SYSTEM \"file:///etc/hostname\">]><a>&e;</a>");
        new SmallSheets()
                .sheet("A", false)
                .row(text("a"))
                .repeated(2_000_000_000, text("b"))
                .write(folder.resolve("endless.ods"));
        Files.writeString(folder.resolve("text.ods"), "day,takings\n");
        for (String file : new String[] {"other", "cut", "outside", "endless", "text"}) {
            assertThatThrownBy(() -> read(file + ".ods", ""))
                    .as(file)
                    .isInstanceOf(DataException.class)
                    .hasMessage(
                            "'" + file
                                    + ".ods' cannot be read as a workbook: it is damaged, locked by a password, or something else.");
        }
        new SmallSheets().sheet("A", true).row(text("a")).write(folder.resolve("hidden.ods"));
        assertThatThrownBy(() -> read("hidden.ods", "")).hasMessage("'hidden.ods' has no sheet that is shown.");
        new SmallSheets().sheet("A", false).write(folder.resolve("empty.ods"));
        assertThatThrownBy(() -> read("empty.ods", "")).hasMessage("'empty.ods' has nothing in the sheet.");
    }
}
