package dev.fiesta.language;

import dev.fiesta.language.Expr.Binary;
import dev.fiesta.language.Expr.Branch;
import dev.fiesta.language.Expr.Literal;
import dev.fiesta.language.Expr.SortKey;
import dev.fiesta.language.Token.Kind;
import dev.fiesta.problem.Suggestion;
import dev.fiesta.value.Type;
import dev.fiesta.value.Unit;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/**
 * Expressions, loosest to tightest.
 *
 * <pre>
 * condition   = either
 * either      = both {"or" both}
 * both        = negation {"and" negation}
 * negation    = "not" negation | comparison
 * comparison  = joined [("=" | "&lt;&gt;" | …) joined | ["not"] "between" joined "and" joined | ["not"] "in" choices
 *             | "is" ["not"] "missing" | ["not"] ("contains" | "starts" "with" | "ends" "with" | "matches") joined]
 * joined      = sum {"||" sum}
 * sum         = product {("+" | "-") product}
 * product     = signed {("*" | "/" | "%") signed}
 * signed      = "-" signed | primary
 * primary     = literal | period | ":" name | name | call | "(" condition ")" | conditional
 * conditional = "if" condition "then" condition {"else" "if" condition "then" condition} ["else" condition]
 * call        = name "(" …, by {@link CallParser}
 * </pre>
 */
final class ExprParser {
    private static final int MOST_OPERATORS = 1000;
    /** Behind a whole number. */
    private static final List<String> UNITS = Stream.of(Unit.values())
            .flatMap(u -> Stream.of(u.word(), u.word() + "s"))
            .toList();

    private final Cursor words;
    private int operators;
    private boolean ofCheck;

    ExprParser(Cursor words) {
        this.words = words;
    }

    Expr condition() {
        start();
        words.enter();
        Expr result = either();
        words.leave();
        return result;
    }

    /** Whatever stands by itself is measured by itself. */
    private void start() {
        if (words.depth() == 0) {
            operators = 0;
        }
    }

    private Expr either() {
        Expr left = both();
        while (!endsCheck() && words.takeWord("or")) {
            left = binary(Op.OR, left, both());
        }
        return left;
    }

    /** The condition of a check; {@code or warn} behind it belongs to the check, unless it stands in brackets. */
    Expr checked() {
        ofCheck = true;
        try {
            return condition();
        } finally {
            ofCheck = false;
        }
    }

    private boolean endsCheck() {
        return ofCheck
                && words.depth() == 1
                && words.peek().word("or")
                && words.ahead(1).word("warn");
    }

    private Expr both() {
        Expr left = negation();
        while (words.takeWord("and")) {
            left = binary(Op.AND, left, negation());
        }
        return left;
    }

    private Expr negation() {
        Span start = words.peek().at();
        if (!words.takeWord("not")) {
            return comparison();
        }
        words.enter();
        Expr operand = negation();
        words.leave();
        return new Expr.Not(operand, start.to(words.last()));
    }

    private Expr comparison() {
        Expr left = joined();
        for (Op op : Op.values()) {
            if (op.compares() && words.takeSign(op.sign())) {
                words.compares(left);
                Expr right = joined();
                Expr result = binary(op, left, right);
                refuseChain(right);
                return result;
            }
        }
        if (words.takeWord("is")) {
            Span is = words.last();
            boolean not = words.takeWord("not");
            if (words.peek().spelt("null")) {
                throw words.failure(
                        words.peek().at(),
                        "What is not there is called 'missing'.",
                        Suggestion.instead(
                                "It is written: " + words.text(words.written(left))
                                        + (not ? " is not missing" : " is missing"),
                                List.of("missing")));
            }
            boolean ends = words.peek().is(Token.Kind.END) || words.peek().is(Token.Kind.SIGN);
            if (!ends && !words.peek().spelt("missing")) {
                String sign = not ? "<>" : "=";
                throw words.failure(
                        is.to(words.last()),
                        "'is' asks only whether a value is missing.",
                        Suggestion.instead(
                                "Values are compared by signs: " + words.text(words.written(left)) + " " + sign + " "
                                        + words.text(words.peek().at()),
                                List.of(sign)));
            }
            words.expectWord("missing", "after 'is'");
            return negated(not, new Expr.IsMissing(left, words.written(left).to(words.last())));
        }
        boolean not = words.takeWord("not");
        return negated(not, new TestParser(words, this).test(left, not));
    }

