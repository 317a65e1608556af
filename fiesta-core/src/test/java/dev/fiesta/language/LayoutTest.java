package dev.fiesta.language;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.BriefException;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

class LayoutTest {
    private static final String BRIEF = """
            # Made up.
            brief 'Takings'

            settings locale 'en-IE' week starts monday collate 'pt'

            use 'common.brief'

            parameter least decimal = -1.50 'at least'  # or more
            parameter sites text list optional

            input sales from 'a.csv' 'b.csv' as csv
              fields day date, "Sold at" datetime 'yyyy' from "x y", net decimal(2) default 0
            input stalls from 'stalls.csv'

            # The best.
            table best from sales
              only   (net > :least or not site in ('Quay', 'Old Town')) and day - 1 month < 2026-05-01  # why
              # alone
              add    a = -net * (1 + 2), b = if net > 1 then 'x' else 'y',
                     c = sum(net only site = 'Quay' within site along day last 7 days)
              per    site, month = month(day) against method in ('card', 'cash') rest as 'Other'
              give   s = sum(net), each(sum, mean of amount, 'fee_*')
              totals
              columns site 'Site', s money 'EUR'
              check  s adds up to best.net 'they agree' or warn

            report
              heading 'Heading'
              say     'Since {:from}'
              table   best 'Best' rows 5
              chart   lines best x month y s by site 'Lines' log
              new page
            """;

    private static String laidOut(String text) {
        return Parser.layOut(new BriefText("t.brief", text));
    }

    @Test
    void whatIsLaidOutStaysAsItIs() {
        assertThat(laidOut(BRIEF)).isEqualTo(BRIEF);
    }

    @Test
    void oneLineBecomesMany() {
        assertThat(
                        laidOut(
                                "input s from 'a.csv' table t from s only a=1 and -b<2 per k give n=count( ) totals report table t"))
                .isEqualTo("""
                        input s from 'a.csv'

                        table t from s
                          only   a = 1 and -b < 2
                          per    k
                          give   n = count()
                          totals

                        report
                          table   t
                        """);
    }

    @Test
    void longLinesAreBrokenBehindCommasAndBeforeWordsThatJoin() {
        String condition = "only a_rather_long_name = 'a rather long text' and another_long_name = 'another text' or "
                + "a_third_name is missing";
        assertThat(laidOut("table t from s " + condition + " add " + "x = f(a, b), ".repeat(12) + "y = 1"))
                .isEqualTo("""
                table t from s
                  only   a_rather_long_name = 'a rather long text' and another_long_name = 'another text'
                         or a_third_name is missing
                  add    x = f(a, b), x = f(a, b), x = f(a, b), x = f(a, b), x = f(a, b), x = f(a, b), x = f(a, b),
                         x = f(a, b), x = f(a, b), x = f(a, b), x = f(a, b), x = f(a, b), y = 1
                """);
    }

    /** Words and comments are the same behind any line ends and blanks, and laying out again changes nothing. */
    @Test
    void onlyBlanksAndLineEndsChange() {
        for (long seed = 0; seed < 500; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            StringBuilder scattered = new StringBuilder();
            int at = 0;
            for (Token token : Lexer.tokens(new BriefText("t", BRIEF), new ArrayList<>())) {
                String between = BRIEF.substring(at, token.at().start());
                boolean comment = between.contains("#");
                boolean adjoining = between.isEmpty();
                scattered.append(comment ? between : adjoining ? "" : random.nextInt(3) == 0 ? "\n  " : "  ");
                scattered.append(BRIEF, token.at().start(), token.at().end());
                at = token.at().end();
            }
            String once = laidOut(scattered.toString());
            assertThat(words(once)).as("seed %s", seed).isEqualTo(words(BRIEF));
            assertThat(comments(once)).as("seed %s", seed).isEqualTo(comments(BRIEF));
            assertThat(laidOut(once)).as("seed %s", seed).isEqualTo(once);
        }
    }

    private static List<String> words(String text) {
        return Lexer.tokens(new BriefText("t", text), new ArrayList<>()).stream()
                .map(t -> t.kind() + " " + t.text())
                .toList();
    }

    private static List<String> comments(String text) {
        return text.lines()
                .filter(l -> l.contains("#"))
                .map(l -> l.substring(l.indexOf('#')))
                .toList();
    }

    @Test
    void aTextWithMistakesIsNotLaidOut() {
        assertThatThrownBy(() -> laidOut("table t from s only"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("is expected here");
    }
}
