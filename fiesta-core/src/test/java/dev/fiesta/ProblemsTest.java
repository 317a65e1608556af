package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Problem;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What is said about each mistake in a brief: where, what, and the way out. */
class ProblemsTest {
    private static final String DATA = "sold_at,site,stall,item,amount,quantity,note\n"
            + "2026-05-01T18:30:00,Quay,001,lemonade,3.10,1,\n"
            + "2026-05-02T11:00:00,Meadow,012,churros,8.40,2,late\n";

    @TempDir
    Path folder;

    @BeforeEach
    void data() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), DATA);
    }

    private List<Problem> problems(String clauses) {
        String brief = "input sales from 'sales.csv'\ntable t from sales\n" + clauses;
        BriefException failure = catchThrowableOfType(BriefException.class, () -> {
            try (Fiesta fiesta = Fiesta.open()) {
                fiesta.tables(Parser.brief(new BriefText("t.brief", brief)), folder, Map.of());
            }
        });
        assertThat(failure).as(clauses).isNotNull();
        return failure.problems();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "only takings > 9 per site give takings = sum(amount) | 3:6 | 'takings' is a figure of the groups, so it cannot choose records. | It is worked out by 'give' on line 3. Put this 'only' after line 3 to choose groups.",
                "per site give takings = sum(amount) columns site, item | 3:51 | 'item' has many values in a group of site, so there is no one value to show. | Group by it too ('per site, item'), or say which value in the 'give' on line 3: first(item), at_max(item, …), list(item).",
                "per site give x = amount | 3:19 | 'amount' has many values in a group of site, so a figure must say what becomes of them. | Gather them: sum(amount), mean(amount), first(amount) …",
                "add x = sum(amount within site along sold_at) | 3:9 | 'sum' walks along an order, but nothing says over which rows. | Add a frame: 'running' (from the start to here), 'last 4', 'last 7 days', 'from start to end'.",
                "add x = rank(within site) | 3:9 | 'rank' walks from row to row, but nothing says in which order. | Add 'along' and what to go by: rank(within site along amount desc).",
                "per site give x = rank(along amount) | 3:19 | 'rank' walks from group to group, but in 'give' the groups are still being made. | Use 'add' after this 'give': add place = rank(along amount).",
                "per site give x = sum(item) | 3:23 | 'item' is a text, but 'sum' needs numbers. | If it holds numbers, convert it: decimal(item, 2), integer(item) or real(item).",
                "only item > 3 | 3:6 | 'item' is a text and is compared with an integer. | Write the value in single quotes, or convert the text: decimal(item, 2) or integer(item).",
                "only sold_at > 2026-05-01 | 3:6 | 'sold_at' is a datetime and is compared with a date. | Compare the day: date(sold_at). Otherwise the last day would count up to midnight at its start only.",
                "only note = missing | 3:6 | Nothing is equal to 'missing', not even a missing value, so this would never be true. | Write 'note is missing'.",
                "only site = best per site give best = max(item) | 3:13 | 'best' is a figure of the groups, so it cannot choose records. | It is worked out by 'give' on line 3. Put this 'only' after line 3 to choose groups.",
                "only site = Quay | 3:13 | There is no field 'Quay'. | A text stands in single quotes: 'Quay'.",
                "only amuont > 3 | 3:6 | There is no field 'amuont'. | Did you mean 'amount'?",
                "add x = lenght(item) | 3:9 | There is no function 'lenght'. | Did you mean 'length'?",
                "only site = :sitee | 3:13 | There is no parameter ':sitee'. | There are none.",
                "per site give n = count(), only n > 3 | 3:26 | There is a comma before 'only', but nothing more follows it. | Take the comma away, or write what it announces.",
                "per site give n = count(), n = sum(amount) | 3:28 | 'n' is given twice in this grouping. | Give one of them another name.",
                "per site give n = sum(mean(amount)) | 3:23 | 'mean' gathers many rows and cannot stand inside another gathering call. | Group twice: give it a name here, then let a second 'per … give' group the groups.",
                "columns site, itme | 3:15 | There is no field 'itme'. | Did you mean 'item'?",
                "add day = sold_at + 7 | 3:21 | A date can be moved by a span of time only, not by an integer. | Name the unit: 7 days, 7 weeks, 7 months.",
                "only amount = 3 = 4 | 3:17 | Comparisons cannot be chained. | Join them with 'and', or write 'between'.",
                "only amount | 3:6 | This is a decimal(2), but a condition is needed. | Compare it with something.",
                "match nowhere on site bring x | 3:7 | There is no input or table 'nowhere' above. | There are: sales.",
                "columns amount monney | 3:16 | There is no format 'monney'. | Did you mean 'money'?",
                "add x = mean(amount within site last 3) | 3:33 | A frame needs an order to move in. | Add 'along' and what to go by before it.",
                "add x = upper(item within site) | 3:9 | 'upper' looks at one row, so 'only', 'within', 'along' and frames mean nothing to it. | They belong into a gathering or walking call.",
                "add x = round(amount, item) | 3:23 | The number of digits is a whole number from 0 to 18 written out. |",
                "per site give x = sum(amount within item) | 3:37 | 'within' in a 'give' names keys of the grouping, and 'item' is none. | The keys are: site.",
                "drop amount only amount > 3 | 3:18 | There is no field 'amount' any more: it was dropped on line 3. | Put this before the 'drop', or drop it later.",
            })
    void eachMistakeHasItsMessage(String clauses, String place, String message, String suggestion) {
        Problem problem = problems(clauses).get(0);
        assertThat(problem.line() + ":" + problem.column()).isEqualTo(place);
        assertThat(problem.message()).isEqualTo(message);
        assertThat(problem.suggestion()).isEqualTo(suggestion);
    }

    @Test
    void severalMistakesAreToldTogether() {
        List<Problem> problems = problems("only amuont > 3\nadd x = lenght(item)\nsort x, sitte");
        assertThat(problems).extracting(Problem::line).containsExactly(3, 4, 5);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "match nowhere on stall bring kind only kind = 'x' per kind | There is no input or table 'nowhere' above.",
                "match sales on stal bring amount as price sort price | There is no field 'stal'.",
                "rename sit as place sort place | There is no field 'sit'.",
                "turn amount, fe into what, v only v > 3 per what give n = count(), t = sum(v) | There is no field 'fe'.",
                "per site give each(sum, mean of amuont) sort amuont_sum, amuont_mean | There is no field 'amuont'.",
                "per sit give t = sum(amount) only t > 3 sort sit | There is no field 'sit'.",
                "per site against metod give t = sum(amount) sort t desc | There is no field 'metod'.",
                "add x = amuont * 2 only x > 3 per site give s = sum(x) sort s | There is no field 'amuont'.",
                "per site give t = sm(amount), u = t * 2 only u > 1 totals sort t | There is no function 'sm'.",
            })
    void noSecondMessageFollowsFromTheFirst(String clauses, String message) {
        assertThat(problems(clauses)).extracting(Problem::message).containsExactly(message);
    }

    @Test
    void parsingGoesOnAtTheNextClause() {
        List<Problem> problems = problems("only amount >\nadd x = 1 +\ntable u form t");
        assertThat(problems).extracting(Problem::line).containsExactly(4, 5, 5);
    }

    @Test
    void theLineIsShownWithAMark() {
        assertThat(problems("\tonly 'é' || amuont = 'x'").get(0).text()).isEqualTo("""
                t.brief:3:14: There is no field 'amuont'.
                    3 | \tonly 'é' || amuont = 'x'
                      | \t            ^^^^^^
                  Did you mean 'amount'?""");
    }

    @Test
    void aTextThatIsNotClosedIsTold() {
        Problem problem = problems("only site = 'Quay\nsort site").get(0);
        assertThat(problem.message()).isEqualTo("This text is not closed before the line ends.");
        assertThat(problem.line()).isEqualTo(3);
    }

    @Test
    void nestingIsLimited() {
        String deep = "add x = " + "(".repeat(5000) + "1" + ")".repeat(5000);
        assertThat(problems(deep).get(0).message()).isEqualTo("This is nested more than 200 deep.");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "parameter p date | The parameter 'p' has no value. | Give it one.",
                "parameter p date = 12 | The parameter 'p' is a date, and '12' is not. |",
                "parameter p integer list = 1, 'x' | The parameter 'p' is a list of values that are each an integer, and 'x' is not. |",
                "parameter p dtae | There is no type 'dtae'. | Did you mean 'date'?",
                "tabel t from x | A part of the brief is expected here, not 'tabel'. | Did you mean 'table'?",
            })
    void partsHaveMessagesToo(String brief, String message, String suggestion) {
        BriefException failure = catchThrowableOfType(BriefException.class, () -> {
            try (Fiesta fiesta = Fiesta.open()) {
                fiesta.tables(Parser.brief(new BriefText("t.brief", brief)), folder, Map.of());
            }
        });
        assertThat(failure.problems().get(0).message()).isEqualTo(message);
        assertThat(failure.problems().get(0).suggestion()).isEqualTo(suggestion);
    }
}
