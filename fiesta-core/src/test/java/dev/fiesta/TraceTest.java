package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.RequestException;
import dev.fiesta.trace.FigurePair;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** From a row of a table back to the records behind it, and from a figure to the rows that it looked at. */
class TraceTest {
    private static final String SALES = "site,method,day,amount,fee\n"
            + "Quay,card,2026-05-01,10.00,1\n"
            + "Quay,cash,2026-05-02,20.00,2\n"
            + "Meadow,card,2026-06-01,5.00,\n"
            + ",card,2026-06-02,7.00,1\n"
            + "Quay,card,2026-06-03,30.00,3\n"
            + "Old Town,cash,2026-06-04,1.00,0\n"
            + "Quay,card,2026-06-05,-4.00,0\n";
    private static final String BRIEF = """
            input sales from 'sales.csv'
            table net from sales
              only amount > 0
              add left = amount - fee
            table takings from net
              per site, month = start_of_month(day)
              give total = sum(amount), n = count(), rest = sum(left), part = share(amount within site)
              only total > 4
              add place = rank(along total desc)
              totals
            table best from net
              per site give total = sum(amount)
              first 1 along total desc rest as 'Others'
            table crossed from net per site against method give total = sum(amount)
            table narrow from net
              add large = amount > 6
              per site, large against method in ('card', 'cash') give total = sum(amount)
              columns site, card
            table several from net per site give each(sum, mean of amount, 'f*'), n = count(), total = sum(amount), m = max(amount)
              add half = total / 2, per_sale = total / n, odd = total / m, less = total - n, turned = 1 / total, place = rank(along total)
            table running from net
              sort day
              add so_far = sum(amount along day running), three = mean(amount along day last 3), twice = amount * 2, before = abs(sum(amount along day from 1 before to 1 before))
            """;

    @TempDir
    Path folder;

    private Fiesta fiesta;
    private Trace trace;

