package dev.fiesta.value;

import java.util.Locale;
import java.util.Optional;

/** Units of time spans. */
public enum Unit {
    MINUTE,
    HOUR,
    DAY,
    WEEK,
    MONTH,
    QUARTER,
    YEAR;

    /** The unit of a word such as {@code day} or {@code days}. */
    public static Optional<Unit> find(String word) {
        for (Unit unit : values()) {
            if (word.equals(unit.word()) || word.equals(unit.word() + "s")) {
                return Optional.of(unit);
            }
        }
        return Optional.empty();
    }

    /** The word, singular. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
