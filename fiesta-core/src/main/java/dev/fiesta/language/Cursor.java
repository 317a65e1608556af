package dev.fiesta.language;

import dev.fiesta.language.Token.Kind;
import dev.fiesta.problem.Problem;
import dev.fiesta.problem.Suggestion;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Walks over the words of a text and tells what was expected when something else stands there. */
final class Cursor {
    /** Thrown at the first word that cannot be right; whoever can go on behind it catches it. */
    static final class Failure extends RuntimeException {
        private static final long serialVersionUID = 1L;

        final transient Problem problem;

        Failure(Problem problem) {
            super(problem.message(), null, false, false);
            this.problem = problem;
        }
    }

    private static final int DEEPEST = 200;

    /** What starts at a word and stands on a line of its own. */
    enum Start {
        PART,
        CLAUSE,
        PIECE,
        OPTION
    }

    private final BriefText source;
    private final List<Token> tokens;
    private final Map<Token, Start> starts = new IdentityHashMap<>();
    /** For expressions in brackets where these stand. */
    private final Map<Expr, Span> brackets = new IdentityHashMap<>();

    private final @Nullable Expected expected;
    /** Stands behind the end, where nothing is looked for. */
    private final Token beyond;

    private int at;
    private int depth;

    Cursor(BriefText source, List<Problem> problems) {
        this(source, 0, problems, null);
    }

    /** Words from a place on. */
    Cursor(BriefText source, int from, List<Problem> problems) {
        this(source, from, problems, null);
    }

    /** @param expected gathers what is looked for at the end of the text, or null */
    Cursor(BriefText source, List<Problem> problems, @Nullable Expected expected) {
        this(source, 0, problems, expected);
    }

    private Cursor(BriefText source, int from, List<Problem> problems, @Nullable Expected expected) {
        this.source = source;
        this.tokens = Lexer.tokens(source, from, problems);
        this.expected = expected;
        this.beyond = tokens.get(tokens.size() - 1);
        if (expected != null) {
            tokens.set(
                    tokens.size() - 1,
                    new Token(beyond.kind(), beyond.text(), beyond.at(), beyond.startsLine(), expected));
        }
    }

    /** Notes that something starts at the word that stands here. */
    void starts(Start what) {
        starts.putIfAbsent(peek(), what);
        if (expected != null && !atEnd()) {
            expected.starts(peek());
        }
    }

    /** Notes what else may stand here, where it is not looked for by its word. */
    void mayStand(java.util.Collection<String> wanted) {
        if (expected != null && atEnd()) {
            wanted.forEach(expected::word);
        }
    }

    /** Notes that a name or text may stand here. */
    void mayStand(Expected.Sought what) {
        if (expected != null && atEnd()) {
            expected.name(what);
        }
    }

    /** Notes what the value that follows is compared with. */
    void compares(Expr with) {
        if (expected != null && atEnd()) {
            expected.compared(with);
        }
    }

    /** Notes that a value may stand here. */
    void mayStandValue() {
        if (expected != null && atEnd()) {
            expected.value();
        }
    }

    /** What starts at a word, or null. */
    @Nullable
    Start startAt(Token token) {
        return starts.get(token);
    }

    List<Token> tokens() {
        return tokens;
    }

    Token peek() {
        return tokens.get(at);
    }

    Token ahead(int count) {
        int last = tokens.size() - 1;
        return at + count <= last ? tokens.get(at + count) : beyond;
    }

    /** Whether a name follows the word that stands here, or may: where the text ends behind it, what could follow is looked for. */
    boolean nameFollows() {
        Token after = ahead(1);
        return after.isName() || after.expected() != null;
    }

    Token next() {
        Token token = tokens.get(at);
        if (!token.is(Kind.END)) {
            at++;
        }
        return token;
    }

    /** Notes where the brackets around an expression stand. */
    Expr bracketed(Expr inner, Span around) {
        brackets.put(inner, around);
        return inner;
    }

    /** Where an expression stands, with the brackets around it. */
    Span written(Expr part) {
        return brackets.getOrDefault(part, part.at());
    }

    /** Where the word before this one ends. */
    Span last() {
        return before().at();
    }

    /** The word before the one that stands here; at the beginning that one. */
    Token before() {
        return tokens.get(Math.max(0, at - 1));
    }

    /** A word before the one that stands here. */
    Token back(int count) {
        return tokens.get(Math.max(0, at - count));
    }

    boolean atEnd() {
        return peek().is(Kind.END);
    }

    boolean takeSign(String sign) {
        return take(peek().sign(sign));
    }