    private static boolean joins(Expr expr) {
        return expr instanceof Expr.Binary binary && binary.op() == Op.JOIN;
    }

    private void refuseChain(Expr before) {
        for (Op op : Op.values()) {
            if (op.compares() && words.peek().sign(op.sign())) {
                if (joins(before)) {
                    throw words.failure(
                            words.peek().at(),
                            "'||' joins texts, it does not stand between conditions.",
                            "Conditions are joined with 'and' and 'or'.");
                }
                throw words.failure(
                        words.peek().at(),
                        "Comparisons cannot be chained.",
                        "Join them with 'and', or write 'between'.");
            }
        }
    }

    private static Expr negated(boolean not, Expr test) {
        return not ? new Expr.Not(test, test.at()) : test;
    }

    /** An expression at the level of {@code ||}: what a key may be without brackets. */
    Expr joined() {
        start();
        Expr left = sum();
        while (words.takeSign("||")) {
            left = binary(Op.JOIN, left, sum());
        }
        return left;
    }

    /** An expression at the level of {@code +}: what a count or a limit may be without brackets. */
    Expr sum() {
        start();
        Expr left = product();
        while (true) {
            if (words.takeSign("+")) {
                left = binary(Op.PLUS, left, product());
            } else if (words.takeSign("-")) {
                left = binary(Op.MINUS, left, product());
            } else {
                return left;
            }
        }
    }

    private Expr product() {
        Expr left = signed();
        while (true) {
            Op op = words.peek().sign("*")
                    ? Op.TIMES
                    : words.peek().sign("/") ? Op.DIVIDED : words.peek().sign("%") ? Op.MODULO : null;
            if (op == null) {
                return left;
            }
            words.next();
            left = binary(op, left, signed());
        }
    }

    private Expr signed() {
        Span start = words.peek().at();
        if (!words.takeSign("-")) {
            return primary();
        }
        boolean span =
                words.ahead(1).is(Kind.NAME) && Unit.find(words.ahead(1).text()).isPresent();
        if (isNumber(words.peek().kind()) && !span) {
            Literal number = literal();
            return new Literal(number.type(), Literals.opposite(number.value()), start.to(number.at()));
        }
        words.enter();
        Expr operand = signed();
        words.leave();
        return new Expr.Negate(operand, start.to(words.last()));
    }

    private static boolean isNumber(Kind kind) {
        return kind == Kind.INTEGER || kind == Kind.DECIMAL || kind == Kind.NUMBER;
    }

    Expr binary(Op op, Expr left, Expr right) {
        if (++operators > MOST_OPERATORS) {
            throw words.failure(
                    right.at(),
                    "This expression has more than " + MOST_OPERATORS + " operators.",
                    "Give parts of it names with 'add' before, or write a list of values with 'in (…)'.");
        }
        return new Binary(op, left, right, words.written(left).to(words.written(right)));
    }

    Expr primary() {
        Token token = words.peek();
        words.mayStandValue();
        if (token.is(Kind.INTEGER) && words.ahead(1).is(Kind.NAME)) {
            var unit = Unit.find(words.ahead(1).text());
            if (unit.isPresent()) {
                int amount = words.expectInteger("a number");
                return new Expr.Period(
                        amount, unit.get(), token.at().to(words.next().at()));
            }
        }
        return switch (token.kind()) {
            case INTEGER -> {
                Literal number = literal();
                words.mayStand(UNITS);
                yield number;
            }
            case DECIMAL, NUMBER, TEXT, DATE, DATETIME -> literal();
            case PARAMETER -> new Expr.Parameter(token.text(), words.next().at());
            case SIGN -> bracketed(token);
            case NAME, QUOTED -> named(token);
            default -> throw words.expected("a value");
        };
    }