    @BeforeEach
    void open() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), SALES);
        fiesta = Fiesta.with().threads(2).open();
        trace = fiesta.brief("t.brief", BRIEF, folder).tables(fiesta).trace();
    }

    @AfterEach
    void close() {
        fiesta.close();
    }

    private static List<String> lines(Behind behind) {
        return Asking.lines(behind.records());
    }

    @Test
    void aRowIsItsRecordsAndTheyMakeItsFigures() {
        Behind behind = trace.behind("takings", Map.of("site", "Quay", "month", "2026-05-01"), Behind.Part.ROW);
        assertThat(lines(behind))
                .containsExactly(
                        "site,month,amount,left,method,day,fee",
                        "Quay,2026-05-01,10.00,9.00,card,2026-05-01,1",
                        "Quay,2026-05-01,20.00,18.00,cash,2026-05-02,2");
        assertThat(behind.made()).isEqualTo(4);
        assertThat(behind.figures()).containsOnlyKeys("total", "n", "rest");
        assertThat(behind.figures()).hasToString("{total=30.00, n=2, rest=27.00}");
        assertThat(behind.shown()).isEqualTo(behind.figures());
        assertThat(behind.differing()).isEmpty();
    }

    @Test
    void aMissingKeyIsAKey() {
        Behind behind = trace.behind("takings", Map.of("site", "(missing)", "month", "2026-06-01"), Behind.Part.ROW);
        assertThat(lines(behind)).hasSize(2).last().isEqualTo(",2026-06-01,7.00,6.00,card,2026-06-02,1");
        assertThat(behind.differing()).isEmpty();
    }

    @Test
    void someKeysAreASubtotalOfTheGroupsThatStand() {
        Behind months = trace.behind("takings", Map.of("site", "Quay"), Behind.Part.ROW);
        assertThat(months.records().rows()).isEqualTo(3);
        assertThat(months.figures()).hasToString("{total=60.00, n=3, rest=54.00}");
        assertThat(months.shown()).isEmpty();
    }

    @Test
    void aTotalIsTheRecordsOfTheGroupsThatStand() {
        Behind all = trace.behind("takings", Map.of(), Behind.Part.TOTAL);
        assertThat(all.records().rows()).as("those of Old Town do not stand").isEqualTo(5);
        assertThat(all.figures()).hasToString("{total=72.00, n=5, rest=60.00}");
    }

    @Test
    void aRestIsTheRecordsOfTheGroupsThatItGathers() {
        Behind others = trace.behind("best", Map.of(), Behind.Part.REST);
        assertThat(lines(others))
                .containsExactly(
                        "site,amount,method,day,fee,left",
                        "Meadow,5.00,card,2026-06-01,,",
                        ",7.00,card,2026-06-02,1,6.00",
                        "Old Town,1.00,cash,2026-06-04,0,1.00");
        assertThat(others.figures()).hasToString("{total=13.00}");
    }

    @Test
    void aCellOfACrossTabulationIsItsRecordsToo() {
        Behind cell = trace.behind("crossed", Map.of("site", "Quay", "method", "card"), Behind.Part.ROW);
        assertThat(cell.figures()).hasToString("{total=40.00}");
        assertThat(cell.shown()).isEmpty();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "takings | size | 3 | 'size' is no key of 'takings'. Did you mean 'site'?",
                "takings | month | May | The key 'month' is a date, and 'May' is not.",
                "takings | | | Say which row: site=… month=…; or all of them together.",
                "net | site | Quay | The rows of 'net' are records themselves.",
                "best | site | Pier | 'best' has no row with site=Pier.",
                "takingz | site | Quay | there is no table 'takingz'. Did you mean 'takings'?",
            })
    void whatCannotBeFoundIsSaid(String table, String key, String value, String message) {
        Map<String, String> keys = key == null ? Map.of() : Map.of(key, value);
        assertThatThrownBy(() -> trace.behind(table, keys, Behind.Part.ROW))
                .isInstanceOf(RequestException.class)
                .hasMessage(message);
    }

    @Test
    void aRestThatIsNotThereIsSaid() {
        assertThatThrownBy(() -> trace.behind("takings", Map.of(), Behind.Part.REST))
                .hasMessage("'takings' has no 'rest as', so there is no rest to open.");
    }

    @Test
    void theRowsOfAFrameStandInTheOrderInWhichItWalks() {
        Result three = trace.frame("running", Map.of("day", "2026-06-03"), "three");
        assertThat(three.stream().map(r -> r.decimal("amount").toString())).containsExactly("5.00", "7.00", "30.00");
        Result all = trace.frame("running", Map.of("day", "2026-06-01"), "so_far");
        assertThat(all.rows()).isEqualTo(3);
        assertThat(all.schema().names()).containsExactly("site", "method", "day", "amount", "fee", "left");
        assertThatThrownBy(() -> trace.frame("running", Map.of("day", "2026-06-01"), "twice"))
                .hasMessage("'twice' of 'running' is no moving figure: no 'add' of the table gives it a frame.");
        assertThatThrownBy(() -> trace.frame("running", Map.of("day", "2026-01-01"), "three"))
                .hasMessage("'running' has no row with day=2026-01-01.");
        assertThatThrownBy(() -> trace.frame("sales", Map.of(), "three"))
                .hasMessage("'sales' is an input, and its rows are records.");
    }

    @Test
    void aFrameWithoutRowsHasNone() {
        assertThat(trace.frame("running", Map.of("day", "2026-05-01"), "before").rows())
                .isZero();
        assertThat(Asking.lines(trace.frame("running", Map.of("day", "2026-05-02"), "before")))
                .hasSize(2)
                .last()
                .isEqualTo("Quay,card,2026-05-01,10.00,1,9.00");
    }

    @Test
    void aRowOfACrossTabulationIsAllItsCells() {
        Behind row = trace.behind("crossed", Map.of("site", "Quay"), Behind.Part.ROW);
        assertThat(row.figures()).hasToString("{total=60.00}");
        Behind narrow = trace.behind("narrow", Map.of("site", "Meadow"), Behind.Part.ROW);
        assertThat(narrow.figures())
                .as("the computed key is known, and the layout is not")
                .hasToString("{total=5.00}");
    }

    @Test
    void figuresOfSeveralFunctionsAreMadeOfTheirFields() {
        Behind behind = trace.behind("several", Map.of("site", "Quay"), Behind.Part.ROW);
        assertThat(behind.figures().keySet())
                .containsExactly("amount_sum", "amount_mean", "fee_sum", "fee_mean", "n", "total", "m");
        assertThat(behind.figures().get("amount_sum")).hasToString("60.00");
        assertThat(lines(behind).get(0)).isEqualTo("site,amount,method,day,fee,left");
        assertThat(behind.differing()).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(strings = {"m", "half", "odd", "less", "turned", "place", "amount_sum"})
    void whatIsNoSumOverAnotherHasNoParts(String figure) {
        assertThatThrownBy(() -> trace.side("several", figure))
                .isInstanceOf(RequestException.class)
                .hasMessageStartingWith("The parts of '" + figure + "' in 'several' cannot be told");
    }

    @Test
    void aFigureOverAnotherHasBothAsItsParts() {
        Moved.Side side = trace.side("several", "per_sale");
        assertThat(side.ratio()).isTrue();
        assertThat(side.keys()).containsExactly("site");
        assertThat(side.table().schema().names()).contains(FigurePair.ABOVE, FigurePair.BASE);
    }

    @Test
    void samplesAreTheFirstRecordsOfEachRow() {
        assertThat(Asking.lines(Objects.requireNonNull(trace.samples("best", 1))))
                .as("also of those that a rest gathers")
                .containsExactly("site,amount,method,day,fee,left", "Quay,10.00,card,2026-05-01,1,9.00");
        assertThat(trace.samples("net", 2)).as("records have none").isNull();
    }

    /** Only the first rows are looked at, also where all of them stand in a file. */
    @Test
    void looksAreTheSameWithLittleMemory() {
        try (Fiesta little = Fiesta.with().threads(2).memory(1).open()) {
            Trace same = little.brief("t.brief", BRIEF, folder).tables(little).trace();
            for (String table : List.of("takings", "best", "running", "net")) {
                List<StepLook> looks = same.steps(table, 2);
                List<StepLook> wanted = trace.steps(table, 2);
                assertThat(looks.stream().map(l -> l.clause() + " " + l.rows() + Asking.lines(l.first())))
                        .as(table)
                        .isEqualTo(wanted.stream()
                                .map(l -> l.clause() + " " + l.rows() + Asking.lines(l.first()))
                                .toList());
            }
        }
    }

    @Test
    void aTableIsSeenAsEachOfItsClausesLeavesIt() {
        List<StepLook> looks = trace.steps("takings", 2);
        assertThat(looks.stream().map(l -> l.clause() + ": " + l.rows()))
                .containsExactly(
                        "null: 6",
                        "per site, month = start_of_month(day) give total = sum(amount), n = count(), rest = sum(left), "
                                + "part = share(amount within site): 5",
                        "only total > 4: 4",
                        "add place = rank(along total desc): 4",
                        "totals: 4");
        assertThat(looks.get(1).keys()).containsExactly("site", "month");
        assertThat(looks.get(1).first().rows()).isEqualTo(2);
        assertThat(looks.get(1).line()).isEqualTo(6);
        assertThat(trace.step("takings", 1).rows()).isEqualTo(4);
        assertThatThrownBy(() -> trace.steps("nowhere", 1))
                .hasMessageStartingWith("there is no table 'nowhere'. There are: sales, net,");
    }
}
