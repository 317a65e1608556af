package dev.fiesta.value;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.temporal.IsoFields;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DaysTest {
    @Test
    void agreesWithTheCalendarOfTheJdk() {
        for (long day = -800_000; day < 800_000; day += 17) {
            LocalDate date = LocalDate.ofEpochDay(day);
            assertThat(Days.year(day)).isEqualTo(date.getYear());
            assertThat(Days.month(day)).isEqualTo(date.getMonthValue());
            assertThat(Days.day(day)).isEqualTo(date.getDayOfMonth());
            assertThat(Days.weekday(day)).isEqualTo(date.getDayOfWeek().getValue());
            assertThat(Days.of(date.getYear(), date.getMonthValue(), date.getDayOfMonth()))
                    .isEqualTo(day);
            assertThat(Days.plusMonths(day, 13)).isEqualTo(date.plusMonths(13).toEpochDay());
            assertThat(Math.floorMod(Days.isoWeek(day), 100)).isEqualTo(date.get(IsoFields.WEEK_OF_WEEK_BASED_YEAR));
        }
    }

    @ParameterizedTest
    @CsvSource({
        "dd/MM/yyyy, 31/12/2026, 2026-12-31",
        "dd/MM/yyyy, 31/02/2026, ",
        "dd/MM/yyyy, 1/02/2026, ",
        "d MMM yyyy, 1 Feb 2026, 2026-02-01",
        "yyyyMMdd, 20260501, 2026-05-01"
    })
    void patternsAreStrict(String pattern, String text, LocalDate expected) {
        long found = TimePattern.of(pattern, false).parse(text);
        assertThat(found).isEqualTo(expected == null ? TimePattern.NONE : expected.toEpochDay());
    }

    @ParameterizedTest
    @CsvSource({
        "2026-05-01T18:30, 2026-05-01T18:30",
        "2026-05-01 18:30:05.25, 2026-05-01T18:30:05.250",
        "2026-05-01T24:00, ",
        "2026-05-01T18:30:05.1234567, ",
        "2026-13-01T18:30, "
    })
    void isoDateTimes(String text, LocalDateTime expected) {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        long found = TimePattern.isoDateTime(bytes, 0, bytes.length);
        assertThat(found).isEqualTo(expected == null ? TimePattern.NONE : Values.micros(expected));
    }

    @Test
    void instantsKnowTheirOffset() {
        byte[] east = "2026-05-09T18:30+01:00".getBytes(StandardCharsets.UTF_8);
        byte[] zulu = "2026-05-09T17:30:00Z".getBytes(StandardCharsets.UTF_8);
        assertThat(TimePattern.isoInstant(east, 0, east.length))
                .isEqualTo(TimePattern.isoInstant(zulu, 0, zulu.length));
    }
}
