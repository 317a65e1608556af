package dev.fiesta.compute;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Row;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.Month;
import java.time.format.TextStyle;
import java.time.temporal.ChronoUnit;
import java.time.temporal.IsoFields;
import java.time.temporal.TemporalAdjusters;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.SplittableRandom;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Functions over dates and times, held to the calendar of the JDK over random days. */
class CalendarTest {
    @TempDir
    Path folder;

    @BeforeEach
    void days() throws IOException {
        SplittableRandom random = new SplittableRandom(12);
        StringBuilder text = new StringBuilder("d,t,n\n");
        for (int i = 0; i < 3000; i++) {
            LocalDate day = LocalDate.of(1900, 1, 1).plusDays(random.nextInt(80_000));
            LocalDateTime time = LocalDateTime.of(1950, 1, 1, 0, 0).plusSeconds(random.nextLong(4_000_000_000L));
            text.append(day)
                    .append(',')
                    .append(time)
                    .append(',')
                    .append(random.nextInt(-400, 400))
                    .append('\n');
        }
        Files.writeString(folder.resolve("days.csv"), text.toString());
    }

    private Result ask(String settings, String fields) {
        String brief =
                settings + " input s from 'days.csv' fields d date, t datetime, n integer table x from s add " + fields;
        try (Fiesta fiesta = Fiesta.with().threads(2).open()) {
            return fiesta.tables(Parser.brief(new BriefText("t.brief", brief)), folder, Map.of())
                    .run(List.of("x"))
                    .get("x");
        }
    }

    @Test
    void partsOfDates() {
        Result result = ask(
                "",
                "y = year(d), q = quarter(d), m = month(d), dd = day(d), w = week(d), wy = week_year(d), wd = weekday(d), de = decade(d)");
        for (Row row : result) {
            LocalDate day = row.date("d");
            assertThat(row.integer("y")).isEqualTo(day.getYear());
            assertThat(row.integer("q")).isEqualTo(day.get(IsoFields.QUARTER_OF_YEAR));
            assertThat(row.integer("m")).isEqualTo(day.getMonthValue());
            assertThat(row.integer("dd")).isEqualTo(day.getDayOfMonth());
            assertThat(row.integer("w")).isEqualTo(day.get(IsoFields.WEEK_OF_WEEK_BASED_YEAR));
            assertThat(row.integer("wy")).isEqualTo(day.get(IsoFields.WEEK_BASED_YEAR));
            assertThat(row.integer("wd")).isEqualTo(day.getDayOfWeek().getValue());
            assertThat(row.integer("de")).isEqualTo(Math.floorDiv(day.getYear(), 10) * 10L);
        }
    }

    @Test
    void startsOfPeriodsFollowTheSettings() {
        for (DayOfWeek first : DayOfWeek.values()) {
            Result result = ask(
                    "settings week starts " + first.name().toLowerCase(Locale.ROOT),
                    "w = start_of_week(d), v = start_of_week(t)");
            for (Row row : result) {
                assertThat(row.date("w")).isEqualTo(row.date("d").with(TemporalAdjusters.previousOrSame(first)));
                assertThat(row.date("v"))
                        .isEqualTo(row.dateTime("t").toLocalDate().with(TemporalAdjusters.previousOrSame(first)));
            }
        }
        Result result = ask("", "m = start_of_month(d), q = start_of_quarter(d), y = start_of_year(t)");
        for (Row row : result) {
            LocalDate day = row.date("d");
            assertThat(row.date("m")).isEqualTo(day.withDayOfMonth(1));
            assertThat(row.date("q")).isEqualTo(day.withDayOfMonth(1).withMonth((day.getMonthValue() - 1) / 3 * 3 + 1));
            assertThat(row.date("y")).isEqualTo(row.dateTime("t").toLocalDate().withDayOfYear(1));
        }
    }