    boolean takeWord(String word) {
        return take(peek().word(word));
    }

    /** Takes two words that belong together. */
    boolean takeWords(String first, String second) {
        if (atEnd()) {
            mayStand(List.of(first + " " + second));
            return false;
        }
        if (peek().word(first) && ahead(1).word(second)) {
            at += 2;
            return true;
        }
        return false;
    }

    private boolean take(boolean fits) {
        if (fits) {
            at++;
        }
        return fits;
    }

    Span expectSign(String sign, String purpose) {
        Span place = peek().at();
        if (!takeSign(sign)) {
            throw expected("'" + sign + "' " + purpose);
        }
        return place;
    }

    void expectWord(String word, String purpose) {
        if (!takeWord(word)) {
            throw expected("'" + word + "' " + purpose);
        }
    }

    Ref expectName(String what) {
        return expectName(what, Expected.Sought.NEW);
    }

    Ref expectName(String what, Expected.Sought sought) {
        Token token = peek();
        mayStand(sought);
        if (!token.isName()) {
            throw expected(what);
        }
        next();
        Ref name = new Ref(token.text(), token.at());
        if (expected != null && sought == Expected.Sought.TABLE) {
            expected.named(name);
        }
        return name;
    }

    String expectText(String what) {
        return expectText(what, Expected.Sought.NEW);
    }

    String expectText(String what, Expected.Sought sought) {
        mayStand(sought);
        if (!peek().is(Kind.TEXT)) {
            throw expected(what + " in single quotes");
        }
        return next().text();
    }

    int expectInteger(String what) {
        if (!peek().is(Kind.INTEGER)) {
            throw expected(what);
        }
        Token token = peek();
        try {
            int number = Integer.parseInt(token.text());
            next();
            return number;
        } catch (NumberFormatException tooLarge) {
            throw failure(token.at(), token.text() + " is too large here.", null);
        }
    }

    @Nullable
    String findText() {
        return peek().is(Kind.TEXT) ? next().text() : null;
    }

    Failure expected(String what) {
        return failure(peek().at(), expectation(what) + ", not " + peek().shown() + ".", null);
    }

    /** {@code A value is expected here}. */
    static String expectation(String what) {
        return what.substring(0, 1).toUpperCase(Locale.ROOT) + what.substring(1) + " is expected here";
    }

    /** The text at a place, on one line. */
    String text(Span at) {
        return source.at(at).replaceAll("\\s+", " ");
    }

    /** The text from a place to the end of its line, without a comment. */
    String restOfLine(Span from) {
        return source.text().substring(from.start()).split("[\\r\\n#]", 2)[0].strip();
    }

    Failure failure(Span place, String message, @Nullable CharSequence suggestion) {
        if (expected != null && atEnd()) {
            expected.close();
        }
        return new Failure(source.problem(place, message, suggestion));
    }

    /** Enters a bracket or operand; nesting is limited, so that no text can exhaust the stack. */
    void enter() {
        if (++depth > DEEPEST) {
            throw failure(peek().at(), "This is nested more than " + DEEPEST + " deep.", "Split it with 'add'.");
        }
    }

    /** How deep what is being read is nested. */
    int depth() {
        return depth;
    }

    void leave() {
        depth--;
    }

    /** Goes to the next word that starts a clause or part and the line; at least one word further if {@code beyond}. */
    void skipTo(java.util.function.Predicate<Token> wanted, boolean beyond) {
        depth = 0;
        if (beyond) {
            next();
        }
        while (!atEnd() && !wanted.test(peek())) {
            next();
        }
    }

    /** One or more of something, with commas between. */
    <T> List<T> list(java.util.function.Supplier<T> item) {
        List<T> items = items(item);
        if (peek().isName() && ahead(1).sign("=") && !Keywords.isStep(peek())) {
            Span here = peek().at();
            throw failure(
                    here,
                    "A comma is missing before " + peek().shown() + ".",
                    Suggestion.between("Write one.", last().end(), last().end(), ","));
        }
        return items;
    }

    /** As {@link #list}, whatever follows. */
    <T> List<T> items(java.util.function.Supplier<T> item) {
        List<T> items = new ArrayList<>();
        do {
            Token token = peek();
            boolean ends = atEnd() ? expected == null : Keywords.startsStep(this);
            if (!items.isEmpty() && ends) {
                throw failure(
                        last(),
                        "There is a comma before " + token.shown() + ", but nothing more follows it.",
                        "Take the comma away, or write what it announces.");
            }
            items.add(item.get());
        } while (takeSign(","));
        return items;
    }
}
