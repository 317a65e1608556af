package dev.fiesta.language;

import dev.fiesta.language.Token.Kind;
import java.util.List;

/** Tests behind a value: {@code between}, {@code in}, and those that look into texts. */
final class TestParser {
    private final Cursor words;
    private final ExprParser exprs;

    TestParser(Cursor words, ExprParser exprs) {
        this.words = words;
        this.exprs = exprs;
    }

    /** @param needed whether a test must stand here, behind {@code not} */
    Expr test(Expr left, boolean needed) {
        if (words.takeWord("between")) {
            Expr low = exprs.joined();
            if (!words.peek().word("and")) {
                throw words.failure(
                        words.peek().at(),
                        "'and' between the limits is expected here, not "
                                + words.peek().shown() + ".",
                        "It is written: between LOW and HIGH");
            }
            words.next();
            Expr high = exprs.joined();
            return new Expr.Between(left, low, high, words.written(left).to(words.written(high)));
        }
        if (words.takeWord("in")) {
            return in(left);
        }
        if (words.peek().spelt("like") && words.ahead(1).is(Kind.TEXT)) {
            throw words.failure(
                    words.peek().at(),
                    "'like' has no meaning here.",
                    "Write 'contains', 'starts with' or 'ends with' and a text, or 'matches' and a pattern.");
        }
        for (Op op : Op.values()) {
            String[] parts = op.sign().split(" ");
            if (op.looksInto()
                    && (parts.length == 1 ? words.takeWord(parts[0]) : words.takeWords(parts[0], parts[1]))) {
                return exprs.binary(op, left, exprs.joined());
            }
        }
        if (needed) {
            throw words.failure(
                    words.peek().at(),
                    "'between', 'in', 'contains', 'starts with', 'ends with' or 'matches' is expected after 'not' here, not "
                            + words.peek().shown() + ".",
                    "What is another value: " + words.text(words.written(left)) + " != …");
        }
        return left;
    }

    private Expr in(Expr left) {
        words.mayStand(Expected.Sought.PARAMETER);
        if (words.peek().is(Kind.PARAMETER)) {
            Token token = words.next();
            Expr list = new Expr.Parameter(token.text(), token.at());
            return new Expr.In(left, List.of(list), words.written(left).to(token.at()));
        }
        Token open = words.peek();
        if (!words.takeSign("(")) {
            throw words.failure(
                    open.at(),
                    "After 'in' the values stand in brackets, or a list such as :sites follows.",
                    "It is written: " + words.text(words.written(left)) + " in ('…', '…')");
        }
        List<Expr> choices = words.list(() -> {
            words.compares(left);
            return exprs.joined();
        });
        Span end = exprs.close(open.at(), "This bracket", "after the values");
        return new Expr.In(left, choices, words.written(left).to(end));
    }
}
