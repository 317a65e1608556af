package dev.fiesta.language;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Problem;
import dev.fiesta.problem.RequestException;
import dev.fiesta.problem.Suggestion;
import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A text to be parsed, with the name under which problems show it.
 *
 * @param name for instance {@code takings.brief}
 * @param text the whole text
 */
public record BriefText(String name, String text) {
    /**
     * A brief in a file, named by the file.
     *
     * @throws RequestException when there is no such file
     * @throws MachineException when it cannot be read
     */
    public static BriefText read(Path file) {
        try {
            String text = Files.readString(file);
            if (text.startsWith("{")) {
                throw new RequestException("'" + file + "' is JSON and no brief; the record of a run names its brief.");
            }
            return new BriefText(file.getFileName().toString(), text);
        } catch (NoSuchFileException e) {
            throw new RequestException("There is no brief '" + file + "'.");
        } catch (MalformedInputException e) {
            throw new MachineException("'" + file + "' is not UTF-8", null);
        } catch (IOException e) {
            throw new MachineException("'" + file + "' cannot be read", e);
        }
    }

    /** A problem at a place of this text. */
    public Problem problem(Span at, String message, @Nullable CharSequence suggestion) {
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
                suggestion == null || suggestion.isEmpty() ? null : suggestion.toString(),
                suggestion instanceof Suggestion known ? fixes(known, start, end) : List.of());
    }

    private List<Problem.Fix> fixes(Suggestion suggestion, int start, int end) {
        return suggestion.changes().stream()
                .map(c -> {
                    String words = c.isName() ? like(start, c.words()) : c.words();
                    return c.start() < 0
                            ? new Problem.Fix(start, end, words)
                            : new Problem.Fix(c.start(), c.end(), words);
                })
                .toList();
    }

    /** Other words, written as what stands at a place: a text as a text, a parameter as a parameter, a name in quotes where it needs them. */
    private String like(int start, String words) {
        char first = start < text.length() ? text.charAt(start) : ' ';
        return switch (first) {
            case '\'' -> "'" + words.replace("'", "''") + "'";
            case ':' -> ":" + words;
            default -> words.matches("[\\p{L}_][\\p{L}\\p{Nd}_]*") ? words : Printer.name(words);
        };
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
