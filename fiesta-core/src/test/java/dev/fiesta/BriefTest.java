package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.LocalDate;
import java.time.YearMonth;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.LongStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The core runs any brief: with others that it uses, with values, with inputs from a program. */
class BriefTest {
    private static final Schema SALES = new Schema(
            List.of(new Field("site", Type.TEXT), new Field("day", Type.DATE), new Field("amount", Type.decimal(2))));

    private static final String TAKINGS = """
            parameter from_day date = 2026-05-01
            parameter sites text list optional
            input sales from 'sales.csv' fields amount decimal(2)
            table chosen from sales only day >= :from_day and (:sites is missing or site in :sites)
            table takings from chosen per site give sum = sum(amount) sort site
            """;

    @TempDir
    private Path folder;

    private final Fiesta fiesta = Fiesta.with().threads(2).open();

    private static Table rows(Fiesta fiesta) {
        return fiesta.rows(
                SALES,
                () -> Stream.of(
                        new Object[] {"Quay", LocalDate.of(2026, 5, 1), 10},
                        new Object[] {"Meadow", LocalDate.of(2026, 5, 2), 20},
                        new Object[] {"Quay", LocalDate.of(2026, 6, 1), 5}));
    }

    private List<String> takings(Brief brief) {
        Map<String, Result> results = brief.run(fiesta);
        assertThat(results).containsOnlyKeys("takings");
        return Asking.lines(results.get("takings"));
    }

    @Test
    void inputsComeFromAProgram() {
        Brief brief = Brief.of(TAKINGS).input("sales", rows(fiesta));
        assertThat(takings(brief)).containsExactly("site,sum", "Meadow,20.00", "Quay,15.00");
        assertThat(takings(brief.set("sites", Set.of("Quay")).set("from_day", YearMonth.of(2026, 6))))
                .containsExactly("site,sum", "Quay,5.00");
        assertThat(takings(brief.set("sites", new String[] {"Quay"}).set("sites", null)))
                .hasSize(3);
        assertThat(takings(brief.input("sales", rows(fiesta).only("amount > 5"))))
                .as("a table of which something was asked")
                .containsExactly("site,sum", "Meadow,20.00", "Quay,10.00");
    }

    @Test
    void inputsAreAskedForAgainByEveryRun() {
        AtomicInteger asked = new AtomicInteger();
        Table counted = fiesta.rows(SALES, () -> {
            int run = asked.incrementAndGet();
            return Stream.<Object[]>of(new Object[] {"Quay", LocalDate.of(2026, 5, 1), run});
        });
        Tables tables = Brief.of(TAKINGS).input("sales", counted).tables(fiesta);
        for (int run = 1; run <= 3; run++) {
            Result result = tables.run(List.of("takings")).get("takings");
            assertThat(result.row(0).decimal("sum")).isEqualByComparingTo(Integer.toString(run));
        }
        assertThat(asked).hasValue(3);
    }

    @Test
    void inputsThatTheBriefDoesNotHaveAreRefused() {
        assertThatThrownBy(() -> Brief.of(TAKINGS).input("sale", rows(fiesta)).run(fiesta))
                .isInstanceOf(RequestException.class)
                .hasMessage("The brief has no input 'sale'. Did you mean 'sales'?");
        assertThatThrownBy(() -> Brief.of(TAKINGS).input("sales", null)).hasMessage("a table is needed, not null");
    }

    @Test
    void briefsThatAreUsedComeFirst() throws IOException {
        Files.createDirectories(folder.resolve("shared"));
        Files.writeString(folder.resolve("shared/sales.csv"), "site,day,amount\nQuay,2026-05-01,1.00\n");
        Files.writeString(
                folder.resolve("shared/sales.brief"), "input sales from 'sales.csv'\ntable all_sales from sales\n");
        Files.writeString(
                folder.resolve("takings.brief"),
                "use 'shared/sales.brief'\ntable takings from all_sales per site give sum = sum(amount)\n");
        Brief brief = Brief.read(folder.resolve("takings.brief"));
        assertThat(takings(brief)).containsExactly("site,sum", "Quay,1.00");
        assertThat(takings(brief.input("sales", rows(fiesta)))).hasSize(3);
        assertThat(brief.title()).isEqualTo("takings");
        assertThat(brief.used()).containsOnlyKeys("shared/sales.brief");
        Files.writeString(folder.resolve("shared/sales.brief"), "use '../takings.brief'");
        assertThatThrownBy(() -> Brief.read(folder.resolve("takings.brief")))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("'../takings.brief' uses this brief, so neither can come first.");
    }

    @Test
    void valuesThatDoNotFitAreToldWithTheBrief() {
        Brief brief = Brief.of("takings.brief", TAKINGS, folder).input("sales", rows(fiesta));
        assertThatThrownBy(() -> brief.set("from_day", 3).run(fiesta))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("takings.brief:1:11: The parameter 'from_day' is a date, and '3' is not.");
        assertThatThrownBy(() -> brief.set("from_day", null).run(fiesta))
                .hasMessageContaining("The parameter 'from_day' is a date, and 'null' is not.");
        assertThatThrownBy(() -> brief.set("from", "x").run(fiesta))
                .hasMessageContaining("The brief has no parameter 'from'.");
        Map<String, Object> given = new LinkedHashMap<>();
        given.put("sites", List.of(1));
        assertThatThrownBy(() -> brief.set("sites", given.get("sites")).run(fiesta))
                .hasMessageContaining("is a list of values that are each a text, and '1' is not.");
    }

    @Test
    void aRunMayBeStopped() {
        Table endless = fiesta.rows(
                SALES, () -> LongStream.iterate(0, n -> n + 1).mapToObj(n -> new Object[] {"Quay", null, n}));
        Brief brief = Brief.of(TAKINGS).input("sales", endless);
        assertThatThrownBy(() -> brief.run(fiesta, RunOptions.usual().timeout(Duration.ofMillis(300))))
                .isInstanceOf(Interrupted.class)
                .hasMessage("The run was stopped: it took longer than 0.3s.");
    }
}
