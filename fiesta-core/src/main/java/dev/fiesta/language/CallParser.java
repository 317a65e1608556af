package dev.fiesta.language;

import dev.fiesta.language.Expr.Branch;
import dev.fiesta.language.Expr.Frame;
import dev.fiesta.language.Expr.Literal;
import dev.fiesta.language.Expr.Modifiers;
import dev.fiesta.language.Expr.SortKey;
import dev.fiesta.language.Token.Kind;
import dev.fiesta.problem.Suggestion;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * Calls of functions, with what tells them their rows.
 *
 * <pre>
 * call      = name "(" [condition {"," condition}] modifiers ")"
 * modifiers = ["only" condition] ["within" ("all" | joined {"," joined})] ["along" keys] [frame]
 * frame     = ("running" | ("last" | "next") (rows | period) | "from" edge "to" edge) ["full" | "at" "least" values]
 * edge      = "start" | "here" | "end" | rows ("before" | "after")
 * </pre>
 */
final class CallParser {
    /** What may stand first in the brackets of a call that has no arguments. */
    private static final List<String> MODIFIERS = List.of("only", "within", "along");

    private final Cursor words;
    private final ExprParser exprs;

    CallParser(Cursor words, ExprParser exprs) {
        this.words = words;
        this.exprs = exprs;
    }

    Expr call() {
        Token name = words.next();
        words.next();
        if (name.text().equals("reword")) {
            return reword(name);
        }
        if (name.text().equals("count")
                && words.peek().spelt("distinct")
                && !words.ahead(1).sign(")")) {
            Span distinct = words.next().at();
            Span of = exprs.condition().at();
            String ours = "count_distinct(" + words.text(of);
            throw words.failure(
                    distinct,
                    "Distinct values have a function of their own.",
                    Suggestion.between("It is written: " + ours + ")", name.at().start(), of.end(), ours));
        }
        if (name.text().equals("count") && words.peek().sign("*")) {
            throw words.failure(
                    words.peek().at(),
                    "'count' counts rows without being told more.",
                    Suggestion.instead("It is written: count()", List.of("")));
        }
        List<Expr> args = new ArrayList<>();
        if (!words.peek().sign(")") && !startsModifier()) {
            do {
                args.add(exprs.condition());
            } while (words.takeSign(","));
        }
        refuseForeign(name, args);
        Modifiers modifiers = modifiers();
        Span end = exprs.close(name.at(), "The bracket of '" + name.text() + "('", "to close '" + name.text() + "('");
        if (words.peek().spelt("over") && words.ahead(1).sign("(")) {
            throw words.failure(
                    words.peek().at(),
                    "The partition of a call stands inside its brackets.",
                    "It is written: " + name.text() + "(… within KEY along KEY)");
        }
        return new Expr.Call(name.text(), args, modifiers, name.at().to(end), name.at());
    }

    /** What is written otherwise elsewhere. */
    private void refuseForeign(Token name, List<Expr> args) {
        Token next = words.peek();
        if (next.spelt("desc") && args.size() == 1) {
            throw words.failure(
                    next.at(),
                    "The order of a call follows 'along'.",
                    "It is written: " + name.text() + "(along "
                            + words.text(args.get(0).at()) + " desc)");
        }
        if (next.spelt("partition") && words.ahead(1).spelt("by")) {
            throw words.failure(
                    next.at(),
                    "The partition of a call follows 'within'.",
                    "It is written: within " + words.ahead(2).text());
        }
    }

    private Expr reword(Token name) {
        Expr operand = exprs.condition();
        words.expectSign(",", "and the words, such as 'card' as 'plastic'");
        List<Branch> pairs = new ArrayList<>();
        Expr otherwise = null;
        do {
            if (words.takeWord("else")) {
                otherwise = exprs.condition();
                break;
            }
            words.compares(operand);
            Expr from = exprs.joined();
            words.expectWord("as", "between the old word and the new");
            pairs.add(new Branch(from, exprs.joined()));
        } while (words.takeSign(","));
        if (otherwise == null && words.takeWord("else")) {
            otherwise = exprs.condition();
        }
        Span end = exprs.close(name.at(), "The bracket of 'reword('", "to close 'reword('");
        return new Expr.Reword(operand, pairs, otherwise, name.at().to(end));
    }

    private boolean startsModifier() {
        Token token = words.peek();
        words.mayStand(MODIFIERS);
        return token.is(Kind.NAME)
                && !words.ahead(1).sign(",")
                && !words.ahead(1).sign(")")
                && !words.ahead(1).sign("(")
                && MODIFIERS.contains(token.text());
    }

    private Modifiers modifiers() {
        Expr only = words.takeWord("only") ? exprs.condition() : null;
        List<Expr> within = words.takeWord("within") ? exprs.partition() : null;
        List<SortKey> along = words.takeWord("along") ? words.list(exprs::sortKey) : List.of();
        Frame frame = frame();
        if (only == null && within == null && along.isEmpty() && frame == null) {
            return Modifiers.NONE;
        }
        return new Modifiers(only, within, along, frame);
    }

    private @Nullable Frame frame() {
        Span start = words.peek().at();
        int from;
        int to = 0;
        Expr span = null;
        boolean forward = false;
        if (words.takeWord("running")) {
            from = Frame.START;
        } else if (words.peek().word("last") || words.peek().word("next")) {
            forward = words.next().text().equals("next");
            Expr length = exprs.primary();
            if (length instanceof Literal rows && rows.type().equals(Type.INTEGER)) {
                int count = rowCount(rows);
                from = forward ? 0 : 1 - count;
                to = forward ? count - 1 : 0;
            } else if (length instanceof Expr.Period) {
                span = length;
                from = 0;
            } else {
                throw words.failure(
                        length.at(), "A frame is so many rows or a span of time.", "Write 'last 4' or 'last 7 days'.");
            }
        } else if (words.takeWord("from")) {
            from = edge();
            words.expectWord("to", "after where the frame starts");
            to = edge();
            if (from > to) {
                throw words.failure(start.to(words.last()), "This frame ends before it starts.", null);
            }
        } else {
            return null;
        }
        boolean full = words.takeWord("full");
        int atLeast = 0;
        if (!full && words.takeWords("at", "least")) {
            atLeast = words.expectInteger("a number of values after 'at least'");
        }
        return new Frame(from, to, span, forward, full, atLeast, start.to(words.last()));
    }

    private int rowCount(Literal rows) {
        long count = (Long) Objects.requireNonNull(rows.value());
        if (count < 1 || count > Integer.MAX_VALUE / 2) {
            throw words.failure(rows.at(), "A frame has at least one row.", null);
        }
        return (int) count;
    }

    private int edge() {
        if (words.takeWord("start")) {
            return Frame.START;
        }
        if (words.takeWord("end")) {
            return Frame.END;
        }
        if (words.takeWord("here")) {
            return 0;
        }
        int rows = words.expectInteger("'start', 'here', 'end', or so many rows 'before' or 'after'");
        if (words.takeWord("before")) {
            return -rows;
        }
        words.expectWord("after", "or 'before' after the number of rows");
        return rows;
    }
}
