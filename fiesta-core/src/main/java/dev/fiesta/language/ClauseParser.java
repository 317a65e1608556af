package dev.fiesta.language;

import dev.fiesta.language.Clause.Brought;
import dev.fiesta.language.Clause.FieldPattern;
import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.language.Expected.Sought;
import dev.fiesta.language.Token.Kind;
import dev.fiesta.problem.Suggestion;
import java.util.ArrayList;
import java.util.List;

/** Clauses of a table; each method is named after its keyword and stands below the grammar it follows. */
final class ClauseParser {
    private final Cursor words;
    private final ExprParser exprs;

    ClauseParser(Cursor words) {
        this.words = words;
        this.exprs = new ExprParser(words);
    }

    /** One clause; its keyword is the word that stands here. */
    Clause clause() {
        Token before = words.before();
        Token keyword = words.peek();
        Span start = keyword.at();
        if (!keyword.is(Kind.NAME) || !Keywords.CLAUSES.contains(keyword.text())) {
            throw Slips.noClause(words, before, keyword);
        }
        words.starts(Cursor.Start.CLAUSE);
        words.next();
        return switch (keyword.text()) {
            case "only" -> {
                Expr condition = exprs.condition();
                yield new Clause.Only(condition, start.to(words.last()));
            }
            case "add" -> {
                List<Assign> fields = words.list(this::assign);
                yield new Clause.Add(fields, start.to(words.last()));
            }
            case "per" -> per(start);
            case "totals" -> totals(start);
            case "sort" -> sort(start);
            case "first" -> first(start);
            case "distinct" -> distinct(start);
            case "match" -> match(start);
            case "append" ->
                new Clause.Append(words.list(() -> words.expectName("a table", Sought.TABLE)), start.to(words.last()));
            case "gapless" -> gapless(start);
            case "fill" -> fill(start);
            case "turn" -> turn(start);
            case "rename" -> new Clause.Rename(words.list(this::renamed), start.to(words.last()));
            case "drop" -> new Clause.Drop(names(), start.to(words.last()));
            case "columns" -> new ColumnsParser(words, exprs, this).columns(start);
            case "sample" -> sample(start);
            case "shuffle" -> new Clause.Shuffle(seed(), start.to(words.last()));
            case "check" -> new CheckParser(words, exprs, this).check(start);
            case "hide" -> hide(start);
            default -> throw new IllegalStateException(keyword.text());
        };
    }

    private Clause sort(Span start) {
        Slips.refuseBy(words, "sort");
        return new Clause.Sort(words.list(exprs::sortKey), start.to(words.last()));
    }

    List<Ref> names() {
        return words.list(() -> words.expectName("a field", Sought.FIELD));
    }

    /** {@code NAME = condition} */
    private Assign assign() {
        Ref name = words.expectName("a name for the new field");
        words.expectSign("=", "after the name of the new field");
        return new Assign(name.name(), exprs.condition(), name.at(), true);
    }

    /** {@code per (all | key {"," key}) {"against" key ["in" (…)] ["rest" "as" 'x']} ["give" figure {"," figure}]} */
    private Clause per(Span start) {
        boolean all = words.peek().word("all") && !words.ahead(1).sign("=") && words.takeWord("all");
        Slips.refuseBy(words, "per");
        List<Assign> keys = all ? List.of() : words.items(this::key);
        Slips.refuseCommaBeforeGive(words, keys);
        Slips.refuseMissingGive(words);
        List<Clause.Against> against = new ArrayList<>();
        if (words.takeWord("against")) {
            against.addAll(words.list(this::against));
        }
        Span giveAt = words.peek().at();
        if (words.peek().word("give")) {
            words.starts(Cursor.Start.CLAUSE);
        }
        boolean gives = words.takeWord("give");
        List<Clause.Figure> figures = gives ? words.list(this::figure) : List.of();
        return new Clause.Per(keys, against, figures, gives, gives ? giveAt : start, start.to(words.last()));
    }

