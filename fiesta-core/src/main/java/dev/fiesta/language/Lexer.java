package dev.fiesta.language;

import dev.fiesta.language.Token.Kind;
import dev.fiesta.problem.Problem;
import dev.fiesta.problem.Suggestion;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Cuts a text into words. What cannot be a word is a problem, and reading goes on behind it. */
final class Lexer {
    /** Signs from elsewhere; reading goes on with ours, so that no second problem follows. */
    private static final String[][] FOREIGN_SIGNS = {
        {"==", "="}, {"!=", "<>"}, {"&&", "and"}, {"=>", ">="}, {"=<", "<="}
    };
    /** What is written otherwise in other places, and how here. */
    private static final Map<String, String> MEANT = Map.of(
            "&", "Texts are joined with '||', conditions with 'and'.",
            "[", "Values and what is calculated first stand in round brackets.",
            "]", "Values and what is calculated first stand in round brackets.",
            ";", "Values in brackets are parted by commas; clauses need nothing between them.",
            ":", "A figure or field is given with '=': total = sum(amount). A parameter is written ':name'.");

    private static final Pattern DATE = Pattern.compile("\\d{4}-\\d{2}-\\d{2}(?![\\d-])");
    private static final Pattern DAY_FIRST = Pattern.compile("\\d{1,2}\\.\\d{1,2}\\.\\d{2,4}");
    private static final Pattern DATETIME =
            Pattern.compile("\\d{4}-\\d{2}-\\d{2}T\\d{2}:\\d{2}(:\\d{2}(\\.\\d{1,6})?)?");
    private static final Pattern NUMBER = Pattern.compile("\\d+(\\.\\d+)?[eE][+-]?\\d+");
    private static final Pattern DECIMAL = Pattern.compile("\\d+\\.\\d+");
    private static final Pattern INTEGER = Pattern.compile("\\d+");
    private static final List<String> SIGNS =
            List.of("<>", "<=", ">=", "||", "=", "<", ">", "(", ")", ",", "+", "-", "*", "/", "%", ".", "{", "}");

    private final BriefText source;
    private final String text;
    private final List<Problem> problems;
    private final List<Token> tokens = new ArrayList<>();
    private int at;
    private boolean lineStart = true;

    private Lexer(BriefText source, List<Problem> problems) {
        this.source = source;
        this.text = source.text();
        this.problems = problems;
    }

    /** The words of a text, the last of kind {@link Kind#END}. */
    static List<Token> tokens(BriefText source, List<Problem> problems) {
        return tokens(source, 0, problems);
    }

    /** The words from a place on. */
    static List<Token> tokens(BriefText source, int from, List<Problem> problems) {
        Lexer lexer = new Lexer(source, problems);
        lexer.at = from;
        lexer.run();
        return lexer.tokens;
    }

    private void run() {
        if (at == 0 && text.startsWith("\uFEFF")) {
            at = 1;
        }
        while (at < text.length()) {
            int c = text.codePointAt(at);
            if (c == '\n') {
                lineStart = true;
                at++;
            } else if (Character.isWhitespace(c)) {
                at += Character.charCount(c);
            } else if (c == '#') {
                int end = text.indexOf('\n', at);
                at = end < 0 ? text.length() : end;
            } else {
                token(c);
            }
        }
        add(Kind.END, "", at, at);
    }

    private void token(int c) {
        if (Character.isLetter(c) || c == '_') {
            name(Kind.NAME, at);
        } else if (c >= '0' && c <= '9') {
            number();
        } else if (c == '\'') {
            quoted('\'', Kind.TEXT, "text");
        } else if (c == '"') {
            quoted('"', Kind.QUOTED, "name");
        } else if (c == ':' && at + 1 < text.length() && Character.isLetter(text.codePointAt(at + 1))) {
            name(Kind.PARAMETER, at + 1);
        } else {
            sign(c);
        }
    }

    private void name(Kind kind, int start) {
        int end = start;
        while (end < text.length()) {
            int c = text.codePointAt(end);
            if (!Character.isLetterOrDigit(c) && c != '_' && Character.getType(c) != Character.NON_SPACING_MARK) {
                break;
            }
            end += Character.charCount(c);
        }
        add(kind, text.substring(start, end), at, end);
    }

    private void number() {
        Matcher date = DAY_FIRST.matcher(text).region(at, text.length());
        if (date.lookingAt()) {
            problems.add(source.problem(
                    new Span(at, date.end()), "'" + date.group() + "' is no number.", dayFirst(date.group())));
            add(Kind.DATE, "2026-05-01", at, date.end());
            return;
        }
        Kind[] kinds = {Kind.DATETIME, Kind.DATE, Kind.NUMBER, Kind.DECIMAL, Kind.INTEGER};
        Pattern[] patterns = {DATETIME, DATE, NUMBER, DECIMAL, INTEGER};
        for (int i = 0; i < kinds.length; i++) {
            Matcher matcher = patterns[i].matcher(text).region(at, text.length());
            if (matcher.lookingAt()) {
                add(kinds[i], matcher.group(), at, matcher.end());
                return;
            }
        }
    }

    /** A day written with the year first, where it can be told which it is. */
    private static Suggestion dayFirst(String written) {
        String[] parts = written.split("\\.");
        String way = "A date is written with the year first: 2026-05-01.";
        return parts[2].length() < 4
                ? new Suggestion(way, List.of())
                : Suggestion.instead(
                        way,
                        List.of("%s-%2s-%2s"
                                .formatted(parts[2], parts[1], parts[0])
                                .replace(' ', '0')));
    }

    private void quoted(char quote, Kind kind, String what) {
        StringBuilder content = new StringBuilder();
        int i = at + 1;
        while (i < text.length() && text.charAt(i) != '\n') {
            if (text.charAt(i) != quote) {
                content.append(text.charAt(i++));
            } else if (i + 1 < text.length() && text.charAt(i + 1) == quote) {
                content.append(quote);
                i += 2;
            } else {
                add(kind, content.toString(), at, i + 1);
                return;
            }
        }
        Span place = new Span(at, i);
        problems.add(source.problem(
                place,
                "This " + what + " is not closed before the line ends.",
                "Put " + (quote == '"' ? "\"" : "a single quote (')")
                        + " at its end; inside it, write the quote twice."));
        add(kind, content.toString().strip(), at, i);
    }

    private void sign(int c) {
        for (String[] foreign : FOREIGN_SIGNS) {
            if (text.startsWith(foreign[0], at)) {
                int end = at + foreign[0].length();
                problems.add(source.problem(
                        new Span(at, end),
                        "'" + foreign[0] + "' is written '" + foreign[1] + "' here.",
                        Suggestion.instead("", List.of(foreign[1]))));
                add(Character.isLetter(foreign[1].charAt(0)) ? Kind.NAME : Kind.SIGN, foreign[1], at, end);
                return;
            }
        }
        for (String sign : SIGNS) {
            if (text.startsWith(sign, at)) {
                add(Kind.SIGN, sign, at, at + sign.length());
                return;
            }
        }
        int end = at + Character.charCount(c);
        String shown = text.substring(at, end);
        problems.add(source.problem(
                new Span(at, end),
                "'" + shown + "' has no meaning here.",
                MEANT.getOrDefault(
                        shown, "Names with unusual characters stand in double quotes, texts in single quotes.")));
        at = end;
    }

    private void add(Kind kind, String content, int start, int end) {
        tokens.add(new Token(kind, content, new Span(start, end), lineStart, null));
        lineStart = false;
        at = end;
    }
}
