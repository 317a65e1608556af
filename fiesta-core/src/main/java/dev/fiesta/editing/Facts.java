package dev.fiesta.editing;

import dev.fiesta.survey.FieldSurvey;
import dev.fiesta.value.Texts;
import java.util.Locale;
import java.util.Objects;
import java.util.stream.Collectors;

/** What is told of a field of an input. */
final class Facts {
    private static final int MOST_VALUES = 6;

    private Facts() {}

    /** {@code 1.2 % missing, from 0.50 to 96.00, in the first 2,000 records}. */
    static String sentence(FieldSurvey field, KnownInput input) {
        long records = Objects.requireNonNull(input.looked()).records();
        StringBuilder text = new StringBuilder();
        if (field.missing() == records) {
            return "All missing in " + of(records) + ".";
        }
        text.append(
                field.missing() == 0
                        ? "None missing"
                        : String.format(Locale.ROOT, "%.1f %% missing", 100.0 * field.missing() / records));
        if (field.least() != null && field.greatest() != null) {
            text.append(", from ")
                    .append(Texts.of(field.least()))
                    .append(" to ")
                    .append(Texts.of(field.greatest()));
        }
        text.append(", in ").append(of(records)).append('.');
        if (field.least() instanceof String && !field.frequent().isEmpty()) {
            text.append(" Most frequent: ")
                    .append(field.frequent().stream()
                            .limit(MOST_VALUES)
                            .map(f -> Texts.of(f.value()))
                            .collect(Collectors.joining(", ")))
                    .append('.');
        }
        return text.toString();
    }

    private static String of(long records) {
        return records == 1 ? "the first record" : String.format(Locale.ROOT, "the first %,d records", records);
    }
}
