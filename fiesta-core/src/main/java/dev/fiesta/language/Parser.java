package dev.fiesta.language;

import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Problem;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Reads the texts of the language.
 *
 * <pre>{@code
 * BriefTree brief = Parser.brief(new BriefText("takings.brief", text));
 * }</pre>
 *
 * <p>Every method throws {@link BriefException} with all problems found, in the order of the text.
 */
public final class Parser {
    private Parser() {}

    /** A whole brief. */
    public static BriefTree brief(BriefText source) {
        return parse(source, (words, problems) -> new PartParser(source, words, problems).brief());
    }

    /**
     * A brief as far as it can be read: what cannot be is left out, up to the next clause or part.
     *
     * @param tree what was read
     * @param problems what is wrong with the rest, in the order of the text
     * @param words all words, comments apart; the last is the end
     */
    public record Loose(BriefTree tree, List<Problem> problems, List<Token> words) {}

    /** A brief that may be unfinished or wrong; nothing is thrown. */
    public static Loose loosely(BriefText source) {
        List<Problem> problems = new ArrayList<>();
        Cursor words = new Cursor(source, problems);
        List<Problem> signs = List.copyOf(problems);
        BriefTree tree = new PartParser(source, words, problems).brief();
        forgetFollowing(problems, signs);
        return new Loose(tree, inOrder(problems), List.copyOf(words.tokens()));
    }

    /**
     * What may stand at a place where somebody types.
     *
     * @param before the brief before it, as far as it can be read
     * @param expected what may stand there
     * @param word where the word that is being typed stands; empty where none is
     * @param typed the word, as far as it is typed; null where none is
     */
    public record Place(
            BriefTree before,
            Expected expected,
            Span word,
            @Nullable Token typed) {}

    /**
     * Looks at a place of a brief; what stands behind it is not looked at.
     *
     * @param offset of the place, in UTF-16 units
     */
    public static Place at(BriefText source, int offset) {
        String before =
                source.text().substring(0, Math.min(offset, source.text().length()));
        List<Token> tokens = Lexer.tokens(new BriefText(source.name(), before), new ArrayList<>());
        Token last = tokens.size() < 2 ? null : tokens.get(tokens.size() - 2);
        boolean typing = last != null
                && last.at().end() == before.length()
                && !last.is(Token.Kind.SIGN)
                && (!last.is(Token.Kind.TEXT) || !isClosed(before, last));
        int cut = typing && last != null ? last.at().start() : before.length();
        BriefText text = new BriefText(source.name(), before.substring(0, cut));
        Expected expected = new Expected();
        List<Problem> ignored = new ArrayList<>();
        Cursor words = new Cursor(text, ignored, expected);
        BriefTree tree = new PartParser(text, words, ignored).brief();
        return new Place(tree, expected, new Span(cut, before.length()), typing ? last : null);
    }

    /** Whether a literal has its last quote. */
    private static boolean isClosed(String text, Token literal) {
        String whole = text.substring(literal.at().start(), literal.at().end());
        return whole.chars().filter(c -> c == '\'').count() % 2 == 0;
    }

    /** The clauses of one table, from the first keyword to the end of the text. */
    public static List<Clause> clauses(BriefText source) {
        return clauses(source, 0);
    }

    /** The clauses from a place of a text on. */
    static List<Clause> clauses(BriefText source, int from) {
        return parse(source, from, (words, problems) -> new PartParser(source, words, problems).onlyClauses());
    }

    /** One expression and nothing else. */
    public static Expr expression(BriefText source) {
        return parse(source, (words, problems) -> whole(words, new ExprParser(words)::condition));
    }

    /**
     * A brief laid out in the standard way: its words and comments as they are, its lines and blanks as they should be.
     * Laying it out again changes nothing.
     */
    public static String layOut(BriefText source) {
        return parse(source, (words, problems) -> {
            new PartParser(source, words, problems).brief();
            return problems.isEmpty() ? new Layout(source, words).text() : "";
        });
    }

    /** The first comment of a text, or null where there is none. */
    public static @Nullable Span comment(BriefText source) {
        int at = 0;
        for (Token token : Lexer.tokens(source, new ArrayList<>())) {
            int comment = source.text().indexOf('#', at);
            if (comment >= 0 && comment < token.at().start()) {
                return new Span(comment, source.text().length());
            }
            at = token.at().end();
        }
        return null;
    }

    /**
     * A text in which parameters have other names.
     *
     * @param names all that the text may name, each with its other name
     * @throws BriefException when it names another
     */
    public static String withParameters(BriefText source, Map<String, String> names) {
        StringBuilder text = new StringBuilder();
        int at = 0;
        for (Token token : Lexer.tokens(source, new ArrayList<>())) {
            if (token.is(Token.Kind.PARAMETER)) {
                String name = names.get(token.text());
                if (name == null) {
                    throw new BriefException(List.of(source.problem(
                            token.at(),
                            "There is no parameter ':" + token.text() + "'.",
                            Names.didYouMean(token.text(), names.keySet(), "The parameters are"))));
                }
                text.append(source.text(), at, token.at().start()).append(':').append(name);
                at = token.at().end();
            }
        }
        return text.append(source.text().substring(at)).toString();
    }

    private static <T> T whole(Cursor words, java.util.function.Supplier<T> part) {
        T result = part.get();
        if (!words.atEnd()) {
            throw words.failure(words.peek().at(), words.peek().shown() + " is too much here.", null);
        }
        return result;
    }

    private interface Production<T> {
        T read(Cursor words, List<Problem> problems);
    }

    private static <T> T parse(BriefText source, Production<T> production) {
        return parse(source, 0, production);
    }

    private static <T> T parse(BriefText source, int from, Production<T> production) {
        List<Problem> problems = new ArrayList<>();
        Cursor words = new Cursor(source, from, problems);
        List<Problem> signs = List.copyOf(problems);
        T result = null;
        try {
            result = production.read(words, problems);
        } catch (Cursor.Failure failure) {
            problems.add(failure.problem);
        }
        forgetFollowing(problems, signs);
        if (result == null || !problems.isEmpty()) {
            throw new BriefException(inOrder(problems));
        }
        return result;
    }

    /** What is wrong with a sign makes what stands around it look wrong too. */
    private static void forgetFollowing(List<Problem> problems, List<Problem> signs) {
        problems.removeIf(p -> !signs.contains(p) && signs.stream().anyMatch(s -> s.line() == p.line()));
    }

    private static List<Problem> inOrder(List<Problem> problems) {
        Function<Problem, Integer> line = Problem::line;
        return problems.stream()
                .sorted(Comparator.comparing(line).thenComparing(Problem::column))
                .toList();
    }
}
