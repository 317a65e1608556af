package dev.fiesta.language;

import dev.fiesta.language.Clause.FieldPattern;
import dev.fiesta.language.Clause.Format;
import dev.fiesta.language.Expected.Sought;
import dev.fiesta.language.Token.Kind;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Suggestion;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;

/** What is shown of a table: fields, their titles and formats, notes at cells, courses between them. */
final class ColumnsParser {
    /** A currency, or the pattern of a date. */
    private static final Pattern UNIT = Pattern.compile("[A-Z]{2,4}");

    private final Cursor words;
    private final ExprParser exprs;
    private final ClauseParser clauses;

    ColumnsParser(Cursor words, ExprParser exprs, ClauseParser clauses) {
        this.words = words;
        this.exprs = exprs;
        this.clauses = clauses;
    }

    Clause columns(Span start) {
        List<Clause.Shown> columns = new ArrayList<>();
        List<Clause.Course> courses = new ArrayList<>();
        words.list(() -> {
            boolean course = words.peek().word("course") && words.ahead(1).sign("(");
            return course ? courses.add(course(columns.size())) : columns.add(shown());
        });
        return new Clause.Columns(List.copyOf(columns), List.copyOf(courses), start.to(words.last()));
    }

    /** {@code "course" "(" TABLE "." FIELD "along" FIELD ["on" KEY {"," KEY}] ")" ['title']} */
    private Clause.Course course(int before) {
        Span start = words.next().at();
        words.expectSign("(", "after 'course'");
        Ref table = words.expectName("a table", Sought.TABLE);
        words.expectSign(".", "and a figure of the table");
        Ref field = words.expectName("a figure of the table", Sought.FIELD_OF_TABLE);
        words.expectWord("along", "and the field that it runs along");
        Ref along = words.expectName("the field that it runs along", Sought.FIELD_OF_TABLE);
        List<Ref> on = words.takeWord("on") ? clauses.names() : List.of();
        words.expectSign(")", "at the end of the course");
        return new Clause.Course(table, field, along, on, words.findText(), before, start.to(words.last()));
    }

    private Clause.Shown shown() {
        FieldPattern field = clauses.fieldPattern();
        String title = words.findText();
        List<Format> formats = new ArrayList<>();
        List<Clause.CellNote> notes = new ArrayList<>();
        while (words.peek().is(Kind.NAME) && !Keywords.isStep(words.peek())) {
            if (words.peek().word(Formats.NOTE)) {
                notes.add(note());
            } else {
                formats.add(format());
            }
        }
        words.mayStand(Formats.NAMES);
        return new Clause.Shown(field, title, List.copyOf(formats), List.copyOf(notes));
    }

    /** {@code "note" TEXT ["where" condition]} */
    private Clause.CellNote note() {
        Span start = words.next().at();
        String text = words.expectText("the note");
        Expr where = words.takeWord("where") ? exprs.condition() : null;
        return new Clause.CellNote(text, where, start.to(words.last()));
    }

    private Format format() {
        String before = words.text(words.last());
        Token name = words.next();
        if (!Formats.NAMES.contains(name.text())) {
            boolean unit = UNIT.matcher(name.text()).matches();
            String quoted = "'" + name.text() + "'";
            if (unit && Formats.TAKES_TEXT.contains(before)) {
                throw words.failure(
                        name.at(),
                        (before.equals("date") ? "The pattern of 'date'" : "The unit of 'money'")
                                + " stands in quotes.",
                        Suggestion.instead("It is written: " + before + " " + quoted, List.of(quoted)));
            }
            if (name.spelt("as") && words.peek().is(Kind.TEXT)) {
                throw words.failure(
                        name.at(),
                        "A title follows its field without 'as'.",
                        Suggestion.between(
                                "It is written: columns FIELD '" + words.peek().text() + "'",
                                name.at().start(),
                                words.peek().at().start(),
                                ""));
            }
            throw words.failure(
                    name.at(),
                    "There is no format " + name.shown() + ".",
                    unit
                            ? new Suggestion("A unit follows 'money' at once: money " + quoted, List.of())
                            : Names.didYouMean(
                                    name.text(),
                                    Formats.NAMES,
                                    "If it is a field, a comma is missing before it. The formats are"));
        }
        if (name.text().equals("mark")) {
            words.expectWord("few", "after 'mark'");
            return new Format(Formats.MARK_FEW, Integer.toString(words.expectInteger("the fewest records")));
        }
        boolean digits = words.peek().is(Kind.INTEGER) && Formats.TAKES_DIGITS.contains(name.text());
        boolean text = words.peek().is(Kind.TEXT) && Formats.TAKES_TEXT.contains(name.text());
        return new Format(name.text(), digits || text ? words.next().text() : null);
    }
}
