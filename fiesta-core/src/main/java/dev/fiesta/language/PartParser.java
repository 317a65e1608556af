package dev.fiesta.language;

import dev.fiesta.language.BriefTree.ParameterDef;
import dev.fiesta.language.BriefTree.Settings;
import dev.fiesta.language.BriefTree.TableDef;
import dev.fiesta.language.Token.Kind;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Problem;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/** The parts of a brief. After a problem, reading goes on at the next clause or part. */
final class PartParser {
    private final BriefText source;
    private final Cursor words;
    private final List<Problem> problems;
    private final ExprParser exprs;
    private final ClauseParser clauses;

    private @Nullable String title;
    private Settings settings = Settings.NORMAL;
    private final List<BriefTree.Use> uses = new ArrayList<>();
    private final List<ParameterDef> parameters = new ArrayList<>();
    private final List<BriefTree.Input> inputs = new ArrayList<>();
    private final List<TableDef> tables = new ArrayList<>();
    private @Nullable List<BriefTree.Piece> report;

    PartParser(BriefText source, Cursor words, List<Problem> problems) {
        this.source = source;
        this.words = words;
        this.problems = problems;
        this.exprs = new ExprParser(words);
        this.clauses = new ClauseParser(words);
    }

    BriefTree brief() {
        while (!words.atEnd()) {
            Token start = words.peek();
            try {
                part();
            } catch (Cursor.Failure failure) {
                problems.add(failure.problem);
                words.skipTo(t -> t.startsLine() && isPart(t), words.peek() == start);
            }
        }
        words.mayStand(Keywords.PARTS);
        return new BriefTree(source, title, settings, uses, parameters, inputs, tables, report);
    }

    /** Clauses only, as {@code ask} and the library take them. */
    List<Clause> onlyClauses() {
        List<Clause> list = clauses(t -> false);
        return list;
    }

    private static boolean isPart(Token token) {
        return token.is(Kind.NAME) && Keywords.PARTS.contains(token.text());
    }

    private void part() {
        Token keyword = words.peek();
        words.starts(Cursor.Start.PART);
        if (!isPart(keyword)) {
            throw words.failure(
                    keyword.at(),
                    "A part of the brief is expected here, not " + keyword.shown() + ".",
                    Names.didYouMean(keyword.text(), Keywords.PARTS, "The parts are"));
        }
        words.next();
        switch (keyword.text()) {
            case "brief" -> title = words.expectText("the title");
            case "settings" -> settings();
            case "use" -> {
                String path = words.expectText("the path of a brief", Expected.Sought.PATH);
                uses.add(new BriefTree.Use(path, keyword.at().to(words.last())));
            }
            case "parameter" -> parameters.add(parameter(keyword.at()));
            case "input" -> inputs.add(new InputParser(words, exprs).input(keyword.at()));
            case "table" -> tables.add(table(keyword.at()));
            default -> report = new ReportParser(words, exprs, problems).pieces();
        }
    }

    private void settings() {
        while (true) {
            if (words.takeWord("locale")) {
                String locale = words.expectText("a locale such as 'en-IE'");
                settings = new Settings(locale, true, settings.weekStart(), settings.yearStart(), settings.collate());
            } else if (words.takeWord("collate")) {
                String collate = words.expectText("a locale such as 'pt'");
                settings = new Settings(
                        settings.locale(), settings.localeTold(), settings.weekStart(), settings.yearStart(), collate);
            } else if (words.takeWords("week", "starts")) {
                Ref day = words.expectName("a day of the week", Expected.Sought.WEEKDAY);
                int number = Keywords.WEEK.indexOf(day.name().toLowerCase(Locale.ROOT)) + 1;
                if (number == 0) {
                    throw words.failure(
                            day.at(),
                            "'" + day.name() + "' is no day of the week.",
                            Names.didYouMean(day.name(), Keywords.WEEK, "The days are"));
                }
                settings = new Settings(
                        settings.locale(), settings.localeTold(), number, settings.yearStart(), settings.collate());
            } else if (words.takeWords("year", "starts")) {
                Span at = words.peek().at();
                int month = words.expectInteger("a month from 1 to 12");
                if (month < 1 || month > 12) {
                    throw words.failure(at, month + " is no month.", "Months are 1 to 12.");
                }
                settings = new Settings(
                        settings.locale(), settings.localeTold(), settings.weekStart(), month, settings.collate());
            } else {
                return;
            }
        }
    }

    /** {@code parameter NAME TYPE ["list"] ["=" VALUE {"," VALUE} | "optional"] ['what it is for']} */
    private ParameterDef parameter(Span start) {
        Ref name = words.expectName("a name for the parameter");
        TypeName type = new TypeName(words);
        boolean list = words.takeWord("list");
        List<Expr> value = null;
        if (words.takeSign("=")) {
            value = list ? words.list(exprs::sum) : List.of(exprs.sum());
        }
        boolean optional = value == null && words.takeWord("optional");
        String about = words.findText();
        return new ParameterDef(name, type.type, type.openScale, list, value, optional, about, start.to(words.last()));
    }

    /** {@code table NAME "from" SOURCE {clause}} */
    private TableDef table(Span start) {
        Ref name = words.expectName("a name for the table");
        words.expectWord("from", "and an input or table");
        Ref from = words.expectName("an input or table", Expected.Sought.TABLE);
        List<Clause> steps = clauses(PartParser::isPart);
        return new TableDef(name, from, steps, start.to(words.last()));
    }

    private List<Clause> clauses(java.util.function.Predicate<Token> end) {
        List<Clause> steps = new ArrayList<>();
        while (!words.atEnd() && !end.test(words.peek())) {
            Token start = words.peek();
            try {
                steps.add(clauses.clause());
            } catch (Cursor.Failure failure) {
                problems.add(failure.problem);
                words.skipTo(t -> t.startsLine() && Keywords.isStep(t), words.peek() == start);
            }
        }
        words.mayStand(Keywords.CLAUSES);
        return steps;
    }

    /** The name of a type, with its scale. */
    static final class TypeName {
        final Type type;
        final boolean openScale;

        TypeName(Cursor words) {
            Ref name = words.expectName("a type", Expected.Sought.TYPE);
            if (!Keywords.TYPES.contains(name.name())) {
                throw words.failure(
                        name.at(),
                        "There is no type '" + name.name() + "'.",
                        Names.didYouMean(name.name(), Keywords.TYPES, "The types are"));
            }
            if (!name.name().equals("decimal")) {
                type = new Type(dev.fiesta.value.Kind.valueOf(name.name().toUpperCase(Locale.ROOT)), 0);
                openScale = false;
            } else if (words.takeSign("(")) {
                Span at = words.peek().at();
                int scale = words.expectInteger("the digits after the point");
                if (scale > Type.MOST_DIGITS) {
                    throw words.failure(
                            at, "A decimal has at most 18 digits after the point, not " + scale + ".", null);
                }
                words.expectSign(")", "after the digits");
                type = Type.decimal(scale);
                openScale = false;
            } else {
                type = Type.decimal(0);
                openScale = true;
            }
        }
    }
}
