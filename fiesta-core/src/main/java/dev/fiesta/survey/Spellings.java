package dev.fiesta.survey;

import dev.fiesta.language.Expr;
import dev.fiesta.language.Span;
import dev.fiesta.survey.FieldSurvey.Oddity;
import java.text.Normalizer;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/** Words that stand in a field in several spellings. */
final class Spellings {
    private static final int SHOWN = 3;

    private final String name;
    private final Map<String, Long> times;

    /**
     * @param name of the field
     * @param times how often each text stands there
     */
    Spellings(String name, Map<String, Long> times) {
        this.name = name;
        this.times = times;
    }

    /** One word in several spellings: the same but for case, accents, blanks and signs between words. */
    Optional<Oddity> oddity() {
        Map<String, List<String>> alike = new LinkedHashMap<>();
        times.keySet().stream()
                .filter(t -> t.chars().anyMatch(Character::isLetter))
                .forEach(t ->
                        alike.computeIfAbsent(plain(t), p -> new ArrayList<>()).add(t));
        List<List<String>> several = alike.values().stream()
                .filter(a -> a.size() > 1)
                .sorted(Comparator.comparingLong(this::rarer).reversed())
                .toList();
        if (several.isEmpty()) {
            return Optional.empty();
        }
        List<String> shown = several.stream().limit(SHOWN).map(this::counted).toList();
        String words = several.size() == 1 ? "one word" : Oddities.number(several.size()) + " words";
        String such = several.size() > SHOWN ? " in several spellings, such as " : " in several spellings: ";
        return Optional.of(
                new Oddity(Oddity.Kind.SPELLINGS, words + such + String.join("; ", shown), oneSpelling(several)));
    }

    private String counted(List<String> spelled) {
        return String.join(
                ", ",
                byCount(spelled)
                        .map(t -> "'" + t + "' (" + Oddities.number(times.getOrDefault(t, 0L)) + ")")
                        .toList());
    }

    /** The most frequent spelling first; of equally frequent ones those without blanks around. */
    private Stream<String> byCount(List<String> spelled) {
        return spelled.stream()
                .sorted(Comparator.comparingLong((String t) -> -times.getOrDefault(t, 0L))
                        .thenComparing(t -> t.equals(t.strip()) ? 0 : 1));
    }

    /** Small letters where they bring all spellings together, else each spelling that is not the most frequent of its word. */
    private WayOut oneSpelling(List<List<String>> several) {
        boolean cases = several.stream()
                .allMatch(s -> s.stream()
                                .map(t -> t.toLowerCase(Locale.ROOT))
                                .distinct()
                                .count()
                        == 1);
        if (cases) {
            return WayOut.Computed.of(name, "lower");
        }
        List<Expr.Branch> others = several.stream()
                .limit(SHOWN)
                .flatMap(s -> {
                    String usual = usual(s);
                    return byCount(s)
                            .filter(t -> !t.equals(usual))
                            .map(t -> new Expr.Branch(WayOut.literal(t), WayOut.literal(usual)));
                })
                .toList();
        return new WayOut.Computed(name, new Expr.Reword(WayOut.name(name), others, null, new Span(0, 0)));
    }

    /** The most frequent one, once there are no blanks around: nobody wants to keep those. */
    private String usual(List<String> spelled) {
        Map<String, Long> stripped = new LinkedHashMap<>();
        byCount(spelled).forEach(t -> stripped.merge(t.strip(), times.getOrDefault(t, 0L), Long::sum));
        return Collections.max(stripped.entrySet(), Map.Entry.comparingByValue())
                .getKey();
    }

    private long rarer(List<String> spelled) {
        long sum = spelled.stream().mapToLong(times::get).sum();
        return sum - spelled.stream().mapToLong(times::get).max().orElse(0);
    }

    private static String plain(String text) {
        String parted = Normalizer.normalize(text, Normalizer.Form.NFD).replaceAll("\\p{M}", "");
        return parted.toLowerCase(Locale.ROOT).replaceAll("[\\s\u00A0_-]+", "");
    }
}
