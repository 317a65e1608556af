package dev.fiesta.source;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.Repeats;
import dev.fiesta.Result;
import dev.fiesta.Table;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.value.WrittenNumber;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Money and dates as people write them: the right figure, or a message, never another figure. */
class WrittenNumberTest {
    private static final String MONEY =
            "fields amount decimal(2) without '€', 'EUR' decimal comma brackets negative missing '-' delimiter '|'";

    @TempDir
    Path folder;

    private Table read(String header, String options, String... cells) throws IOException {
        Path file = folder.resolve("money.csv");
        Files.writeString(file, header + "\n" + String.join("\n", cells) + "\n");
        return Fiesta.with().threads(1).open().read(List.of(file), options);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "€ 1.234,50; 1234.50",
                "12,50 €; 12.50",
                "EUR 5,00; 5.00",
                "EUR (5,00); -5.00",
                "(€ 5,00); -5.00",
                "-7,25; -7.25",
                "7,25-; -7.25",
                "€ -7,25; -7.25",
                "+3; 3.00",
                "1.234.567; 1234567.00",
                "1.234.567,8; 1234567.80",
                "1\u00A0234,50; 1234.50",
                "1\u202F234,50; 1234.50",
                "1 234; 1234.00",
                "1'234,50; 1234.50",
                ",50; 0.50",
                "-; ",
                "€ -; ",
            })
    void whatIsWrittenIsRead(String cell, String value) throws IOException {
        String written = cell.replace("\\u00A0", "\u00A0").replace("\\u202F", "\u202F");
        Result result = read("amount|x", MONEY, written + "|1").run();
        assertThat(result.row(0).decimal("amount")).isEqualTo(value == null ? null : new BigDecimal(value));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "1.234",
                "1.23,4",
                "1234.50",
                "12.34,50",
                "1.2345,00",
                "1,2,3",
                "1..234,5",
                "--5",
                "(-5)",
                "(5",
                "5)",
                "-5-",
                "€",
                "5 €€ 5",
                "1.234 567,00",
                "1,",
                "12a",
                "1e3",
                "()",
                "1'23"
            })
    void whatMayBeMeantOtherwiseIsNone(String cell) {
        assertThatThrownBy(() -> read("amount|x", MONEY, cell + "|1").run())
                .isInstanceOf(FiestaException.class)
                .hasMessageContaining("line 2: field amount");
    }

    @Test
    void aSingleGroupIsReadWhereThatIsTold() throws IOException {
        assertThat(read("amount", "fields amount decimal(2) grouped decimal comma", "1.234")
                        .run()
                        .row(0)
                        .decimal("amount"))
                .isEqualTo(new BigDecimal("1234.00"));
        assertThat(read("amount;x", "delimiter ';' fields amount integer grouped", "\"1,234\";x")
                        .run()
                        .row(0)
                        .integer("amount"))
                .isEqualTo(1234);
        assertThatThrownBy(() -> read("amount;x", "delimiter ';' fields amount integer", "\"1,234\";x")
                        .run())
                .hasMessageContaining("'1,234'");
        assertThat(read("amount", "fields amount real without 'kg'", "12.5 kg", "1e3")
                        .run()
                        .doubles("amount"))
                .containsExactly(12.5, 1000);
        assertThat(read(
                                "amount|x",
                                MONEY.replace("missing '-'", "").replace("decimal(2)", "decimal(2) bad as missing"),
                                "1.234|1",
                                "x|2")
                        .run()
                        .notices()
                        .list())
                .hasSize(1);
    }

    /** Under a decimal comma a point never parts decimals: what is written so is no number, whether a type was told or not. */
    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "1.234,50; decimal(2); 1234.50",
                "1.234; integer; 1234",
                "2,5; decimal(1); 2.5",
                "-2; integer; -2",
                "1,5e3; real; 1500",
                "1234.50; text; 1234.50",
                "2.5; text; 2.5",
                "1.2.3,5; text; 1.2.3,5",
                "1.5e3; text; 1.5e3",
                "75 001; text; 75 001",
                "1'234; text; 1'234",
                "001; text; 001",
            })
    void aWorkedOutTypeKnowsTheComma(String cell, String type, String value) throws IOException {
        Result result =
                read("amount|x", "decimal comma delimiter '|'", cell + "|1").run();
        assertThat(result.schema().type(0)).hasToString(type);
        assertThat(dev.fiesta.value.Texts.of(result.row(0).get("amount"))).isEqualTo(value);
    }

    /** A value met behind those that the type was worked out from is told, never read as another. */
    @Test
    void aPointMetLateIsTold() throws IOException {
        List<String> cells = new ArrayList<>(java.util.Collections.nCopies(3_000_000, "12,5|abcdef"));
        cells.set(2_900_001, "1234.50|x");
        assertThatThrownBy(() -> read("amount|x", "decimal comma delimiter '|'", cells.toArray(String[]::new))
                        .then("per all give s = sum(amount)")
                        .run())
                .isInstanceOf(FiestaException.class)
                .hasMessageContaining("line 2900003: field amount: '1234.50' is not a decimal");
    }

    @Test
    void theLongerTextIsTakenOutFirst() throws IOException {
        assertThat(read("amount", "fields amount decimal(2) without 'EUR', 'EURO'", "EURO 5", "EUR 6")
                        .then("per all give s = sum(amount)")
                        .run()
                        .row(0)
                        .decimal("s"))
                .isEqualTo(new BigDecimal("11.00"));
    }

    @Test
    void aBadValueIsNoDefault() throws IOException {
        Result result = read(
                        "amount|x",
                        MONEY.replace("without '€', 'EUR'", "without '€', 'EUR' default 7 bad as missing"),
                        "€|1",
                        "|2",
                        "3|3")
                .run();
        assertThat(result.stream().map(r -> String.valueOf(r.decimal("amount"))))
                .containsExactly("null", "7.00", "3.00");
    }

    /** A second reader, made of one pattern, agrees about random cells. */
    @Test
    void aSecondReaderAgrees() {
        Pattern plain = Pattern.compile(
                "(?:-\u00A0*)?(\\d+|\\d{1,3}(\\.\\d{3})+|\\d{1,3}(['\u00A0]\\d{3})+|\\d{1,3}(\\.\\d{3})+|)(,\\d+)?");
        WrittenNumber form = new WrittenNumber(true, false, false, List.of());
        SplittableRandom random = new SplittableRandom(5);
        String letters = "0123456789.,'\u00A0-";
        int numbers = 0;
        for (int i = 0; i < Repeats.of(20_000, 1_000_000); i++) {
            StringBuilder cell = new StringBuilder(random.nextInt(3) == 0 ? "-" : "");
            for (int c = random.nextInt(1, 11); c > 0; c--) {
                cell.append(
                        random.nextInt(4) > 0
                                ? (char) ('0' + random.nextInt(10))
                                : letters.charAt(random.nextInt(letters.length())));
            }
            String text = form.bare(cell.toString());
            String digits = text.replaceAll("[^0-9]", "");
            boolean mixed =
                    text.contains("'") && text.replaceFirst("^-\u00A0*", "").contains("\u00A0");
            boolean unclear = text.matches("(?:-\u00A0*)?\\d{1,3}\\.\\d{3}");
            boolean fits = plain.matcher(text).matches() && !digits.isEmpty() && !mixed && !unclear;
            String value = form.plain(text);
            if ((value != null) != fits) {
                assertThat(value).as("'" + text + "'").isEqualTo(fits ? "a number" : null);
            }
            if (fits) {
                numbers++;
                assertThat(new BigDecimal(value))
                        .isEqualByComparingTo(new BigDecimal(text.replaceAll("[.'\u00A0]", "")
                                .replace(',', '.')
                                .replaceFirst("^(-?)\\.", "$10.")));
            }
        }
        assertThat(numbers).isGreaterThan(5_000);
    }

    @Test
    void patternsAreTriedInTurn() throws IOException {
        String patterns = "fields day date 'dd/MM/yyyy' or 'yyyy-MM-dd' or 'd MMM yyyy'";
        assertThat(read("day", patterns, "01/05/2026", "2026-05-02", "3 May 2026")
                        .then("add t = text(day)")
                        .run()
                        .texts("t"))
                .containsExactly("2026-05-01", "2026-05-02", "2026-05-03");
        assertThatThrownBy(() -> read("day", patterns, "5/2026").run())
                .hasMessageContaining("'5/2026' is not a date written dd/MM/yyyy, yyyy-MM-dd or d MMM yyyy");
        String both = "fields day date 'dd/MM/yyyy' or 'MM/dd/yyyy'";
        assertThat(read("day", both, "13/04/2026", "04/13/2026", "04/04/2026")
                        .then("add t = text(day)")
                        .run()
                        .texts("t"))
                .containsExactly("2026-04-13", "2026-04-13", "2026-04-04");
        assertThatThrownBy(() -> read("day", both, "13/04/2026", "03/04/2026").run())
                .isInstanceOf(FiestaException.class)
                .hasMessageContaining(
                        "line 3: field day: '03/04/2026' is one day written dd/MM/yyyy and another written MM/dd/yyyy.");
        Result first = read("day", both + " first pattern wins", "13/04/2026", "03/04/2026")
                .run();
        assertThat(first.stream().map(r -> String.valueOf(r.date("day")))).containsExactly("2026-04-13", "2026-04-03");
        assertThat(first.notices().list())
                .extracting(n -> n.text())
                .singleElement()
                .asString()
                .startsWith(
                        "day: 1 value fits several patterns as different days; the first was taken, such as '03/04/2026'");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "fields amount text without 'x' | 'without' and 'grouped' are for numbers, 'amount' is a text.",
                "fields amount decimal without 'x' | Say how many digits stand behind the point: amount decimal(2).",
                "fields amount decimal(2) without '-' | 'without' takes no digits, signs, brackets, points or commas out",
                "fields amount date 'dd/MM/yyyy' or 'foo' | The pattern 'foo' cannot be read",
                "brackets positive | 'negative' after 'brackets' is expected here",
            })
    void whatCannotBeToldIsSaid(String options, String message) {
        assertThatThrownBy(() -> read("amount", options, "1").run())
                .isInstanceOf(FiestaException.class)
                .hasMessageContaining(message);
    }

    /** Names of months and days are those of the brief's language, then English ones; short ones with or without a point. */
    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "de-DE; d. MMM yyyy; 3. März 2026; 2026-03-03",
                "de-DE; d. MMM yyyy; 3. mär 2026; 2026-03-03",
                "de-DE; d. MMM yyyy; 6. Okt. 2026; 2026-10-06",
                "de-DE; d. MMM yyyy; 6. Okt 2026; 2026-10-06",
                "de-DE; d. MMM yyyy; 7. Oct 2026; 2026-10-07",
                "de-DE; d. MMMM yyyy; 8. DEZEMBER 2026; 2026-12-08",
                "de-DE; d. MMMM yyyy; 8. December 2026; 2026-12-08",
                "de-DE; d. MMMM yyyy; 8. Dez. 2026; ",
                "de-DE; EEEE, d. MMMM yyyy; Dienstag, 8. Dezember 2026; 2026-12-08",
                "de-DE; EEEE, d. MMMM yyyy; Montag, 8. Dezember 2026; ",
                "de-DE; d. MMM yyyy; 31. Feb. 2026; ",
                "pt-PT; d 'de' MMMM 'de' yyyy; 9 de maio de 2026; 2026-05-09",
                "fr-FR; d MMM yyyy; 9 févr. 2026; 2026-02-09",
                "fr-FR; d MMM yyyy; 9 juil. 2026; 2026-07-09",
                "fr-FR; d MMM yyyy; 9 juin 2026; 2026-06-09",
                "fr-FR; d MMM yyyy; 9 jui 2026; ",
                "fr-FR; d MMM yyyy; 9 7 2026; ",
                "en-IE; d MMM yyyy; 9 7 2026; ",
                "en-IE; d MMM yyyy; 9 May 2026; 2026-05-09",
                "en-IE; d MMM yyyy; 9 Mai 2026; ",
            })
    void namesAreThoseOfTheBriefThenEnglish(String locale, String pattern, String cell, String day) throws IOException {
        Path file = folder.resolve("days.csv");
        Files.writeString(file, "id|day|again\n1|" + cell + "|" + cell + "\n");
        String brief = "settings locale '" + locale + "'\ninput days from 'days.csv' delimiter '|' fields day date '"
                + pattern.replace("'", "''")
                + "' bad as missing, again text\ntable t from days\n  add x = try_date(again, '"
                + pattern.replace("'", "''") + "')\n";
        Result result = Asking.brief(folder, brief).get("t");
        assertThat(String.valueOf(result.row(0).get("day"))).isEqualTo(day == null ? "null" : day);
        assertThat(String.valueOf(result.row(0).get("x"))).isEqualTo(day == null ? "null" : day);
    }
}
