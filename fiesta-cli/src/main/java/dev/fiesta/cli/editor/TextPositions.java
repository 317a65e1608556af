package dev.fiesta.cli.editor;

import dev.fiesta.language.Span;
import dev.fiesta.problem.Problem;
import java.util.Arrays;
import java.util.stream.IntStream;
import org.eclipse.lsp4j.Position;
import org.eclipse.lsp4j.Range;

/** Places of a text, as the protocol counts them: lines from 0, UTF-16 units in them from 0. */
final class TextPositions {
    private final String text;
    private final int[] lines;

    TextPositions(String text) {
        this.text = text;
        this.lines = IntStream.concat(
                        IntStream.of(0),
                        IntStream.range(0, text.length())
                                .filter(i -> text.charAt(i) == '\n')
                                .map(i -> i + 1))
                .toArray();
    }

    Position of(int offset) {
        int at = Math.max(0, Math.min(offset, text.length()));
        int found = Arrays.binarySearch(lines, at);
        int line = found >= 0 ? found : -found - 2;
        return new Position(line, at - lines[line]);
    }

    Range of(Span span) {
        return of(span.start(), span.end());
    }

    Range of(int start, int end) {
        return new Range(of(start), of(end));
    }

    /** The place that a problem tells by line and characters. */
    Range of(Problem problem) {
        int line = Math.min(problem.line() - 1, lines.length - 1);
        int end = line + 1 < lines.length ? lines[line + 1] : text.length();
        int start = ahead(lines[line], problem.column() - 1, end);
        return of(start, ahead(start, problem.length(), end));
    }

    private int ahead(int from, int characters, int most) {
        int at = from;
        for (int i = 0; i < characters && at < most; i++) {
            at += Character.charCount(text.codePointAt(at));
        }
        return Math.min(at, most);
    }

    /** The offset of a place; one behind the end of its line, or behind the last line, is that end. */
    int offset(Position position) {
        if (position.getLine() < 0) {
            return 0;
        }
        if (position.getLine() >= lines.length) {
            return text.length();
        }
        int start = lines[position.getLine()];
        int end = position.getLine() + 1 < lines.length ? lines[position.getLine() + 1] - 1 : text.length();
        return Math.max(start, Math.min(start + position.getCharacter(), end));
    }
}
