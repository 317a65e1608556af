package dev.fiesta.survey;

import dev.fiesta.value.Type;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What a field holds. Values are objects of the classes that columns give out.
 *
 * @param type as it was worked out or declared
 * @param missing records without a value
 * @param distinct the number of distinct values; an estimate where {@code exact} is false
 * @param exact whether all distinct values could be held in memory: then every count is exact; otherwise the number of
 *     distinct values, the quartiles, the histogram and the frequent values come from a sample that is the same each time
 * @param least the least value, of texts by code point; null without any value
 * @param mean of numbers
 * @param quartiles the first, second and third, of numbers and times; empty otherwise
 * @param frequent the most frequent values, most frequent first, if any comes more than once
 * @param histogram of numbers and times, or null
 * @param oddities what may be wrong with it
 */
public record FieldSurvey(
        String name,
        Type type,
        long missing,
        long distinct,
        boolean exact,
        @Nullable Object least,
        @Nullable Object greatest,
        @Nullable Double mean,
        List<Object> quartiles,
        List<Frequent> frequent,
        @Nullable Histogram histogram,
        List<Oddity> oddities) {
    public FieldSurvey {
        quartiles = List.copyOf(quartiles);
        frequent = List.copyOf(frequent);
        oddities = List.copyOf(oddities);
    }

    /** A value and the number of records that have it. */
    public record Frequent(Object value, long count) {}

    /**
     * How values spread: the numbers of records in intervals of equal width from the least to the greatest value.
     *
     * @param counts for each interval, lower ends included, the last with its upper end
     */
    public record Histogram(Object least, Object greatest, List<Long> counts) {
        public Histogram {
            counts = List.copyOf(counts);
        }
    }

    /**
     * Something that an analyst would want to know before relying on the field.
     *
     * @param text a sentence without the name of the field
     * @param way what a brief can say of it, or null
     */
    public record Oddity(Kind kind, String text, @Nullable WayOut way) {
        /** {@return the way out as a brief has it, or null} */
        public @Nullable String suggestion() {
            return way == null ? null : way.text();
        }

        /** The sorts of oddity. */
        public enum Kind {
            EMPTY,
            CONSTANT,
            LIKELY_KEY,
            BAD_VALUES,
            NUMBERS_AS_TEXT,
            DATES_AS_TEXT,
            MIXED_DATES,
            NAMED_DATES,
            IDENTIFIERS,
            MISSING_WORDS,
            BLANKS,
            SPELLINGS
        }
    }
}
