package dev.fiesta.language;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PrinterTest {
    private static String again(String text) {
        return Printer.print(Parser.expression(new BriefText("text", text)));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "a + b * c",
                "(a + b) * c",
                "a - (b - c)",
                "not (a or b) and c",
                "x not between 1 and 2",
                "\"Sold at\" is not missing",
                "site in ('Quay', 'Old Town')",
                "site not in :sites",
                "if a > 1 then 'x' else if b then 'y' else 'z'",
                "sum(net only status = 'settled' within site, year(week) along week desc last 7 days full)",
                "rank(within all along takings desc, week)",
                "mean(takings along week from 3 before to 1 after at least 2)",
                "reword(method, 'card' as 'plastic', 'it''s' as 'x', else 'other')",
                "lag(takings, 1 week within site along week)",
                "-(-a)",
                "1.5e-7 + 12.50",
                "2026-05-01 - 3 months",
                "\"first\" || \"within\""
            })
    void printsWhatWasWritten(String text) {
        assertThat(again(text)).isEqualTo(text);
    }

    @Test
    void printedTextIsReadAsTheSameTree() {
        for (long seed = 0; seed < 3000; seed++) {
            String once = again(new RandomText(seed).expression(4));
            assertThat(again(once)).as("seed %s", seed).isEqualTo(once);
        }
    }

    /** Random expressions with more brackets than they need. */
    private static final class RandomText {
        private final SplittableRandom random;

        RandomText(long seed) {
            random = new SplittableRandom(seed);
        }

        String expression(int depth) {
            if (depth == 0) {
                return pick(
                        "a", "\"Sold at\"", "12", "1.50", "'it''s'", "2026-05-01", ":p", "missing", "true", "2.0e10");
            }
            String x = expression(depth - 1);
            String y = expression(random.nextInt(depth));
            return switch (random.nextInt(12)) {
                case 0 ->
                    "(" + x + ") " + pick("+", "-", "*", "/", "%", "||", "=", "<>", "<", "and", "or") + " (" + y + ")";
                case 1 ->
                    "(" + x + ") " + pick("", "not ") + pick("contains", "starts with", "matches") + " (" + y + ")";
                case 2 -> "not (" + x + ")";
                case 3 -> "-(" + x + ")";
                case 4 -> "(" + x + ") between (" + y + ") and 3";
                case 5 -> "(" + x + ") " + pick("in", "not in") + " ((" + y + "), 2)";
                case 6 -> "(" + x + ") is " + pick("", "not ") + "missing";
                case 7 -> "if (" + x + ") then (" + y + ") else 1";
                case 8 -> "f((" + x + "), (" + y + "))";
                case 9 ->
                    "sum((" + x + ") within a, b along (" + y + ") desc "
                            + pick("running", "last 3", "next 2 full", "from start to 1 after") + ")";
                case 10 -> "(" + x + ") + " + pick("1 day", "7 weeks", "2 quarters");
                default -> "reword(a, 'x' as 'y', else (" + x + "))";
            };
        }

        private String pick(String... choices) {
            return choices[random.nextInt(choices.length)];
        }
    }
}
