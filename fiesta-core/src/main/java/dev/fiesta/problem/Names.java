package dev.fiesta.problem;

import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;

/** Finds the names that somebody may have meant. */
public final class Names {
    private Names() {}

    /**
     * {@return at most three of the candidates that look most like the name, best first; those too far off are left out}
     *
     * @param name its name
     * @param candidates the names that there are
     */
    public static List<String> nearest(String name, Collection<String> candidates) {
        String wanted = name.toLowerCase(Locale.ROOT);
        int limit = Math.max(1, name.length() / 3 + 1);
        List<Near> near = candidates.stream()
                .distinct()
                .map(c -> new Near(c, distance(wanted, c.toLowerCase(Locale.ROOT))))
                .filter(n -> n.distance <= limit)
                .sorted(Comparator.comparingInt(Near::distance).thenComparing(Near::name))
                .toList();
        // A slip of one letter leaves no doubt; a worse match beside it would only distract.
        int most = near.isEmpty() ? 0 : near.get(0).distance + (near.get(0).distance > 1 ? 1 : 0);
        return near.stream()
                .filter(n -> n.distance <= most)
                .limit(3)
                .map(Near::name)
                .toList();
    }

    /**
     * {@return candidates, those first that look most like a text}
     *
     * @param text what is written
     * @param candidates the names that there are
     * @param most the most that are wanted
     */
    public static List<String> byLikeness(String text, Collection<String> candidates, int most) {
        String wanted = text.toLowerCase(Locale.ROOT);
        return candidates.stream()
                .map(c -> new Near(c, distance(wanted, c.toLowerCase(Locale.ROOT))))
                .sorted(Comparator.comparingInt(Near::distance).thenComparing(Near::name))
                .limit(most)
                .map(Near::name)
                .toList();
    }

    /**
     * {@return a sentence such as {@code Did you mean 'amount'?}, or the list of what there is, or nothing}
     *
     * @param name its name
     * @param candidates the names that there are
     * @param whatThereIs begins the list of all, where none is near
     */
    public static Suggestion didYouMean(String name, Collection<String> candidates, String whatThereIs) {
        List<String> near = nearest(name, candidates);
        if (!near.isEmpty()) {
            String all =
                    String.join(" or ", near.stream().map(n -> "'" + n + "'").toList());
            return Suggestion.names("Did you mean " + all + "?", near);
        }
        return new Suggestion(
                candidates.isEmpty() ? "There are none." : whatThereIs + ": " + shortened(candidates) + ".", List.of());
    }

    private static String shortened(Collection<String> candidates) {
        List<String> shown = candidates.stream().limit(20).toList();
        String text = String.join(", ", shown);
        return candidates.size() > shown.size() ? text + " and " + (candidates.size() - shown.size()) + " more" : text;
    }

    /** The number of single-letter changes between two words; two neighbours swapped count as one. */
    static int distance(String a, String b) {
        int[][] d = new int[a.length() + 1][b.length() + 1];
        for (int i = 0; i <= a.length(); i++) {
            for (int j = 0; j <= b.length(); j++) {
                if (i == 0 || j == 0) {
                    d[i][j] = i + j;
                    continue;
                }
                int change = a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1;
                d[i][j] = Math.min(Math.min(d[i - 1][j], d[i][j - 1]) + 1, d[i - 1][j - 1] + change);
                if (i > 1 && j > 1 && a.charAt(i - 1) == b.charAt(j - 2) && a.charAt(i - 2) == b.charAt(j - 1)) {
                    d[i][j] = Math.min(d[i][j], d[i - 2][j - 2] + 1);
                }
            }
        }
        return d[a.length()][b.length()];
    }

    private record Near(String name, int distance) {}
}
