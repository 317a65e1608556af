package dev.fiesta.problem;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.language.Braces;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Span;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ProblemTest {
    private final BriefText text = new BriefText("a.brief", "first line\n  sécond \uD83C\uDFAA line\n\nlast");

    @ParameterizedTest
    @CsvSource({
        "0, 5, 1, 1, 5",
        "13, 19, 2, 3, 6",
        "20, 22, 2, 10, 1",
        "23, 27, 2, 12, 4",
        "28, 28, 3, 1, 1",
        "29, 33, 4, 1, 4",
        "33, 33, 4, 5, 1",
        "90, 95, 4, 5, 1"
    })
    void placesCountLinesAndCharacters(int start, int end, int line, int column, int length) {
        Problem problem = text.problem(new Span(start, end), "message", null);
        assertThat(problem.line()).isEqualTo(line);
        assertThat(problem.column()).isEqualTo(column);
        assertThat(problem.length()).isEqualTo(length);
    }

    @Test
    void aProblemIsShownWithItsLine() {
        assertThat(text.problem(new Span(13, 19), "This is wrong.", "Do that.").text())
                .isEqualTo("""
                a.brief:2:3: This is wrong.
                    2 |   sécond \uD83C\uDFAA line
                      |   ^^^^^^
                  Do that.""");
        assertThat(text.problem(new Span(29, 33), "This is wrong.", null).text())
                .endsWith("last\n      | ^^^^");
        assertThat(text.at(new Span(0, 5))).isEqualTo("first");
    }

    @Test
    void severalProblemsAreOneFailure() {
        Problem one = text.problem(new Span(0, 5), "One.", null);
        Problem two = text.problem(new Span(29, 33), "Two.", null);
        BriefException failure = new BriefException(List.of(one, two));
        assertThat(failure.problems()).containsExactly(one, two);
        assertThat(failure.getMessage()).isEqualTo(one.text() + "\n\n" + two.text());
        assertThat(failure).isInstanceOf(FiestaException.class);
    }

    @ParameterizedTest
    @CsvSource({
        "amuont, amount",
        "Amount, amount",
        "amt, ''",
        "stal, stall",
        "sitte, site",
        "siet, site",
        "quantty, quantity",
        "xyz, ''",
        "method_, method"
    })
    void theNearestNameIsFound(String wrong, String right) {
        List<String> names = List.of("site", "stall", "amount", "quantity", "method");
        assertThat(Names.nearest(wrong, names)).isEqualTo(right.isEmpty() ? List.of() : List.of(right));
    }

    @Test
    void lettersAreCountedAsSomebodyTypes() {
        assertThat(Names.distance("", "abc")).isEqualTo(3);
        assertThat(Names.distance("abc", "abc")).isZero();
        assertThat(Names.distance("abcd", "abdc")).as("two neighbours swapped").isEqualTo(1);
        assertThat(Names.distance("kitten", "sitting")).isEqualTo(3);
    }

    @Test
    void theSentenceNamesWhatThereIsWhenNothingIsNear() {
        assertThat(Names.didYouMean("sum", List.of("sums", "zebra"), "There are")
                        .text())
                .isEqualTo("Did you mean 'sums'?");
        assertThat(Names.didYouMean("xxxxx", List.of("a", "b"), "There are").text())
                .isEqualTo("There are: a, b.");
        assertThat(Names.didYouMean("x", List.of(), "There are").text()).isEqualTo("There are none.");
        List<String> many =
                IntStream.range(0, 25).mapToObj(i -> "field_number_" + i).toList();
        assertThat(Names.didYouMean("x", many, "There are").text()).endsWith("field_number_19 and 5 more.");
    }

    @Test
    void bracesAreFilledWhereSomebodyKnows() {
        Map<String, String> known = Map.of(":day", "1 May", "best.rows", "3 $");
        assertThat(Braces.fill("From {:day}: {best.rows} of { :day } and {other}", known::get))
                .isEqualTo("From 1 May: 3 $ of 1 May and {other}");
        assertThat(Braces.fill("no braces } {", known::get)).isEqualTo("no braces } {");
    }

    @Test
    void countsAreToldInSentences() {
        Notices notices = new Notices();
        notices.count(Notices.Kind.TIES, "rank", 2);
        notices.count(Notices.Kind.UNMATCHED, "match", 1);
        notices.count(Notices.Kind.TIES, "rank", 3);
        notices.count(Notices.Kind.TIES, "none", 0);
        notices.warn("careful");
        assertThat(notices.list())
                .extracting(Notices.Notice::text)
                .containsExactly(
                        "match: 1 row found no match", "rank: 5 rows stood level with another; their order decided");
        assertThat(notices.warnings()).containsExactly("careful");
    }
}
