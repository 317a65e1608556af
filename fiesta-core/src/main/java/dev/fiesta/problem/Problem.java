package dev.fiesta.problem;

import java.io.Serializable;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * One thing that is wrong in a text: where it stands, what is wrong, and the way out.
 *
 * @param source name of the text, for instance {@code takings.brief}
 * @param line line of the place, from 1
 * @param column column of the place in characters, from 1
 * @param lineText the whole line
 * @param length how many characters of the line are meant, at least 1
 * @param message what is wrong, one sentence
 * @param suggestion what to do about it, or null
 * @param fixes changes of the text that would do it, each by itself, the best first
 */
public record Problem(
        String source,
        int line,
        int column,
        String lineText,
        int length,
        String message,
        @Nullable String suggestion,
        List<Fix> fixes)
        implements Serializable {

    /**
     * A change of the text that is a way out.
     *
     * @param start of what is replaced, in UTF-16 units from the beginning of the text
     * @param end of it
     * @param words what stands there then
     */
    public record Fix(int start, int end, String words) implements Serializable {}

    /** Longer lines are shown around their place only. */
    private static final int WIDEST = 200;

    private static final int BEFORE = 100;

    /** {@return the problem as it is shown: place and message, the line with a mark below, the way out} */
    public String text() {
        String number = String.format(Locale.ROOT, "%5d | ", line);
        int from = lineText.codePointCount(0, lineText.length()) > WIDEST ? Math.max(0, column - 1 - BEFORE) : 0;
        int[] shown = lineText.codePoints().skip(from).limit(WIDEST).toArray();
        boolean cut = from + shown.length < lineText.codePointCount(0, lineText.length());
        String text = (from > 0 ? "…" : "") + new String(shown, 0, shown.length) + (cut ? "…" : "");
        int marked = Math.max(1, Math.min(length, shown.length - (column - 1 - from)));
        String mark = " ".repeat(5) + " | " + (from > 0 ? " " : "") + indent(from) + "^".repeat(marked);
        String head = source + ":" + line + ":" + column + ": " + message + "\n" + number + text + "\n" + mark;
        return suggestion == null ? head : head + "\n  " + suggestion;
    }

    private String indent(int from) {
        StringBuilder indent = new StringBuilder();
        lineText.codePoints().skip(from).limit(column - 1L - from).forEach(c -> indent.append(c == '\t' ? '\t' : ' '));
        return indent.toString();
    }
}
