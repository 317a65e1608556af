package dev.fiesta.catalogue;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A word that people bring from elsewhere, and what stands for it here. One list, which the parser, the binder and help read.
 *
 * @param word the words brought, parted by blanks where several mean the same
 * @param kind where it stands
 * @param form how what was written reads, as a pattern over the rest of its line; its groups are used in {@code ours}
 * @param ours what is written here, {@code $1} being the first group
 */
public record ForeignWord(String word, Kind kind, String form, String ours) {
    /** Where a word from elsewhere stands. */
    public enum Kind {
        /** Where a clause begins. */
        CLAUSE,
        /** In front of a bracket. */
        FUNCTION
    }

    private static final List<ForeignWord> ALL = List.of(
            clause("having", "(\\w+\\(.*?\\)) *(.*)", "give figure = $1 only figure $2"),
            clause("where having filter", "(.*)", "only $1"),
            clause("select", "\\*", "All fields stay without it."),
            clause("select", "(.*)", "columns $1"),
            clause("count", "by (.*)", "per $1 give n = count()"),
            clause("sum total", "(\\S+) by (.*)", "per $2 give total = sum($1)"),
            clause("mean average avg", "(\\S+) by (.*)", "per $2 give average = mean($1)"),
            clause("show display print", "(.*)", "columns $1"),
            clause("group", "(?:by )?(.*)", "per $1"),
            clause("order", "(?:by )?(.*)", "sort $1"),
            clause("limit take head", "(.*)", "first $1"),
            clause("top highest", "(\\S+) by (.*?)( within .*)?", "first $1$3 along $2 desc"),
            clause("top", "(.*)", "first $1"),
            clause("bottom lowest", "(\\S+) by (.*?)( within .*)?", "first $1$3 along $2"),
            clause("join lookup", "(.*)", "match $1"),
            clause("pivot", "(.*)", "per … against $1 give …"),
            clause("union", "(.*)", "append $1"),
            clause("unfold", "(.*) as (.*)", "turn $1 into $2"),
            clause("unfold unpivot", "(.*)", "turn $1 into NAME, VALUE"),
            function("average avg", "mean"),
            function("std sd stdev", "stddev"),
            function("var", "variance"),
            function("percentile", "quantile"),
            function("unique count_unique", "count_distinct"),
            function("ifnull nvl isnull", "coalesce"),
            function("len", "length"),
            function("substr", "substring"),
            function("left right mid", "substring(text, start, length)"),
            function("iff iif", "if CONDITION then A else B"),
            function("ceil", "ceiling"),
            function("concatenate", "concat"),
            function("nullif", "missing_if"));

    private static ForeignWord clause(String words, String form, String ours) {
        return new ForeignWord(words, Kind.CLAUSE, form, ours);
    }

    private static ForeignWord function(String words, String ours) {
        return new ForeignWord(words, Kind.FUNCTION, "(.*)", ours);
    }

    /** {@return all, clauses first} */
    public static List<ForeignWord> all() {
        return ALL;
    }

    /**
     * The clause that a line from elsewhere is here.
     *
     * @param line the line from the word on
     */
    public static Optional<String> clause(String word, String line) {
        String rest = line.substring(Math.min(line.length(), word.length())).strip();
        for (ForeignWord foreign : ALL) {
            Matcher form = Pattern.compile("^" + foreign.form + "$").matcher(rest);
            if (foreign.kind == Kind.CLAUSE && foreign.isMeant(word) && form.matches()) {
                return Optional.of(form.replaceFirst(foreign.ours)
                        .replaceAll(" descending\\b", " desc")
                        .strip());
            }
        }
        return Optional.empty();
    }

    /** {@return the function that is meant by a name from elsewhere} */
    public static Optional<String> function(String name) {
        return ALL.stream()
                .filter(f -> f.kind == Kind.FUNCTION && f.isMeant(name))
                .map(ForeignWord::ours)
                .findFirst();
    }

    /** {@return what stands here for a word, of any kind} */
    public static Optional<String> ours(String name) {
        return ALL.stream()
                .filter(f -> f.isMeant(name) && f.ours.matches("[a-z].*"))
                .min(Comparator.comparing(f -> f.kind == Kind.FUNCTION ? 0 : 1))
                .map(f -> f.ours.split("\\W")[0]);
    }

    private boolean isMeant(String name) {
        return List.of(word.split(" ")).contains(name.toLowerCase(java.util.Locale.ROOT));
    }
}
