package dev.fiesta.report.text;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.ViewColumn;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Parser;
import dev.fiesta.value.Column;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** How values are printed under each format of {@code columns}. */
class CellFormatTest {
    private static CellFormat format(String locale, String formats, Type type, Object... values) {
        ViewColumn view = new ViewColumn("x", "X", ViewColumn.Role.FIGURE, formats(formats));
        return new CellFormat(LocaleStyle.of(locale), view, Column.of(type, Arrays.asList(values)));
    }

    private static List<Clause.Format> formats(String formats) {
        Clause.Columns clause = (Clause.Columns) Parser.clauses(new BriefText("columns", "columns x 'X' " + formats))
                .get(0);
        return clause.columns().get(0).formats();
    }

    @ParameterizedTest(name = "{0} {1} as {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "en-IE |  | 1234.50 | 1,234.50",
                "en-IE | money | 1234.50 | 1,234.50",
                "en-IE | money | -1234.505 | -1,234.50",
                "en-IE | money 'EUR' | 7 | 7.00",
                "en-IE | number 1 | 1234.56 | 1,234.6",
                "en-IE | number 0 | 2.5 | 2",
                "en-IE | integer | 1234567.8 | 1,234,568",
                "en-IE | percent | 0.1234 | 12.3%",
                "en-IE | percent 0 | 1.5 | 150%",
                "en-IE | percent 2 | -0.00004 | 0.00%",
                "en-IE | thousands | 1234567 | 1,235",
                "en-IE | thousands 1 | 1234567 | 1,234.6",
                "en-IE | text | 1234.50 | 1234.50",
                "pt-PT | money | 1234567.5 | 1.234.567,50",
                "de-CH | money | 1234567.5 | 1’234’567.50",
                "de-DE | percent 1 | 0.5 | 50,0\u00a0%",
            })
    void exactValues(String locale, String formats, BigDecimal value, String expected) {
        CellFormat format =
                format(locale, formats == null ? "" : formats, Type.decimal(Math.max(0, value.scale())), value);
        assertThat(format.print(value)).isEqualTo(expected);
    }

    @Test
    void numbersGetAsManyDecimalsAsTheirSizesAskFor() {
        assertThat(format("en-IE", "", Type.REAL, 1234.5678, 2.0).print(1234.5678))
                .isEqualTo("1,234.57");
        assertThat(format("en-IE", "", Type.REAL, 12.5678).print(12.5678)).isEqualTo("12.568");
        assertThat(format("en-IE", "", Type.REAL, 0.25).print(0.25)).isEqualTo("0.2500");
        assertThat(format("en-IE", "", Type.REAL, 3.0, 1200.0).print(1200.0)).isEqualTo("1,200");
    }

    @Test
    void otherTypesAndMissingValues() {
        CellFormat plain = format("en-IE", "", Type.TEXT, "a");
        assertThat(plain.print(null)).isEqualTo("–");
        assertThat(plain.print("a")).isEqualTo("a");
        assertThat(plain.print(true)).isEqualTo("yes");
        assertThat(plain.print(LocalDate.of(2026, 5, 9))).isEqualTo("2026-05-09");
        assertThat(plain.print(LocalDateTime.of(2026, 5, 9, 18, 30))).isEqualTo("2026-05-09 18:30");
        assertThat(plain.print(LocalDateTime.of(2026, 5, 9, 18, 30, 5))).isEqualTo("2026-05-09 18:30:05");
        assertThat(format("pt-PT", "date 'd MMMM'", Type.DATE).print(LocalDate.of(2026, 5, 9)))
                .isEqualTo("9 maio");
        ViewColumn key = new ViewColumn("x", null, ViewColumn.Role.KEY, List.of());
        assertThat(new CellFormat(LocaleStyle.of("en-IE"), key, Column.of(Type.TEXT, List.of())).print(null))
                .isEqualTo("(missing)");
    }

    /** Years and numbers of groups are names, however they look; figures are amounts. */
    @Test
    void wholeNumbersThatNameSomethingHaveNoThousands() {
        assertThat(whole(ViewColumn.Role.KEY, 10_234L).print(10_234L)).isEqualTo("10234");
        assertThat(whole(ViewColumn.Role.FIELD, 2024L, null, 1999L).print(2024L))
                .isEqualTo("2024");
        assertThat(whole(ViewColumn.Role.FIELD, 2024L, 12_000L).print(2024L)).isEqualTo("2,024");
        assertThat(whole(ViewColumn.Role.FIGURE, 2024L).print(2024L)).isEqualTo("2,024");
        assertThat(whole(ViewColumn.Role.KEY, 10_234L).sheetPattern(Type.INTEGER))
                .isEqualTo("0");
        assertThat(whole(ViewColumn.Role.KEY, 2024L).figures().write("2024")).isEqualTo("2024");
        assertThat(whole(ViewColumn.Role.FIGURE, 2024L).figures().write("2024")).isEqualTo("2,024");
    }

    @Test
    void marksOfThousandsAreSetWhereTheyAreAskedFor() {
        assertThat(key("integer").print(10_234L)).isEqualTo("10,234");
        assertThat(key("number 0").print(10_234L)).isEqualTo("10,234");
        assertThat(key("left").print(10_234L)).isEqualTo("10234");
        assertThat(key("shade").print(10_234L)).isEqualTo("10234");
    }

    private static CellFormat key(String format) {
        ViewColumn view = new ViewColumn("x", null, ViewColumn.Role.KEY, formats(format));
        return new CellFormat(LocaleStyle.of("en-IE"), view, Column.of(Type.INTEGER, List.of(10_234L)));
    }

    private static CellFormat whole(ViewColumn.Role role, @Nullable Object... values) {
        ViewColumn view = new ViewColumn("x", null, role, List.of());
        return new CellFormat(LocaleStyle.of("en-IE"), view, Column.of(Type.INTEGER, Arrays.asList(values)));
    }

    @Test
    void bandsNameTheirLimits() {
        CellFormat bands = format("en-IE", "bands", Type.INTEGER, 0L, 5L, 20L, null);
        assertThat(bands.print(0L)).isEqualTo("0 to 5");
        assertThat(bands.print(5L)).isEqualTo("5 to 20");
        assertThat(bands.print(20L)).isEqualTo("20 and over");
    }

    @Test
    void numbersStandRightAndTextsLeft() {
        assertThat(format("en-IE", "", Type.INTEGER).right()).isTrue();
        assertThat(format("en-IE", "", Type.TEXT).right()).isFalse();
        assertThat(format("en-IE", "left", Type.INTEGER).right()).isFalse();
        assertThat(format("en-IE", "right", Type.TEXT).right()).isTrue();
        assertThat(format("en-IE", "bar", Type.INTEGER).bar()).isTrue();
        assertThat(format("en-IE", "shade", Type.INTEGER).shade()).isTrue();
    }

    @Test
    void headingsNameTheUnit() {
        assertThat(format("en-IE", "money 'EUR'", Type.INTEGER).unit()).isEqualTo("EUR");
        assertThat(format("en-IE", "money 'EUR' thousands", Type.INTEGER).unit())
                .isEqualTo("EUR thousands");
        assertThat(format("en-IE", "money", Type.INTEGER).unit()).isEmpty();
        assertThat(format("en-IE", "", Type.INTEGER).title()).isEqualTo("X");
    }
}
