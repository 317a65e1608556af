package dev.fiesta.editing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.Problem;
import dev.fiesta.problem.RequestException;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class UnfinishedBriefTest {
    private static final String HEAD = Marked.HEAD;

    private static List<String> problems(String text) {
        return Marked.of("|" + text).brief().problems().stream()
                .map(Problem::message)
                .toList();
    }

    private static String fixed(String text) {
        UnfinishedBrief brief = Marked.of("|" + text).brief();
        assertThat(brief.problems()).isNotEmpty();
        return Renaming.changed(text, List.of(brief.problems().get(0).fixes().get(0)));
    }

    private static String renamed(String marked, String name) {
        Marked place = Marked.of(marked);
        return Renaming.changed(place.text(), place.brief().renamed(place.offset(), name));
    }

    @Test
    void problemsAreThoseOfCheck() {
        assertThat(problems(HEAD + "table t from sales only amuont > 3 only site = 3"))
                .containsExactly("There is no field 'amuont'.", "'site' is a text and is compared with an integer.");
    }

    @Test
    void whatStandsOnAnUnknownInputIsNotJudged() {
        assertThat(
                        problems(
                                "input more from 'more.csv'\ntable t from more only anything > 3\ntable u from t only other > 1"))
                .isEmpty();
        assertThat(problems(
                        HEAD + "input more from 'more.csv'\ntable t from sales match more on item bring x only x > 3"))
                .isEmpty();
    }

    @Test
    void behindWhatCannotBeReadNothingElseIsJudged() {
        assertThat(problems(HEAD + "table t from sales\n  only site == 3\n  only amuont > 3"))
                .hasSize(1);
        assertThat(problems(HEAD + "table t from sales\n  only amuont > 3\n  per site gve n = count()\n  only m > 3"))
                .containsExactly("There is no field 'amuont'.", "A clause is expected here, not 'gve'.");
    }

    @Test
    void aTableThatCannotBeSettledDrawsNoFurtherProblems() {
        assertThat(problems("table t from nowhere only x > 1\ntable u from t only y > 1"))
                .containsExactly("There is no input or table 'nowhere' above.");
    }

    @Test
    void parametersWithoutAValueAreNoProblemWhileWriting() {
        assertThat(problems("parameter least decimal(2)\n" + HEAD + "table t from sales only amount > :least"))
                .isEmpty();
    }

    @Test
    void waysOutAreChangesOfTheText() {
        assertThat(fixed(HEAD + "table t from sales only amuont > 3")).endsWith("only amount > 3");
        assertThat(fixed(HEAD + "table t from salse sort site")).contains("from sales sort");
        assertThat(fixed(HEAD + "table t from sales per site give total = smu(amount)"))
                .endsWith("total = sum(amount)");
        assertThat(fixed(HEAD + "table t from sales per site give total = avg(amount)"))
                .endsWith("total = mean(amount)");
        assertThat(fixed(HEAD + "table t from sales where site = 'Quay'")).endsWith("only site = 'Quay'");
        assertThat(fixed(HEAD + "table t from sales group by site")).endsWith("per site");
        assertThat(fixed(HEAD + "table t from sales sort by site")).endsWith("sort site");
        assertThat(fixed(HEAD + "table t from sales add a = 1 b = 2")).endsWith("add a = 1, b = 2");
        assertThat(fixed(HEAD + "table t from sales\n  only total > 3\n  per site give total = sum(amount)"))
                .endsWith("table t from sales\n  per site give total = sum(amount)\n  only total > 3");
        assertThat(fixed(HEAD + "table t from sales rename site as \"the site\" sort \"the sites\""))
                .endsWith("sort \"the site\"");
        assertThat(fixed("parameter least decimal(2) = 3\n" + HEAD + "table t from sales only amount > :leest"))
                .endsWith("> :least");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "only site = Quay | only site = 'Quay'",
                "only site = \"Quay\" | only site = 'Quay'",
                "only site == 'Quay' | only site = 'Quay'",
                "only site <> 'Quay' && amount > 3 | only site <> 'Quay' and amount > 3",
                "per site give sum(amount) as t | per site give t = sum(amount)",
                "per site t = sum(amount) | per site give t = sum(amount)",
                "per site, give n = count() | per site give n = count()",
                "per site give n = count(*) | per site give n = count()",
                "per site give n = count(distinct item) | per site give n = count_distinct(item)",
                "only amount > 1,000 | only amount > 1000",
                "columns site as 'Site' | columns site 'Site'",
                "first 3 by amount desc | first 3 along amount desc",
                "sort amount descending | sort amount desc",
                "sort amount ascending | sort amount",
                "only site is null | only site is missing",
                "sample 5% | sample 5 percent",
                "only date(sold_at) > 01.5.2026 | only date(sold_at) > 2026-05-01",
                "rename site to place | rename site as place",
                "rename site = place | rename site as place",
                "order by amount desc | sort amount desc",
                "per site against item in (Olives) give n = count() | per site against item in ('Olives') give n = count()",
            })
    void whatIsWrittenByHabitIsMendedToWhatIsRight(String written, String mended) {
        String fixed = fixed(HEAD + "table t from sales\n  " + written);
        assertThat(fixed).endsWith("\n  " + mended);
        assertThat(problems(fixed)).isEmpty();
    }

    @Test
    void namesMeanWhatTheyMeanWhereTheyStand() {
        String text = HEAD
                + "table t from sales\n  add amount = amount * 2\n  per site give total = sum(amount)\n  sort total desc\n";
        Marked first = Marked.of(text.replace("= amount *", "= |amount *"));
        Occurrence records = first.brief().occurrence(first.offset());
        assertThat(first.brief().uses(records.meaning())).hasSize(1);
        Marked second = Marked.of(text.replace("sum(amount", "sum(|amount"));
        Occurrence doubled = second.brief().occurrence(second.offset());
        assertThat(second.brief().uses(doubled.meaning())).hasSize(2);
        assertThat(doubled.meaning().defined().start()).isEqualTo(text.indexOf("amount = amount"));
    }

    @Test
    void aNameIsChangedWhereverItMeansTheSame() {
        assertThat(renamed(
                        HEAD
                                + "table t from sales per site give |total = sum(amount), part = total * 2 only total > 3\n"
                                + "table u from t sort total\nreport say 'Most: {u.total money}' figures t total",
                        "takings"))
                .endsWith("give takings = sum(amount), part = takings * 2 only takings > 3\n"
                        + "table u from t sort takings\nreport say 'Most: {u.takings money}' figures t takings");
        assertThat(renamed(HEAD + "table t from sales sort site\ntable u from |t first 3\nreport table u", "days"))
                .contains("table days from sales", "from days first");
        assertThat(renamed(
                        "parameter |least decimal(2) = 3\n" + HEAD + "table t from sales only amount > :least", "most"))
                .contains("parameter most decimal", "> :most");
        assertThat(renamed(HEAD + "table t from sales rename site as |place sort place", "the place"))
                .endsWith("rename site as \"the place\" sort \"the place\"");
    }

    @Test
    void aDeclaredFieldKeepsItsColumn() {
        assertThat(renamed(
                        "input sales from 'sales.csv' fields amount decimal(2)\ntable t from sales sort |amount",
                        "price"))
                .isEqualTo(
                        "input sales from 'sales.csv' fields price decimal(2) from \"amount\"\ntable t from sales sort price");
    }

    @Test
    void namesThatCannotBeChangedAreRefused() {
        assertThatThrownBy(() -> renamed(HEAD + "table t from sales sort |amount", "price"))
                .isInstanceOf(RequestException.class)
                .hasMessage("'amount' is a name that this brief does not write, of a column or made from another name: "
                        + "give it another with 'rename amount as …'.");
        assertThatThrownBy(() -> renamed(HEAD + "table t from sales per site give |total = count()", "site"))
                .hasMessageContaining("already");
        assertThatThrownBy(() -> renamed(HEAD + "table t from sales per site give |n = count()", "m\"n"))
                .hasMessageContaining("no name");
        assertThatThrownBy(() -> renamed(HEAD + "table t from sales | sort site", "x"))
                .hasMessageContaining("no field");
        assertThatThrownBy(() -> renamed(
                        HEAD + "table t from sales add |net = amount per site give sum(net) sort net_sum", "clear"))
                .hasMessage("With the name 'clear' the brief would not be right: There is no field 'net_sum'.");
    }

    @Test
    void wordsAreExplained() {
        assertThat(told(HEAD + "table t from sales only |amount > 3"))
                .isEqualTo(
                        "amount decimal(2): From input sales. 20.0 % missing, from 2.00 to 7.50, in the first 5 records.");
        assertThat(told(HEAD + "table t from sales per site give total = sum(amount) only |total > 3"))
                .isEqualTo("total decimal(2): From table t, line 2. total = sum(amount) only total > 3");
        assertThat(told(HEAD + "table t from sales per site give total = s|um(amount)"))
                .startsWith("sum(");
        assertThat(told(HEAD + "table t from sales o|nly amount > 3")).startsWith("only CONDITION: Keeps the rows");
        assertThat(told(HEAD + "table t from sa|les sort site"))
                .isEqualTo("input sales: Fields: sold_at datetime, site text, item text, amount decimal(2).");
        assertThat(told(HEAD + "table t from sales per site give n = count()\nreport table |t"))
                .isEqualTo("table t: A row for each site. Fields: site text, n integer.");
        assertThat(told("parameter least decimal(2) = 3 'what a sale must bring'\n" + HEAD
                        + "table t from sales only amount > :le|ast"))
                .isEqualTo("parameter least decimal(2) = 3 'what a sale must bring': what a sale must bring");
        assertThat(Marked.of(HEAD + "table t from sales only amount > 3|")
                        .brief()
                        .explanation(0))
                .isNotNull();
    }

    private static String told(String marked) {
        Marked place = Marked.of(marked);
        Explanation told = place.brief().explanation(place.offset());
        return told.head() + ": " + String.join(" ", told.lines());
    }

    @Test
    void theOpenCallIsKnown() {
        Marked place = Marked.of(HEAD + "table t from sales add x = round(amount, |");
        OpenCall call = place.brief().call(place.offset());
        assertThat(call.function().name()).isEqualTo("round");
        assertThat(call.argument()).isEqualTo(1);
        Marked inner = Marked.of(HEAD + "table t from sales add x = round((amount + |");
        assertThat(inner.brief().call(inner.offset()).function().name()).isEqualTo("round");
        Marked outside = Marked.of(HEAD + "table t from sales add x = round(amount) + |");
        assertThat(outside.brief().call(outside.offset())).isNull();
    }

    @Test
    void whatStandsBehindAClauseIsKnown() {
        String text = HEAD + "table t from sales\n  only amount > 3\n  per site give n = count()\n  sort n\n";
        UnfinishedBrief brief = Marked.of("|" + text).brief();
        assertThat(brief.standing(text.indexOf("only")).schema().names()).hasSize(4);
        assertThat(brief.standing(text.indexOf("per")).keys()).containsExactly("site");
        assertThat(brief.standing(text.indexOf("from sales\n")).clause()).isEqualTo(-1);
        assertThat(brief.standing(3)).isNull();
    }
}
