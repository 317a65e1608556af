package dev.fiesta.problem;

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
 * @param wayOut what to do about it, or null
 */
public record Problem(
        String source,
        int line,
        int column,
        String lineText,
        int length,
        String message,
        @Nullable String wayOut) {

    /** The problem as it is shown: place and message, the line with a mark below, the way out. */
    public String text() {
        String number = String.format(java.util.Locale.ROOT, "%5d | ", line);
        String mark = " ".repeat(5) + " | " + indent() + "^".repeat(Math.max(1, length));
        String head = source + ":" + line + ":" + column + ": " + message + "\n" + number + lineText + "\n" + mark;
        return wayOut == null ? head : head + "\n  " + wayOut;
    }

    private String indent() {
        StringBuilder indent = new StringBuilder();
        lineText.codePoints().limit(column - 1L).forEach(c -> indent.append(c == '\t' ? '\t' : ' '));
        return indent.toString();
    }
}
