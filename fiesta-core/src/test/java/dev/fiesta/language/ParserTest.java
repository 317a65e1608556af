package dev.fiesta.language;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Problem;
import dev.fiesta.value.Type;
import dev.fiesta.value.Unit;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ParserTest {
    private static BriefTree brief(String text) {
        return Parser.brief(new BriefText("t.brief", text));
    }

    private static List<Clause> clauses(String text) {
        return Parser.clauses(new BriefText("clauses", text));
    }

    private static Clause clause(String text) {
        List<Clause> clauses = clauses(text);
        assertThat(clauses).hasSize(1);
        return clauses.get(0);
    }

    @Test
    void aWholeBriefIsRead() {
        BriefTree brief = brief("""
                \uFEFFbrief 'Festival takings'   # a title
                settings locale 'pt-PT' week starts sunday year starts 4
                parameter from_day date = 2026-05-01 'first day'
                parameter sites text list optional
                parameter least decimal = -5
                input sales from 'sales-*.csv' 'more.csv' as tsv
                  delimiter ';' quote '''' encoding 'utf-16' decimal comma no header skip 2 comment '#'
                  quoted empty as missing fields by name short rows as missing missing 'NA', '-'
                  unreadable aside at most 1.5 percent
                  fields sold date 'dd/MM/yyyy' from "Sold at" bad as missing, fee decimal(2) default 0, rate decimal
                table t from sales only fee > 0
                table u from t per site give n = count()
                report heading 'A' say 'b' table t 'T' rows 5 figures u n 'F' chart lines t x a y b, c by d 'C' log stacked new page
                """);
        assertThat(brief.title()).isEqualTo("Festival takings");
        assertThat(brief.settings()).isEqualTo(new BriefTree.Settings("pt-PT", true, 7, 4, null));
        assertThat(brief.parameters()).extracting(p -> p.name().name()).containsExactly("from_day", "sites", "least");
        assertThat(brief.parameters().get(0).about()).isEqualTo("first day");
        assertThat(brief.parameters().get(1).list()).isTrue();
        assertThat(brief.parameters().get(1).optional()).isTrue();
        assertThat(brief.parameters().get(2).openScale()).isTrue();
        BriefTree.Input input = brief.inputs().get(0);
        assertThat(input.paths()).extracting(BriefTree.Path::text).containsExactly("sales-*.csv", "more.csv");
        assertThat(input.options())
                .isEqualTo(new BriefTree.InputOptions(
                        "tsv",
                        ";",
                        "'",
                        "utf-16",
                        true,
                        true,
                        2,
                        "#",
                        true,
                        true,
                        true,
                        List.of("NA", "-"),
                        false,
                        new BriefTree.Aside(new java.math.BigDecimal("1.5"), true),
                        BriefTree.Inside.WHOLE));
        assertThat(input.fields()).extracting(f -> f.name().name()).containsExactly("sold", "fee", "rate");
        assertThat(input.fields().get(0).pattern()).isEqualTo("dd/MM/yyyy");
        assertThat(input.fields().get(0).from()).isEqualTo("Sold at");
        assertThat(input.fields().get(0).badAsMissing()).isTrue();
        assertThat(input.fields().get(1).type()).isEqualTo(Type.decimal(2));
        assertThat(input.fields().get(1).byDefault().value()).isEqualTo(0L);
        assertThat(input.fields().get(2).openScale()).isTrue();
        assertThat(brief.tables())
                .extracting(t -> t.name().name() + " " + t.from().name())
                .containsExactly("t sales", "u t");
        assertThat(brief.report())
                .extracting(p -> p.getClass().getSimpleName())
                .containsExactly("Heading", "Say", "ShowTable", "Figures", "Chart", "NewPage");
        BriefTree.Chart chart = (BriefTree.Chart) brief.report().get(4);
        assertThat(chart.y()).extracting(Ref::name).containsExactly("b", "c");
        assertThat(chart.options().log() && chart.options().stacked()).isTrue();
    }

    @Test
    void optionsOfChartsStandInAnyOrder() {
        BriefTree.Chart chart = (BriefTree.Chart) Parser.brief(new BriefText(
                        "t.brief",
                        "report chart lines t x day y a by site apart kind 'Title' values line 'Low' at -2.5, 'Now' at 2026-05-01, "
                                + "'Asked' at :least note 'Net.' line 'Usual' at means.typical log"))
                .report()
                .get(0);
        assertThat(chart.apart().name()).isEqualTo("kind");
        BriefTree.ChartOptions options = chart.options();
        assertThat(options.values() && options.log() && !options.stacked()).isTrue();
        assertThat(options.note()).isEqualTo("Net.");
        assertThat(options.lines()).extracting(BriefTree.Marker::text).containsExactly("Low", "Now", "Asked", "Usual");
        assertThat(options.lines().get(0).value()).isEqualTo(new java.math.BigDecimal("-2.5"));
        assertThat(options.lines().get(1).value()).isEqualTo(java.time.LocalDate.of(2026, 5, 1));
        assertThat(options.lines().get(2).parameter().name()).isEqualTo("least");
        assertThat(options.lines().get(3).table().name()).isEqualTo("means");
        assertThat(options.lines().get(3).field().name()).isEqualTo("typical");
        assertThatThrownBy(() -> Parser.brief(new BriefText("t.brief", "report chart lines t x d y a line 'x' at 'y'")))
                .hasMessageContaining(
                        "A line stands at a number, a date, a parameter or a field of a table's first row.");
    }

    @Test
    void clausesAreRead() {
        assertThat(clause("only a > 1")).isInstanceOf(Clause.Only.class);
        assertThat(((Clause.Add) clause("add a = 1, b = a + 1")).fields())
                .extracting(Assign::name)
                .containsExactly("a", "b");
        Clause.Per per = (Clause.Per)
                clause("per site, m = month(day) give count(), takings = sum(net), each(sum, max of fee, 'a_*')");
        assertThat(per.keys()).extracting(Assign::name).containsExactly("site", "m");
        assertThat(per.figures()).hasSize(3);
        assertThat(((Clause.Single) per.figures().get(0)).figure().name()).isEqualTo("count");
        assertThat(((Clause.Per) clause("per all give n = count()")).keys()).isEmpty();
        assertThat(((Clause.Per) clause("per site")).gives()).isFalse();
        Clause.Per cross = (Clause.Per)
                clause("per site against method in ('a', 'b') rest as 'Other' with 0, day give n = count()");
        assertThat(cross.against()).hasSize(2);
        assertThat(cross.against().get(0).rest()).isEqualTo("Other");
        assertThat(((Clause.Totals) clause("totals by site, stall")).by())
                .extracting(Ref::name)
                .containsExactly("site", "stall");
        Clause.First first = (Clause.First) clause("first 5 within site along takings desc, day rest as 'x'");
        assertThat(first.along()).extracting(Expr.SortKey::descending).containsExactly(true, false);
        assertThat(first.rest()).isEqualTo("x");
        assertThat(((Clause.Sort) clause("sort a desc, b asc, c")).keys())
                .extracting(Expr.SortKey::descending)
                .containsExactly(true, false, false);
        assertThat(((Clause.Distinct) clause("distinct")).fields()).isEmpty();
        Clause.Match match = (Clause.Match)
                clause("match each rates on method = kind, day, latest valid <= day bring rate as r, fee matched only");
        assertThat(match.each()).isTrue();
        assertThat(match.keys()).extracting(k -> k.theirs().name()).containsExactly("kind", "day");
        assertThat(match.latest().theirs().name()).isEqualTo("valid");
        assertThat(match.bring()).extracting(Clause.Brought::as).containsExactly("r", "fee");
        assertThat(match.unmatched()).isEqualTo(Clause.Unmatched.MATCHED_ONLY);
        assertThat(((Clause.Append) clause("append a, b")).tables()).hasSize(2);
        Clause.Gapless gapless =
                (Clause.Gapless) clause("gapless week every 1 week within site from 2026-05-01 to 2026-06-01 with 0");
        assertThat(gapless.every().unit()).isEqualTo(Unit.WEEK);
        assertThat(gapless.within()).hasSize(1);
        assertThat(((Clause.Gapless) clause("gapless stall from stalls within day with 0")).within())
                .isEqualTo(((Clause.Gapless) clause("gapless stall within day from stalls"))
                        .within().stream()
                                .map(r -> new Ref(r.name(), new Span(33, 36)))
                                .toList());
        assertThat(((Clause.Gapless) clause("gapless stall from stalls"))
                        .source()
                        .name())
                .isEqualTo("stalls");
        assertThat(((Clause.Turn) clause("turn may, june into month, takings")).fields())
                .hasSize(2);
        assertThat(((Clause.Rename) clause("rename a as b")).names()).hasSize(1);
        assertThat(((Clause.Columns) clause("columns a 'A' money 'EUR' right, b to d, 'x_*', others percent 1"))
                        .columns())
                .hasSize(4);
        assertThat(((Clause.Check) clause("check a > 0 'must be' or warn")).warn())
                .isTrue();
        assertThat(((Clause.CheckUnique) clause("check unique a, b")).fields()).hasSize(2);
        assertThat(((Clause.CheckRows) clause("check rows >= 1")).op()).isEqualTo(Op.AT_LEAST);
        assertThat(((Clause.CheckSum) clause("check a adds up to t.b")).table().name())
                .isEqualTo("t");
    }

    @Test
    void keysJoinTextsWithoutBrackets() {
        Clause.Per per = (Clause.Per)
                Parser.clauses(new BriefText("t", "per name = site || '-' || stall, item give n = count()"))
                        .get(0);
        assertThat(per.keys()).extracting(Assign::name).containsExactly("name", "item");
        assertThat(Printer.print(per.keys().get(0).value())).isEqualTo("site || '-' || stall");
    }

    @Test
    void keywordsAreNamesWhereOnlyANameMayStand() {
        assertThat(((Clause.Add) clause("add sort = 1, first = 2, within = 3")).fields())
                .extracting(Assign::name)
                .containsExactly("sort", "first", "within");
        assertThat(((Clause.Per) clause("per all = month(day) give n = count()")).keys())
                .hasSize(1);
        assertThat(clauses("sort \"first\", \"only\" first 3")).hasSize(2);
        assertThat(clauses("distinct sort a")).hasSize(2);
        assertThat(((Clause.Only) clause("only \"not\" = 'is'")).condition()).isInstanceOf(Expr.Binary.class);
    }

    @Test
    void operatorsBindAsWritten() {
        assertThat(shape("a or b and c")).isEqualTo("(a OR (b AND c))");
        assertThat(shape("not a = b")).isEqualTo("not (a EQUAL b)");
        assertThat(shape("a + b * c - d")).isEqualTo("((a PLUS (b TIMES c)) MINUS d)");
        assertThat(shape("a || b + c = d")).isEqualTo("((a JOIN (b PLUS c)) EQUAL d)");
        assertThat(shape("-a * b")).isEqualTo("(-a TIMES b)");
        assertThat(shape("a / b / c")).isEqualTo("((a DIVIDED b) DIVIDED c)");
        assertThat(shape("a not contains b and c")).isEqualTo("(not (a CONTAINS b) AND c)");
    }

    private static String shape(String text) {
        return shape(Parser.expression(new BriefText("text", text)));
    }

    private static String shape(Expr expr) {
        if (expr instanceof Expr.Binary binary) {
            return "(" + shape(binary.left()) + " " + binary.op() + " " + shape(binary.right()) + ")";
        }
        if (expr instanceof Expr.Not not) {
            return "not " + shape(not.operand());
        }
        return expr instanceof Expr.Negate minus ? "-" + shape(minus.operand()) : ((Expr.Name) expr).name();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "only | 1:5 | A value is expected here, not the end of the text.",
                "add = 3 | 1:5 | A name for the new field is expected here, not '='.",
                "add x 3 | 1:7 | '=' after the name of the new field is expected here, not '3'.",
                "per month(day) give n = count() | 1:5 | A computed key needs a name.",
                "per site give sum(a) + 1 | 1:15 | A figure needs a name.",
                "sort | 1:5 | A value is expected here, not the end of the text.",
                "match t bring x | 1:9 | 'on' and the keys after the table is expected here, not 'bring'.",
                "match t on k, latest v < d | 1:24 | '<=' between their field and ours is expected here, not '<'.",
                "turn a, b into c | 1:17 | ',' between the two names is expected here, not the end of the text.",
                "rename a b | 1:10 | 'as' between the old name and the new is expected here, not 'b'.",
                "gapless week every 3 | 1:20 | After 'every' stands a span of time.",
                "check rows + 3 | 1:12 | A comparison after 'rows' is expected here, not '+'.",
                "columns a 'T' sparkle | 1:15 | There is no format 'sparkle'.",
                "columns a EUR | 1:11 | There is no format 'EUR'.",
                "columns a money EUR | 1:17 | The unit of 'money' stands in quotes.",
                "columns a 'T' bar, b date MMM | 1:27 | The pattern of 'date' stands in quotes.",
                "only a in | 1:10 | After 'in' the values stand in brackets, or a list such as :sites follows.",
                "only a is 3 | 1:8 | 'is' asks only whether a value is missing.",
                "only a is | 1:10 | 'missing' after 'is' is expected here, not the end of the text.",
                "only a not 3 | 1:12 | 'between', 'in', 'contains', 'starts with', 'ends with' or 'matches' is expected after 'not' here, not '3'.",
                "only f(a | 1:6 | The bracket of 'f(' is not closed before the end.",
                "only (a > 1 | 1:6 | This bracket is not closed before the end.",
                "only a in (1, 2 | 1:11 | This bracket is not closed before the end.",
                "only f(a b) | 1:10 | ')' to close 'f(' is expected here, not 'b'.",
                "only a > 1) | 1:11 | This ')' closes no bracket.",
                "sort a dsc | 1:8 | A clause is expected here, not 'dsc'.",
                "add x = sum(a within all last b) | 1:31 | A frame is so many rows or a span of time.",
                "add x = a ; sort x | 1:11 | ';' has no meaning here.",
                "ony a > 1 | 1:1 | A clause is expected here, not 'ony'.",
                "only a > 1 2 | 1:12 | A clause is expected here, not '2'.",
            })
    void whatIsExpectedIsSaid(String text, String place, String message) {
        BriefException failure = catchThrowableOfType(BriefException.class, () -> clauses(text));
        assertThat(failure).as(text).isNotNull();
        Problem problem = failure.problems().get(0);
        assertThat(problem.message()).isEqualTo(message);
        assertThat(problem.line() + ":" + problem.column()).isEqualTo(place);
    }

    @ParameterizedTest
    @CsvSource(
            delimiterString = " | ",
            quoteCharacter = '`',
            value = {
                "settings week starts someday | 'someday' is no day of the week.",
                "settings year starts 13 | 13 is no month.",
                "input s from sales | A path in single quotes is expected here, not 'sales'.",
                "input s from 'x' delimiter '||' | One plain character is expected here, not '||'.",
                "input s from 'x' fields a decimal(19) | A decimal has at most 18 digits after the point, not 19.",
                "input s from 'x' fields a texte | There is no type 'texte'.",
                "report chart pie t x a y b | There is no chart 'pie'.",
                "report chart lines t x a | 'y' and a field is expected here, not the end of the text.",
                "report tabel t | A piece of the report is expected here, not 'tabel'.",
                "table t form s | 'from' and an input or table is expected here, not 'form'.",
            })
    void partsSayWhatTheyNeed(String text, String message) {
        assertThatThrownBy(() -> brief(text)).isInstanceOf(BriefException.class).hasMessageContaining(message);
    }

    @Test
    void garbageNeverBreaksTheParser() {
        String[] bits = {
            "only",
            "add",
            "per",
            "give",
            "x",
            "=",
            "(",
            ")",
            ",",
            "'t",
            "'t'",
            "\"q\"",
            "1",
            "2026-05-01",
            ":p",
            "within",
            "along",
            "last",
            "#c\n",
            "\n",
            "sum(",
            "if",
            "then",
            "else",
            "not",
            "in",
            "report",
            "table",
            "from",
            "input",
            "match",
            "on",
            "columns",
            "check",
            "-",
            "||",
            "\u0000",
            "é",
            "{",
            "7 days"
        };
        SplittableRandom random = new SplittableRandom(8);
        int refused = 0;
        for (int turn = 0; turn < 5000; turn++) {
            StringBuilder text = new StringBuilder();
            for (int i = random.nextInt(14); i >= 0; i--) {
                text.append(bits[random.nextInt(bits.length)]).append(' ');
            }
            try {
                brief(text.toString());
            } catch (BriefException e) {
                refused++;
                assertThat(e.problems())
                        .isNotEmpty()
                        .allSatisfy(p -> assertThat(p.line()).isPositive());
            }
        }
        assertThat(refused).isGreaterThan(4000);
    }
}
