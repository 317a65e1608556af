package dev.fiesta.survey;

import dev.fiesta.survey.FieldSurvey.Oddity;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;

/** What is odd about any field, whatever its type. */
final class Oddities {
    private static final int FREQUENT = 5;
    private static final int FEWEST_FOR_A_KEY = 10;

    private Oddities() {}

    /**
     * @param field its name
     * @param present records that have a value
     * @param different the number of different values
     * @param exact whether that number is exact
     * @param times how often values come, all of them or those drawn
     * @param bad values that did not fit the type
     */
    static List<Oddity> of(
            String field,
            Type type,
            long records,
            long present,
            long different,
            boolean exact,
            long[] times,
            long bad) {
        List<Oddity> found = new ArrayList<>();
        if (present == 0) {
            found.add(new Oddity(Oddity.Kind.EMPTY, "has no value in any record", null));
        } else if (different == 1 && present == records && records > 1) {
            found.add(new Oddity(Oddity.Kind.CONSTANT, "has the same value in every record", null));
        }
        boolean alone = exact ? different == present : Arrays.stream(times).allMatch(n -> n == 1);
        if (records >= FEWEST_FOR_A_KEY && present == records && alone && mayBeKey(type)) {
            String sure = exact
                    ? "every value is different: it may be the key"
                    : "nearly every value is different: it may be the key";
            found.add(new Oddity(Oddity.Kind.LIKELY_KEY, sure, new WayOut.Unique(field)));
        }
        if (bad > 0) {
            String values = bad == 1 ? "1 value is" : number(bad) + " values are";
            found.add(new Oddity(
                    Oddity.Kind.BAD_VALUES,
                    values + " not " + type.withArticle() + ", unlike the others; counted as missing here",
                    WayOut.Declared.of(field, type, false).orMissing()));
        }
        return found;
    }

    private static boolean mayBeKey(Type type) {
        return type.kind() == Kind.INTEGER || type.kind() == Kind.TEXT;
    }

    /** The places of the most frequent values, most frequent first; of a sample only those that are surely frequent. */
    static int[] mostFrequent(long[] times, long total, boolean exact) {
        long fewest = exact ? 2 : Math.max(2, total / 100);
        return IntStream.range(0, times.length)
                .filter(i -> times[i] >= fewest)
                .boxed()
                .sorted(Comparator.comparingLong((Integer i) -> -times[i]))
                .limit(FREQUENT)
                .mapToInt(Integer::intValue)
                .toArray();
    }

    static String number(long count) {
        return String.format(Locale.ROOT, "%,d", count);
    }
}