    @Test
    void fiscalYearsFollowTheSettings() {
        for (int start = 1; start <= 12; start++) {
            Result result = ask("settings year starts " + start, "y = fiscal_year(d), q = fiscal_quarter(d)");
            for (Row row : result) {
                LocalDate shifted = row.date("d").withDayOfMonth(1).minusMonths(start - 1L);
                assertThat(row.integer("q")).isEqualTo(shifted.get(IsoFields.QUARTER_OF_YEAR));
                assertThat(row.integer("y")).isEqualTo(shifted.getYear() + (start == 1 ? 0L : 1L));
            }
        }
    }

    @Test
    void namesAreInTheLanguageOfTheBrief() {
        for (String locale : List.of("en-IE", "pt-PT", "fr-FR")) {
            Result result = ask("settings locale '" + locale + "'", "m = month_name(d), w = weekday_name(d)");
            Locale language = Locale.forLanguageTag(locale.substring(0, 2));
            for (Row row : result) {
                assertThat(row.text("m")).isEqualTo(Month.from(row.date("d")).getDisplayName(TextStyle.FULL, language));
                assertThat(row.text("w"))
                        .isEqualTo(row.date("d").getDayOfWeek().getDisplayName(TextStyle.FULL, language));
            }
        }
    }

    @Test
    void spansOfTimeMoveDatesAndTimes() {
        Result result = ask(
                "",
                "a = d + 45 days, b = d - 3 weeks, c = d + 1 month, e = d - 5 quarters, f = d + 3 years, g = t + 90 minutes, h = t - 25 hours, i = t + 1 month");
        for (Row row : result) {
            LocalDate day = row.date("d");
            LocalDateTime time = row.dateTime("t");
            assertThat(row.date("a")).isEqualTo(day.plusDays(45));
            assertThat(row.date("b")).isEqualTo(day.minusWeeks(3));
            assertThat(row.date("c")).isEqualTo(day.plusMonths(1));
            assertThat(row.date("e")).isEqualTo(day.minusMonths(15));
            assertThat(row.date("f")).isEqualTo(day.plusYears(3));
            assertThat(row.dateTime("g")).isEqualTo(time.plusMinutes(90));
            assertThat(row.dateTime("h")).isEqualTo(time.minusHours(25));
            assertThat(row.dateTime("i")).isEqualTo(time.plusMonths(1));
        }
    }

    @Test
    void distancesClockAndFormats() {
        Result result = ask(
                "",
                "a = days_between(d, t), b = date(t) - d, h = hour(t), m = minute(t), f = format(d, 'dd.MM.yyyy'), z = date(format(d, 'dd.MM.yyyy'), 'dd.MM.yyyy')");
        for (Row row : result) {
            long days = ChronoUnit.DAYS.between(row.date("d"), row.dateTime("t").toLocalDate());
            assertThat(row.integer("a")).isEqualTo(days);
            assertThat(row.integer("b")).isEqualTo(days);
            assertThat(row.integer("h")).isEqualTo(row.dateTime("t").getHour());
            assertThat(row.integer("m")).isEqualTo(row.dateTime("t").getMinute());
            assertThat(row.date("z")).isEqualTo(row.date("d"));
        }
    }

    @Test
    void wholeNumbersInBandsAndRemainders() {
        Result result = ask(
                "",
                "b = band(n, 7), r = n % 7, m = mod(n, -7), h = floor(n / 7), s = sign(n), a = abs(n), l = least(n, 0), g = greatest(n, 0)");
        for (Row row : result) {
            long n = row.integer("n");
            assertThat(row.integer("b")).isEqualTo(Math.floorDiv(n, 7L) * 7);
            assertThat(row.integer("r")).isEqualTo(n % 7);
            assertThat(row.integer("m")).isEqualTo(n % -7);
            assertThat(row.real("h")).isEqualTo(Math.floor(n / 7.0));
            assertThat(row.integer("s")).isEqualTo(Long.signum(n));
            assertThat(row.integer("a")).isEqualTo(Math.abs(n));
            assertThat(row.integer("l")).isEqualTo(Math.min(n, 0));
            assertThat(row.integer("g")).isEqualTo(Math.max(n, 0));
        }
    }
}
