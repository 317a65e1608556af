package dev.fiesta.compute;

/**
 * How large the program of a pattern gets when its counted repetitions are written out, as they are before it is matched: each
 * {@code {n,m}} stands for so many copies of what is before it. What is no pattern is measured all the same; whoever compiles it
 * tells.
 */
final class PatternSize {
    /** More is refused: a few thousand signs are matched in no time, millions never. */
    static final long MOST = 20_000;

    private final String pattern;
    private int at;

    private PatternSize(String pattern) {
        this.pattern = pattern;
    }

    /** About the number of signs that are matched, never more than a little over {@link #MOST}. */
    static long of(String pattern) {
        PatternSize size = new PatternSize(pattern);
        long all = 0;
        while (size.at < pattern.length() && all <= MOST) {
            all += size.sequence(0);
            size.at++; // a bracket that closes nothing
        }
        return all;
    }

    private long sequence(int depth) {
        long all = 0;
        while (at < pattern.length() && pattern.charAt(at) != ')' && all <= MOST) {
            all += repeated(one(depth));
        }
        return all;
    }

    private long one(int depth) {
        char c = pattern.charAt(at++);
        if (c == '\\') {
            at++;
            return 1;
        }
        if (c == '[') {
            characters();
            return 1;
        }
        if (c == '(' && depth < 200) {
            long inside = sequence(depth + 1);
            at++;
            return inside + 1;
        }
        return 1;
    }

    private void characters() {
        at++; // a bracket that stands first is one of the characters
        while (at < pattern.length() && pattern.charAt(at) != ']') {
            at += pattern.charAt(at) == '\\' ? 2 : 1;
        }
        at++;
    }

    private long repeated(long size) {
        int end = pattern.indexOf('}', at);
        if (at >= pattern.length() || pattern.charAt(at) != '{' || end < 0) {
            return size;
        }
        long times = 1;
        for (String limit : pattern.substring(at + 1, end).split(",")) {
            if (!limit.matches("\\d{1,6}")) {
                return size;
            }
            times = Math.max(times, Long.parseLong(limit));
        }
        at = end + 1;
        return Math.min(MOST + 1, size * times);
    }
}
