package dev.fiesta.language;

import dev.fiesta.language.Expected.Sought;
import dev.fiesta.language.Token.Kind;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What must hold. */
final class CheckParser {
    private final Cursor words;
    private final ExprParser exprs;
    private final ClauseParser clauses;

    CheckParser(Cursor words, ExprParser exprs, ClauseParser clauses) {
        this.words = words;
        this.exprs = exprs;
        this.clauses = clauses;
    }

    /** {@code check ("unique" FIELD … | "rows" OP n | FIELD "adds up to" TABLE.FIELD | condition) ['message'] ["or" "warn"]} */
    Clause check(Span start) {
        if (words.peek().word("unique") && words.nameFollows()) {
            words.next();
            List<Ref> fields = clauses.names();
            String message = words.findText();
            return new Clause.CheckUnique(fields, message, orWarn(), start.to(words.last()));
        }
        if (words.peek().word("rows") && words.ahead(1).is(Kind.SIGN)) {
            words.next();
            for (Op op : Op.values()) {
                if (op.compares() && words.takeSign(op.sign())) {
                    Expr count = exprs.sum();
                    String message = words.findText();
                    return new Clause.CheckRows(op, count, message, orWarn(), start.to(words.last()));
                }
            }
            throw words.expected("a comparison after 'rows'");
        }
        if (words.peek().isName()
                && words.ahead(1).word("adds")
                && words.ahead(2).word("up")) {
            return checkSum(start);
        }
        Expr condition = exprs.checked();
        @Nullable String message = words.findText();
        return new Clause.Check(condition, message, orWarn(), start.to(words.last()));
    }

    /** {@code check FIELD "adds" "up" "to" TABLE "." FIELD ['message'] ["or" "warn"]} */
    private Clause checkSum(Span start) {
        Ref field = words.expectName("a field", Sought.FIELD);
        words.takeWords("adds", "up");
        words.expectWord("to", "after 'adds up'");
        Ref table = words.expectName("a table", Sought.TABLE);
        words.expectSign(".", "and a field of the table");
        Ref theirs = words.expectName("a field of the table", Sought.FIELD_OF_TABLE);
        String message = words.findText();
        return new Clause.CheckSum(field, table, theirs, message, orWarn(), start.to(words.last()));
    }

    private boolean orWarn() {
        return words.takeWords("or", "warn");
    }
}