    private Assign key() {
        if (words.peek().isName() && words.ahead(1).sign("=")) {
            Ref name = words.expectName("a key", Sought.FIELD);
            words.expectSign("=", "after the key");
            return new Assign(name.name(), exprs.joined(), name.at(), true);
        }
        Expr key = exprs.joined();
        if (key instanceof Expr.Name name) {
            return new Assign(name.name(), key, key.at(), false);
        }
        throw words.failure(
                key.at(),
                "A computed key needs a name.",
                "Write 'NAME = ' before it, for instance 'month = month(sold_at)'.");
    }

    private Clause.Against against() {
        Assign key = key();
        List<Expr> choices = null;
        String rest = null;
        if (words.takeWord("in")) {
            words.expectSign("(", "and the values after 'in'");
            choices = words.list(exprs::joined);
            words.expectSign(")", "after the values");
        }
        if (words.takeWords("rest", "as")) {
            rest = words.expectText("a label");
        }
        Expr with = words.takeWord("with") ? exprs.literal() : null;
        return new Clause.Against(key, choices, rest, with);
    }

    private Clause.Figure figure() {
        Token first = words.peek();
        if (first.isName() && words.ahead(1).sign("=")) {
            return new Clause.Single(assign());
        }
        if (first.word("each") && words.ahead(1).sign("(")) {
            return each();
        }
        Expr bare = exprs.condition();
        if (words.peek().spelt("as") && words.ahead(1).isName()) {
            throw words.failure(
                    words.peek().at(),
                    "The name of a figure stands before it.",
                    Suggestion.between(
                            "It is written: " + words.ahead(1).text() + " = " + words.text(words.written(bare)),
                            bare.at().start(),
                            words.ahead(1).at().end(),
                            words.ahead(1).text() + " = " + words.text(words.written(bare))));
        }
        return new Clause.Single(new Assign(bareName(bare), bare, bare.at(), false));
    }

    private String bareName(Expr bare) {
        if (bare instanceof Expr.Call call && call.args().isEmpty()) {
            return call.name();
        }
        if (bare instanceof Expr.Call call
                && call.args().size() == 1
                && call.args().get(0) instanceof Expr.Name field) {
            return field.name() + "_" + call.name();
        }
        boolean call = bare instanceof Expr.Name
                && words.peek().is(Kind.NAME)
                && words.ahead(1).sign("(");
        throw words.failure(
                bare.at(),
                "A figure needs a name" + (call ? " and '=' after it." : "."),
                call
                        ? "It is written: " + words.text(words.written(bare)) + " = "
                                + words.restOfLine(words.peek().at())
                        : "Write 'NAME = ' before it, for instance 'total = " + words.text(words.written(bare)) + "'.");
    }

    /** {@code each(sum, mean of amount, 'fee_*')} */
    private Clause.Figure each() {
        Span start = words.next().at();
        words.expectSign("(", "after 'each'");
        List<Ref> functions = words.list(() -> words.expectName("a function", Sought.FUNCTION));
        words.expectWord("of", "and the fields after the functions");
        boolean numbers = words.takeWord("numbers");
        List<FieldPattern> fields = numbers ? List.of() : words.list(this::fieldPattern);
        Span end = words.expectSign(")", "to close 'each('");
        return new Clause.Each(functions, fields, numbers, start.to(end));
    }

    /** {@code name | name "to" name | 'pattern_*' | "others"} */
    FieldPattern fieldPattern() {
        Token token = words.peek();
        if (token.is(Kind.TEXT)) {
            return new FieldPattern(new Ref(words.next().text(), token.at()), true, null, false);
        }
        if (words.takeWord("others")) {
            return new FieldPattern(new Ref("others", token.at()), false, null, true);
        }
        Ref name = words.expectName("a field", Sought.FIELD);
        Ref to = words.takeWord("to") ? words.expectName("the last field of the range", Sought.FIELD) : null;
        return new FieldPattern(name, false, to, false);
    }

    private Clause totals(Span start) {
        List<Ref> by = words.takeWord("by") ? names() : List.of();
        return new Clause.Totals(by, start.to(words.last()));
    }

