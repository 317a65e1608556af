package dev.fiesta.value;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.LocalDate;
import java.time.LocalDateTime;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class CalendarNamesTest {
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "en-IE | d MMM | 7 Sep",
                "en-IE | EEEE, d MMMM yyyy | Monday, 7 September 2026",
                "pt-PT | EEE d 'de' MMMM | seg 7 de setembro",
                "pt_BR | d MMM | 7 set",
                "de-DE | EEEE, d. MMM yy | Montag, 7. Sept. 26",
                "fr | 'MMM' MMM | MMM sept.",
                "xx-XX | MMMM | September",
                "es | dd/MM/yyyy | 07/09/2026",
            })
    void monthsAndDaysAreOurOwn(String language, String pattern, String expected) {
        assertThat(CalendarNames.formatter(pattern, language).format(LocalDate.of(2026, 9, 7)))
                .isEqualTo(expected);
    }

    @ParameterizedTest
    @ValueSource(strings = {"en", "pt", "es", "fr", "de", "it", "nl", "ca", "sv", "da", "pl"})
    void everyLanguageHasAllNames(String language) {
        for (int month = 1; month <= 12; month++) {
            assertThat(CalendarNames.formatter("MMM MMMM", language).format(LocalDate.of(2026, month, 1)))
                    .matches("\\S+ \\S+");
        }
        for (int day = 4; day <= 10; day++) {
            assertThat(CalendarNames.formatter("EEE EEEE", language).format(LocalDate.of(2026, 5, day)))
                    .matches("\\S+ \\S+");
        }
    }

    @Test
    void timesAndWrongPatterns() {
        assertThat(CalendarNames.formatter("d MMM HH:mm", "en").format(LocalDateTime.of(2026, 5, 1, 18, 5)))
                .isEqualTo("1 May 18:05");
        assertThatThrownBy(() -> CalendarNames.formatter("MMMMMMM", "en")).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> CalendarNames.formatter("d 'open", "en")).isInstanceOf(IllegalArgumentException.class);
    }
}