    private Expr bracketed(Token token) {
        if (!token.sign("(")) {
            throw words.expected("a value");
        }
        words.next();
        Expr inner = condition();
        return words.bracketed(inner, token.at().to(close(token.at(), "This bracket", "to close the bracket")));
    }

    /** The end of a bracket; one that is never closed is told where it was opened. */
    Span close(Span opened, String what, String purpose) {
        if (words.atEnd() || Keywords.isStep(words.peek())) {
            String before = words.atEnd() ? "the end" : "'" + words.peek().text() + "'";
            throw words.failure(
                    opened, what + " is not closed before " + before + ".", "Put ')' after its last value.");
        }
        return words.expectSign(")", purpose);
    }

    private Expr named(Token token) {
        if (token.is(Kind.NAME)) {
            switch (token.text()) {
                case "true", "false" -> {
                    words.next();
                    return new Literal(Type.TRUTH, token.text().equals("true"), token.at());
                }
                case "missing" -> {
                    words.next();
                    return new Literal(Type.EMPTY, null, token.at());
                }
                case "if" -> {
                    return conditional();
                }
                case "case" -> {
                    if (words.ahead(1).spelt("when")) {
                        throw words.failure(
                                token.at(),
                                "'case' has no meaning here.",
                                "It is written: if CONDITION then A else if CONDITION then B else C");
                    }
                }
                default -> {
                    if (Keywords.RESERVED.contains(token.text())) {
                        throw words.expected("a value");
                    }
                }
            }
        }
        if (words.ahead(1).sign("(") && token.is(Kind.NAME)) {
            return new CallParser(words, this).call();
        }
        if (Keywords.startsStep(words)) {
            throw words.failure(
                    token.at(),
                    "A value is expected here, but '" + token.text() + "' starts a new clause.",
                    "Complete what stands before it; a field of this name is written \"" + token.text() + "\".");
        }
        words.next();
        return new Expr.Name(token.text(), token.at());
    }

    /** A value written out. */
    Literal literal() {
        return Literals.next(words);
    }

    private Expr conditional() {
        Span start = words.next().at();
        refuseCall(start);
        List<Branch> branches = new ArrayList<>();
        Expr otherwise = null;
        branches.add(branch());
        while (words.takeWord("else")) {
            if (!words.takeWord("if")) {
                otherwise = condition();
                break;
            }
            branches.add(branch());
        }
        return new Expr.If(branches, otherwise, start.to(words.last()));
    }

    private Branch branch() {
        Expr condition = condition();
        words.expectWord("then", "after the condition of 'if'");
        return new Branch(condition, condition());
    }

    /** {@code if(condition, a, b)} as elsewhere. */
    private void refuseCall(Span start) {
        int depth = 0;
        for (int i = 0; words.peek().sign("(") && !words.ahead(i).is(Kind.END); i++) {
            depth += words.ahead(i).sign("(") ? 1 : words.ahead(i).sign(")") ? -1 : 0;
            if (depth == 0) {
                return;
            }
            if (depth == 1 && words.ahead(i).sign(",")) {
                throw words.failure(start, "'if' is no function here.", "It is written: if CONDITION then A else B");
            }
        }
    }

    /** {@code all}, or keys. */
    List<Expr> partition() {
        if (words.peek().word("all") && !words.ahead(1).sign("(")) {
            words.next();
            return List.of();
        }
        return words.list(this::joined);
    }

    SortKey sortKey() {
        Expr key = condition();
        if (words.peek().spelt("descending") || words.peek().spelt("ascending")) {
            String ours = words.peek().spelt("descending") ? " desc" : "";
            throw words.failure(
                    words.peek().at(),
                    "'" + words.peek().text() + "' has no meaning here.",
                    Suggestion.between(
                            "It is written: " + words.text(key.at()) + ours,
                            words.last().end(),
                            words.peek().at().end(),
                            ours));
        }
        boolean descending = words.takeWord("desc");
        if (!descending) {
            words.takeWord("asc");
        }
        return new SortKey(key, descending);
    }
}
