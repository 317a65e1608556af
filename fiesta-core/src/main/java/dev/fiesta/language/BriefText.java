package dev.fiesta.language;

import dev.fiesta.problem.Problem;
import org.jspecify.annotations.Nullable;

/**
 * A text to be parsed, with the name under which problems show it.
 *
 * @param name for instance {@code takings.brief}
 * @param text the whole text
 */
public record BriefText(String name, String text) {

    /** A problem at a place of this text. */
    public Problem problem(Span at, String message, @Nullable String suggestion) {
        int start = Math.min(at.start(), text.length());
        int lineStart = text.lastIndexOf('\n', start - 1) + 1;
        int lineEnd = text.indexOf('\n', start);
        lineEnd = lineEnd < 0 ? text.length() : lineEnd;
        int end = Math.max(Math.min(at.end(), lineEnd), start);
        return new Problem(
                name,
                line(at),
                text.codePointCount(lineStart, start) + 1,
                text.substring(lineStart, lineEnd).stripTrailing(),
                Math.max(1, text.codePointCount(start, end)),
                message,
                suggestion);
    }

    /** The line of a place, from 1. */
    public int line(Span at) {
        int line = 1;
        int end = Math.min(at.start(), text.length());
        for (int i = 0; i < end; i++) {
            if (text.charAt(i) == '\n') {
                line++;
            }
        }
        return line;
    }

    /** What stands at a place. */
    public String at(Span at) {
        return text.substring(at.start(), Math.min(at.end(), text.length()));
    }
}
