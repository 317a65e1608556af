package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.BriefException;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** One argument is one item: what goes on into another clause, or comments the rest away, is refused. */
class OneItemTest {
    private static final Table SALES = Asking.table("site,kind,n,p\nQuay,tea,1,2\n");
    private static final Table OTHER = Asking.table("site,area\nQuay,1\n");

    static Stream<Arguments> onwards() {
        return Stream.of(
                of(() -> SALES.only("n > 0 per all give x = count()")),
                of(() -> SALES.add("a = 1 only n > 5")),
                of(() -> SALES.add("a = 1", "b = 2 first 1")),
                of(() -> SALES.per("site give x = count()").give("y = count()")),
                of(() -> SALES.per("site sort site")),
                of(() -> SALES.per("site").give("x = count() only x > 1")),
                of(() -> SALES.sort("n first 1")),
                of(() -> SALES.first(1, "along n sort p")),
                of(() -> SALES.per("site").give("x = count()").totals("site sort site")),
                of(() -> SALES.distinct("site first 1")),
                of(() -> SALES.gapless("n", "with 0 first 1")),
                of(() -> SALES.fill("n", "along p first 1")),
                of(() -> SALES.turn(List.of("n", "p"), "a", "b first 1")),
                of(() -> SALES.rename("n as m first 1")),
                of(() -> SALES.drop("n first 1")),
                of(() -> SALES.sample("1 first 1")),
                of(() -> SALES.check("n > 0 first 1")),
                of(() -> SALES.per("site").give("x = count()").hide("x < 5 first 1", "x")),
                of(() -> SALES.columns("n first 1")),
                of(() -> SALES.match(OTHER, "on site bring area first 1")),
                of(() -> SALES.matchEach(OTHER, "on site bring area first 1")),
                of(() -> SALES.gapless(OTHER, "site", "with 0 first 1")));
    }

    private static Arguments of(Supplier<Object> call) {
        return Arguments.of(call);
    }

    @ParameterizedTest
    @MethodSource
    void onwards(Supplier<Object> call) {
        assertThatThrownBy(call::get)
                .isInstanceOf(BriefException.class)
                .message()
                .containsAnyOf(
                        "What is told here goes on into another clause.",
                        "What is told here goes on into another part of 'per'.");
    }

    @Test
    void commentsAreRefusedAndSignsOfThemInTextsAreNot() {
        assertThatThrownBy(() -> SALES.add("a = 1 # c", "q = 2"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("There is a comment here, which would hide what follows.");
        assertThat(SALES.add("a = '# c'", "q = 2").schema().names()).endsWith("a", "q");
        assertThat(SALES.rename("n as \"#\"").schema().names()).contains("#");
    }

    @Test
    void severalItemsInOneTextAreRefused() {
        assertThatThrownBy(() -> SALES.add("a = 1, b = 2"))
                .isInstanceOf(BriefException.class)
                .hasMessage("""
                        add:1:5: This is one text, and it holds 2 items.
                            1 | add a = 1, b = 2
                              |     ^^^^^^^^^^^^
                          Each item is a text of its own.""");
        assertThatThrownBy(() -> SALES.sort("n, p")).hasMessageContaining("it holds 2 items");
        assertThatThrownBy(() -> SALES.per("site, kind")).hasMessageContaining("it holds 2 items");
        assertThatThrownBy(() -> SALES.per("site").give("a = count(), b = sum(n)"))
                .hasMessageContaining("it holds 2 items");
        assertThatThrownBy(() -> SALES.columns("n, p")).hasMessageContaining("it holds 2 items");
        assertThat(SALES.add("a = round(n / 3, 2)", "b = if n in (1, 2) then 'x' else 'y'")
                        .schema()
                        .names())
                .endsWith("a", "b");
        assertThat(SALES.per("site").give("each(sum, max of n, p)").schema().names())
                .containsExactly("site", "n_sum", "n_max", "p_sum", "p_max");
    }

    @Test
    void namesFromOutsideAreQuoted() {
        Table odd = Asking.table("\"a \"\"b\"\" # per\",n\n1,2\n");
        String name = "a \"b\" # per";
        assertThat(odd.schema().names()).contains(name);
        assertThat(odd.only(Fiesta.quote(name) + " = :v", Map.of("v", 1)).run().rows())
                .isEqualTo(1);
        assertThat(odd.drop(Fiesta.quote(name)).schema().names()).containsExactly("n");
        assertThatThrownBy(() -> Fiesta.quote("")).hasMessage("'' can be no name: it is empty");
        assertThatThrownBy(() -> Fiesta.quote("a\nb")).hasMessageContaining("it holds a sign that is no character");
    }

    @Test
    void keysAreLaidOutAsColumns() {
        Table sales = Asking.table("site,month,n\nQuay,May,1\nQuay,June,2\nMeadow,May,3\n");
        assertThat(Asking.lines(sales.per("site")
                        .against("month in ('May', 'June') with 0")
                        .give("n = sum(n)")
                        .sort("site")
                        .run()))
                .containsExactly("site,May,June", "Meadow,3,0", "Quay,1,2");
        assertThatThrownBy(() -> sales.per("site").against("month, n").give("n = sum(n)"))
                .isInstanceOf(BriefException.class);
    }

    @Test
    void fourHundredCallsAreOneTable() {
        Table table = SALES;
        for (int i = 0; i < 400; i++) {
            table = table.add("f" + i + " = n + " + i);
        }
        assertThat(table.run().row(0).integer("f399")).isEqualTo(400);
    }
}
