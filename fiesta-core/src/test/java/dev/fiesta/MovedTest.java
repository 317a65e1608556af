package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.problem.RequestException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What moved a figure of a table, between two periods and between two runs. */
class MovedTest {
    private static final String BRIEF = "input sales from 'sales.csv' fields amount decimal(2), fee decimal(2)\n"
            + "table monthly from sales\n"
            + "  per site, kind, month\n"
            + "  give takings = sum(amount), n = count(), usual = mean(amount only kind <> 'gift'), typical = median(amount), "
            + "rate = sum(fee) / sum(amount), dear = count_if(amount > 15)\n"
            + "  add each_sale = takings / n, place = rank(along takings desc)\n"
            + "  totals by site\n"
            + "table shown from monthly hide takings where n < 2\n"
            + "table hidden from sales per site, month give takings = sum(amount) hide takings where takings < 20\n"
            + "table crossed from sales per site against month give takings = sum(amount)\n";

    @TempDir
    Path folder;

    @BeforeEach
    void data() throws IOException {
        Files.writeString(
                folder.resolve("sales.csv"),
                "site,kind,month,amount,fee\n"
                        + "Quay,ices,2026-05-01,10.00,1\nQuay,ices,2026-05-01,20.00,1\nMeadow,ices,2026-05-01,5.00,1\n,grill,2026-05-01,7.00,1\n"
                        + "Quay,ices,2026-06-01,30.00,2\nQuay,ices,2026-06-01,30.00,2\nQuay,ices,2026-06-01,,2\nMeadow,gift,2026-06-01,4.00,2\n");
    }

    private Tables tables(Fiesta fiesta) {
        return fiesta.tables(Parser.brief(new BriefText("t.brief", BRIEF)), folder, Map.of());
    }

    private Moved moved(String table, String figure, String from, String to) {
        try (Fiesta fiesta = Fiesta.open()) {
            return Moved.within(tables(fiesta).trace().side(table, figure), "month", from, to);
        }
    }

    private List<String> lines(String table, String figure, int digits) {
        return Asking.lines(moved(table, figure, "2026-05-01", "2026-06-01").parts(digits));
    }

    @Test
    void partsOfASumAreRecordsAndValues() {
        assertThat(lines("monthly", "takings", 2))
                .containsExactly(
                        "site,kind,before,after,part,records,values",
                        "Quay,ices,30.00,60.00,30.00,0.00,30.00",
                        ",grill,7.00,0.00,-7.00,-7.00,0.00",
                        "Meadow,ices,5.00,0.00,-5.00,-5.00,0.00",
                        "Meadow,gift,0.00,4.00,4.00,4.00,0.00",
                        "Total,,42.00,64.00,22.00,-8.00,30.00");
        assertThat(lines("monthly", "n", 0)).contains("Quay,ices,2,3,1,1,0", "Total,,4,4,0,0,0");
        assertThat(lines("monthly", "dear", 0)).contains("Total,,1,2,1,1,0");
    }

    @Test
    void partsOfARatioAreMixAndLevel() {
        assertThat(lines("monthly", "usual", 2).get(0)).isEqualTo("site,kind,before,after,part,mix,level");
        assertThat(lines("monthly", "usual", 2)).last().asString().startsWith("Total,,10.50,30.00,19.50,");
        assertThat(lines("monthly", "rate", 4)).last().asString().startsWith("Total,,0.0952,0.1250,0.0298,");
        assertThat(lines("monthly", "each_sale", 2))
                .as("a figure over a figure")
                .last()
                .asString()
                .startsWith("Total,,10.50,16.00,5.50,");
        Moved usual = moved("monthly", "usual", "2026-05-01", "2026-06-01");
        assertThat(usual.isRatio()).isTrue();
        assertThat(usual.digits()).isEqualTo(4);
        assertThat(usual.exactDigits()).isEqualTo(12);
        assertThat(usual.keys()).containsExactly("site", "kind");
    }

    @Test
    void hiddenGroupsAreOnePart() {
        assertThat(lines("hidden", "takings", 2))
                .containsExactly(
                        "site,before,after,part,records,values",
                        "Quay,30.00,60.00,30.00,0.00,30.00",
                        "(hidden),12.00,4.00,-8.00,-5.00,-3.00",
                        "Total,42.00,64.00,22.00,-5.00,27.00");
    }

    @Test
    void betweenTwoRunsAllKeysTellTheGroups() {
        try (Fiesta fiesta = Fiesta.open()) {
            Moved.Side side = tables(fiesta).trace().side("monthly", "takings");
            Moved same = Moved.between(side, side);
            assertThat(same.before()).isEqualTo(same.after());
            assertThat(same.keys()).containsExactly("site", "kind", "month");
            assertThat(Asking.lines(same.parts(2))).last().isEqualTo("Total,,,106.00,106.00,0.00,0.00,0.00");
            Moved.Side other = tables(fiesta).trace().side("hidden", "takings");
            assertThatThrownBy(() -> Moved.between(side, other))
                    .isInstanceOf(RequestException.class)
                    .hasMessage(
                            "'takings' of 'monthly' is made otherwise in the other run, or its groups have other keys.");
        }
    }

    @Test
    void whatCannotBeToldIsExplained() {
        wrong(
                "monthly",
                "typical",
                "The parts of 'typical' in 'monthly' cannot be told: it is no figure that is a sum,");
        wrong("monthly", "place", "The parts of 'place' in 'monthly' cannot be told");
        wrong("monthly", "site", "The parts of 'site' in 'monthly' cannot be told");
        wrong("monthly", "takigns", "'monthly' has no figure 'takigns'. Did you mean 'takings'?");
        wrong("montly", "takings", "there is no table 'montly'");
        wrong("sales", "amount", "'sales' is an input, and its rows are records.");
        wrong("shown", "takings", "'shown' has no 'per': its rows are no groups that could move a figure.");
        wrong("crossed", "takings", "'crossed' lays groups out as columns; ask a table without 'against'.");
        assertThatThrownBy(() -> moved("monthly", "takings", "2026-05-02", "2026-06-01"))
                .hasMessage("No row of 'monthly' has the month 2026-05-02. There are 2026-06-01, 2026-05-01.");
        try (Fiesta fiesta = Fiesta.open()) {
            Moved.Side side = tables(fiesta).trace().side("monthly", "takings");
            assertThatThrownBy(() -> Moved.within(side, "week", "1", "2"))
                    .hasMessageContaining("'week' is no key of 'monthly'.");
        }
    }

    private void wrong(String table, String figure, String said) {
        assertThatThrownBy(() -> moved(table, figure, "2026-05-01", "2026-06-01"))
                .isInstanceOf(RequestException.class)
                .hasMessageContaining(said);
    }
}