    /** {@code first COUNT ["within" KEY {"," KEY}] ["along" KEY ["desc"] {"," KEY ["desc"]}] ["rest" "as" LABEL]} */
    private Clause first(Span start) {
        Expr count = exprs.sum();
        Slips.refuseFirstBy(words, start);
        List<Expr> within = words.takeWord("within") ? exprs.partition() : List.of();
        List<Expr.SortKey> along = words.takeWord("along") ? words.list(exprs::sortKey) : List.of();
        if (words.peek().spelt("within")) {
            throw words.failure(
                    words.peek().at(),
                    "'within' stands before 'along'.",
                    "It is written: first 1 within site along takings desc.");
        }
        String rest = words.takeWords("rest", "as") ? words.expectText("a label") : null;
        if (rest != null && along.isEmpty()) {
            throw words.failure(
                    words.last(),
                    "Without an order there is no telling which rows are the rest.",
                    "Say what to go by: first 5 along takings desc rest as 'Rest'.");
        }
        return new Clause.First(count, within, along, rest, start.to(words.last()));
    }

    /** {@code sample COUNT ["percent"] ["within" KEY {"," KEY}] ["seed" N]} */
    private Clause sample(Span start) {
        if (words.ahead(1).sign("%")) {
            throw words.failure(
                    words.ahead(1).at(),
                    "A percent sign means a remainder.",
                    Suggestion.instead(
                            "It is written: sample " + words.peek().text() + " percent", List.of(" percent")));
        }
        Expr count = exprs.sum();
        boolean percent = words.takeWord("percent");
        List<Expr> within = words.takeWord("within") ? exprs.partition() : List.of();
        return new Clause.Sample(count, percent, within, seed(), start.to(words.last()));
    }

    private long seed() {
        return words.takeWord("seed") ? words.expectInteger("a whole number after 'seed'") : 0;
    }

    private Clause distinct(Span start) {
        Slips.refuseBy(words, "distinct");
        words.mayStand(Sought.FIELD);
        boolean named = words.peek().isName() && !Keywords.isStep(words.peek());
        return new Clause.Distinct(named ? names() : List.of(), start.to(words.last()));
    }

    /** {@code match ["each"] TABLE "on" KEY ["=" THEIRS] {…} [, "latest" THEIRS <= OURS] ["bring" FIELD ["as" N] …] [guard]} */
    private Clause match(Span start) {
        boolean each = words.peek().word("each") && words.nameFollows() && words.takeWord("each");
        Ref table = words.expectName("a table", Sought.TABLE);
        words.expectWord("on", "and the keys after the table");
        List<Clause.KeyPair> keys = new ArrayList<>();
        Clause.Latest latest = null;
        do {
            if (words.peek().word("latest") && words.nameFollows()) {
                words.next();
                Ref theirs = words.expectName("their field", Sought.FIELD_OF_TABLE);
                words.expectSign("<=", "between their field and ours");
                latest = new Clause.Latest(theirs, words.expectName("our field", Sought.FIELD));
                break;
            }
            Ref ours = words.expectName("a key", Sought.FIELD);
            keys.add(new Clause.KeyPair(
                    ours, words.takeSign("=") ? words.expectName("their key", Sought.FIELD_OF_TABLE) : ours));
        } while (words.takeSign(","));
        List<Brought> bring = words.takeWord("bring") ? words.list(this::brought) : List.of();
        return new Clause.Match(each, table, keys, latest, bring, guard(), start.to(words.last()));
    }

    private Brought brought() {
        Ref field = words.expectName("a field to bring", Sought.FIELD_OF_TABLE);
        return new Brought(
                field, words.takeWord("as") ? words.expectName("a name").name() : field.name());
    }

