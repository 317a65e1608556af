package dev.fiesta.member;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Result;
import dev.fiesta.crew.Crew;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.source.TinyPieces;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Rows of equal keys are gone on with by members, and come to what they come to alone; whatever is odd about a part is told as ever. */
class PartsOfRowsTest {
    private static final String RANKS = "add r = rank(within site along amount desc) only r <= 3";

    @TempDir
    static Path folder;

    private static Path sales;

    @BeforeAll
    static void data() throws IOException {
        sales = DirtySales.write(folder, 400, 12, 40);
    }

    private static String outcome(String clauses, @Nullable Crew crew) {
        return outcome(clauses, crew, 1 << 26);
    }

    /** @param memory of the one who asks */
    private static String outcome(String clauses, @Nullable Crew crew, long memory) {
        FiestaBuilder settings = Fiesta.with().memory(memory);
        try (Fiesta fiesta =
                        crew == null ? settings.open() : settings.crew(crew).open();
                Result result =
                        TinyPieces.read(fiesta, sales, 60, true).then(clauses).run()) {
            return Asking.outcome(result);
        } catch (FiestaException e) {
            return "failed: " + e.getMessage();
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                RANKS,
                "add r = rank(within site along amount desc), m = mean(amount within item, site along quantity last 3)",
                "add s = sum(amount within month(day) along quantity running), n = count(within month(day), site)",
                "add s = sum(amount within site along quantity running) only s > 200 add k = s * 2, q = count(within site)",
                "add d = 1 add p = row_number(within item along quantity) distinct item, site",
                "distinct site, item add n = count(within site)",
                "fill amount within site along quantity",
                "add n = count(within site) add r = rank(within site along amount * n desc, quantity) only r > 2",
                "distinct site per site give n = count() totals",
                "sort amount, quantity",
                "sort amount desc only quantity > 3 add k = quantity * 2",
                "sort site, amount desc, item desc",
                "sort month(day) desc, amount per site give f = first(amount), s = sum(quantity)",
                "sort item add r = row_number(within site along quantity)",
                "sort quantity distinct site, item",
                "only quantity > 2 sort site columns site, amount",
                "sample 10 percent within site",
                "add n = count(within site) sample 10 percent within item",
                "add n = count(within site) shuffle seed 2",
                "sample 600 within site add n = count(within site)",
                "add r = rank(along amount desc)",
                "add d = dense_rank(along amount desc), p = row_number(along amount desc), q = percent_rank(along amount desc)",
                "add t = ntile(4 along quantity) only t = 2",
                "add s = sum(amount along quantity running), n = count(along quantity running), m = max(amount along quantity running)",
                "add b = sum(amount along quantity from here to end), s = mean(amount along quantity running) only b > 1000",
                "add m = mean(amount along quantity last 7), c = sum(amount along quantity from 3 before to 2 after)",
                "add l = lag(amount along quantity), k = lead(amount, 2 along quantity), c = count(along quantity next 3) add d = amount - l",
                "add r = rank(only site = 'site 3' along amount desc), n = count(only item = 'item 2' along amount desc running)",
                "add total = sum(amount within all), part = share(amount within all), n = count(within all) only part > 0.001",
                "add total = mean(amount within all), r = rank(along day desc, quantity) per site give m = max(r), t = max(total)",
                "add s = sum(quantity along day last 5), n = count(score within all), v = stddev(amount within all)",
                "add s = sum(score along quantity running), v = stddev(score within all)",
                "add r = rank(within site along amount) gapless day every 1 day within site",
                "add r = rank(within site along amount) add t = sum(r along quantity running) sort t desc first 5"
            })
    void whatMembersGoOnWithIsTheSame(String clauses) {
        String alone = outcome(clauses, null);
        assertThat(alone).doesNotStartWith("failed");
        HeldCrew crew = new HeldCrew(1_200, 0);
        assertThat(outcome(clauses, crew)).isEqualTo(alone);
        assertThat(crew.opened).as("sections that were opened by members").isNotEmpty();
        assertThat(crew.left()).as("answers that nobody needs").isZero();
        assertThat(outcome(clauses, new HeldCrew(1_200, 0), 1)).isEqualTo(alone);
        assertThat(outcome(clauses, new HeldCrew(1_200, 3), 1)).isEqualTo(alone);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "add m = median(amount along quantity running)",
                "add m = sum(amount along day last 3 days)",
                "add r = rank(along amount desc), s = sum(amount along quantity running)",
                "add f = first(amount along quantity running)",
                "add r = rank(within site along amount), t = sum(amount along quantity running) sort quantity",
                "sort amount desc first 7",
                "sample 10 percent",
                "shuffle seed 3",
                "turn quantity, amount into what, n sample 10 percent within site",
                "only site = 'nowhere' add r = rank(within site along amount)",
                "per site give s = sum(amount)"
            })
    void whatLooksAtAllRowsIsDoneWhereItWasAsked(String clauses) {
        HeldCrew crew = new HeldCrew(1_200, 0);
        assertThat(outcome(clauses, crew)).isEqualTo(outcome(clauses, null));
        assertThat(crew.opened).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "add r = rank(within site along amount), x = 1 / (quantity - 300)",
                "add r = row_number(within site along quantity) add k = number(site)",
                "add r = row_number(within site along quantity) only 10 / (r - 4) > 1",
                "sort amount add x = 1 / (quantity - 300)",
                "sort site add k = number(site)"
            })
    void whatAPartHasToTellIsToldAsEver(String clauses) {
        HeldCrew crew = new HeldCrew(1_200, 0);
        assertThat(outcome(clauses, crew)).isEqualTo(outcome(clauses, null));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "only site = 'nowhere' sort amount desc",
                "only amount > 1000000 sort amount desc, site only quantity > 1",
                "add x = if false then amount sort x, amount desc",
                "sort if site = 'Quay' then missing else amount, quantity desc"
            })
    void rangesOfFewValues(String clauses) {
        String alone = outcome(clauses, null);
        assertThat(outcome(clauses, new HeldCrew(1_200, 0))).isEqualTo(alone).doesNotStartWith("failed");
        assertThat(outcome(clauses, new HeldCrew(1_200, 2), 1)).isEqualTo(alone);
    }

    @Test
    void aPlanTellsWhatMembersGoOnWith() {
        try (Fiesta fiesta = Fiesta.with().crew(new HeldCrew(1_200, 0)).open()) {
            List<String> told = Brief.of("""
                            input s from 'sales.csv'
                            table t from s
                              add    r = rank(within site along amount)
                              only   r <= 100
                              sort   amount
                            table u from s
                              sort   amount desc
                              only   amount > 2
                            table v from s
                              sort   amount desc
                              first  3
                            """)
                    .input("s", TinyPieces.read(fiesta, sales, 60, true))
                    .tables(fiesta)
                    .explain(List.of("t", "u", "v"))
                    .tables()
                    .stream()
                    .flatMap(t -> t.clauses().stream())
                    .flatMap(c -> c.steps().stream())
                    .map(step -> step.replaceAll(".*, (?=by|over|while)", ""))
                    .toList();
            assertThat(told)
                    .containsExactly(
                            "by members, in parts of equal keys",
                            "by members, in parts of equal keys",
                            "over all rows",
                            "by members, range by range",
                            "by members, range by range",
                            "over all rows",
                            "over all rows");
        }
    }

    @Test
    void whatAMemberCannotOpenIsReadAgainWhereItWasAsked() {
        String alone = outcome(RANKS, null);
        for (int lost : new int[] {1, 7, 1_000}) {
            HeldCrew crew = new HeldCrew(1_200, lost);
            assertThat(outcome(RANKS, crew)).isEqualTo(alone);
            assertThat(crew.opened).isNotEmpty();
            assertThat(crew.left()).isZero();
        }
    }
}
