package dev.fiesta.member;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.params.provider.Arguments.arguments;

import dev.fiesta.Asking;
import dev.fiesta.Behind;
import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Result;
import dev.fiesta.StepLook;
import dev.fiesta.Trace;
import dev.fiesta.crew.Crew;
import dev.fiesta.problem.FiestaException;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** What is asked about tables is asked of members too, and answered as it is alone. */
class QuestionsOfCrewsTest {
    private static final String BRIEF = """
            parameter least decimal = 20
            input sales from 'sales.csv' fields amount decimal(2) bad as missing
            table large from sales only quantity % 20 = 0 and amount > :least
            table takings from large
              per site, month = start_of_month(day) give total = sum(amount), n = count(), part = share(amount within site)
              only n > 2
              add three = mean(total within site along month last 3)
              totals
            table best from large per site give total = sum(amount) first 2 along total desc rest as 'Others'
            """;

    @TempDir
    static Path folder;

    private static Path sales;

    @BeforeAll
    static void data() throws IOException {
        sales = DirtySales.write(folder, 70_000, 5, 20);
    }

    private static Arguments asked(String name, Function<Trace, Object> question) {
        return arguments(name, question);
    }

    static Stream<Arguments> questions() {
        return Stream.of(
                asked(
                        "a row",
                        t -> told(
                                t.behind("takings", Map.of("site", "site 1", "month", "2026-05-01"), Behind.Part.ROW))),
                asked("a missing key", t -> told(t.behind("takings", Map.of("site", "(missing)"), Behind.Part.ROW))),
                asked("the total", t -> told(t.behind("takings", Map.of(), Behind.Part.TOTAL))),
                asked("the rest", t -> told(t.behind("best", Map.of(), Behind.Part.REST))),
                asked("no such row", t -> told(t.behind("takings", Map.of("site", "Quay"), Behind.Part.ROW))),
                asked("samples", t -> Asking.lines(t.samples("takings", 3))),
                asked(
                        "a frame",
                        t -> Asking.lines(
                                t.frame("takings", Map.of("site", "site 1", "month", "2026-07-01"), "three"))),
                asked(
                        "what a figure is made of",
                        t -> Asking.lines(t.side("best", "total").table())),
                asked("steps", t -> steps(t.steps("takings", 4))),
                asked("the last step", t -> steps(List.of(t.step("takings", 4)))));
    }

    private static List<Object> told(Behind behind) {
        Result records = behind.records();
        return List.of(
                Asking.lines(records),
                Asking.notices(records),
                behind.figures().toString(),
                behind.shown().toString(),
                behind.differing());
    }

    private static List<Object> steps(List<StepLook> looks) {
        return looks.stream()
                .<Object>map(
                        l -> l.clause() + " " + l.rows() + " " + Asking.lines(l.first()) + Asking.notices(l.first()))
                .toList();
    }

    private static Fiesta open(@Nullable Crew crew) {
        FiestaBuilder settings = Fiesta.with().threads(2);
        return crew == null ? settings.open() : settings.crew(crew).open();
    }

    private static Object answer(Function<Trace, Object> question, @Nullable Crew crew) {
        try (Fiesta fiesta = open(crew)) {
            return question.apply(Brief.of("t", BRIEF, folder).tables(fiesta).trace());
        } catch (FiestaException e) {
            return e.getMessage();
        }
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("questions")
    void membersAnswerThem(String name, Function<Trace, Object> question) {
        HeldCrew crew = new HeldCrew(1_200, 0);
        assertThat(answer(question, crew)).isEqualTo(answer(question, null));
        assertThat(crew.asked()).isPositive();
        assertThat(crew.left()).isZero();
    }

    @Test
    void stepsOfClausesToo() {
        HeldCrew crew = new HeldCrew(1_200, 0);
        Function<Fiesta, Object> steps = fiesta -> steps(fiesta.read(sales)
                .then("only quantity > 300 per site give s = sum(quantity) only s > 100 sort s")
                .steps(2));
        try (Fiesta alone = open(null);
                Fiesta together = open(crew)) {
            assertThat(steps.apply(together)).isEqualTo(steps.apply(alone));
        }
        assertThat(crew.asked()).isPositive();
    }
}