    private Brought renamed() {
        Ref field = words.expectName("a field", Sought.FIELD);
        if (words.peek().sign("=") || words.peek().spelt("to")) {
            throw words.failure(
                    words.peek().at(),
                    "'as' between the old name and the new is expected here, not "
                            + words.peek().shown() + ".",
                    Suggestion.between(
                            "It is written: rename " + field.name() + " as "
                                    + words.ahead(1).text(),
                            field.at().end(),
                            words.ahead(1).at().start(),
                            " as "));
        }
        words.expectWord("as", "between the old name and the new");
        return new Brought(field, words.expectName("a name").name());
    }

    private Unmatched guard() {
        if (words.takeWord("required")) {
            return Unmatched.REQUIRED;
        }
        if (words.takeWords("matched", "only")) {
            return Unmatched.MATCHED_ONLY;
        }
        if (words.takeWords("unmatched", "only")) {
            return Unmatched.UNMATCHED_ONLY;
        }
        return words.takeWords("also", "unmatched") ? Unmatched.ALSO_UNMATCHED : Unmatched.KEPT;
    }

    /** {@code gapless FIELD [every 1 week] [within KEY …] [from A to B | from TABLE] [with 0]}; keys may stand behind a table too */
    private Clause gapless(Span start) {
        Ref field = words.expectName("the field to fill", Sought.FIELD);
        Expr.Period every = words.takeWord("every") ? period() : null;
        List<Ref> within = words.takeWord("within") ? names() : null;
        Expr from = null;
        Expr to = null;
        Ref source = null;
        if (words.takeWord("from")) {
            words.mayStand(Sought.TABLE);
            if (words.peek().isName() && !words.ahead(1).sign("(")) {
                source = words.expectName("a table", Sought.TABLE);
            } else {
                from = exprs.sum();
                words.expectWord("to", "after where to start");
                to = exprs.sum();
            }
        }
        within = within == null && words.takeWord("within") ? names() : within;
        Expr with = words.takeWord("with") ? exprs.literal() : null;
        return new Clause.Gapless(field, every, within, from, to, source, with, start.to(words.last()));
    }

    /** {@code fill FIELD {"," FIELD} ["within" KEY {"," KEY}] "along" KEY … ["from" ("before" | "after")] ["at most" (N | SPAN)]} */
    private Clause fill(Span start) {
        List<Ref> fields = names();
        List<Expr> within = words.takeWord("within") ? exprs.partition() : List.of();
        words.expectWord("along", "and the order in which values are known");
        List<Expr.SortKey> along = words.list(exprs::sortKey);
        boolean after = false;
        if (words.takeWord("from")) {
            after = words.peek().word("after");
            if (!after && !words.peek().word("before")) {
                throw words.expected("'before' or 'after'");
            }
            words.next();
        }
        Expr atMost = words.takeWords("at", "most") ? exprs.sum() : null;
        boolean rows = atMost instanceof Expr.Literal literal && literal.value() instanceof Long n && n > 0;
        if (atMost != null && !rows && !(atMost instanceof Expr.Period)) {
            throw words.failure(
                    atMost.at(),
                    "After 'at most' stands a number of rows or a span of time.",
                    "Write for instance 'at most 3' or 'at most 3 weeks'.");
        }
        return new Clause.Fill(fields, within, along, after, atMost, start.to(words.last()));
    }

    private Expr.Period period() {
        if (exprs.sum() instanceof Expr.Period period) {
            return period;
        }
        throw words.failure(words.last(), "After 'every' stands a span of time.", "Write for instance 'every 1 week'.");
    }

    /** {@code turn FIELD {"," FIELD} "into" NAME "," VALUE} */
    private Clause turn(Span start) {
        List<Ref> fields = names();
        words.expectWord("into", "and two names: for what the fields were called, and for their values");
        Ref name = words.expectName("a name for what the fields were called");
        words.expectSign(",", "between the two names");
        return new Clause.Turn(fields, name, words.expectName("a name for the values"), start.to(words.last()));
    }

    /** {@code hide FIGURE {"," FIGURE} "where" condition} */
    private Clause hide(Span start) {
        List<Ref> figures = names();
        words.expectWord("where", "and when they are hidden");
        Expr condition = exprs.condition();
        return new Clause.Hide(figures, condition, start.to(words.last()));
    }
}
