package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;

import dev.fiesta.language.Op;
import dev.fiesta.problem.CheckException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What must hold is held to in memory and over a file alike: the same outcome, the same message, the same rows named. */
class ChecksTest {
    private static final long[] MEMORIES = {1, 3_000, 1 << 28};

    @TempDir
    Path folder;

    /** 300 records: amounts 0 to 299, every 30th site missing. */
    private Path sales() throws IOException {
        StringBuilder text = new StringBuilder("site,number,amount\n");
        for (int i = 0; i < 300; i++) {
            text.append(i % 30 == 29 ? "" : List.of("Quay", "Meadow", "Grove").get(i % 3))
                    .append(',')
                    .append(i)
                    .append(',')
                    .append(i)
                    .append('\n');
        }
        return Files.writeString(folder.resolve("sales.csv"), text);
    }

    /** What comes of clauses, with whatever memory: {@code rows N}, or the message. */
    private String outcome(String clauses) throws IOException {
        Path file = sales();
        List<String> outcomes = new ArrayList<>();
        for (long memory : MEMORIES) {
            try (Fiesta fiesta = Fiesta.with().threads(2).memory(memory).open()) {
                Throwable failure = catchThrowable(() -> {
                    try (Result result = fiesta.read(file).then(clauses).run()) {
                        outcomes.add(
                                "rows " + result.rows() + " " + result.notices().warnings());
                    }
                });
                if (failure != null) {
                    assertThat(failure).as(clauses).isInstanceOf(CheckException.class);
                    outcomes.add(failure.getMessage());
                }
            }
        }
        assertThat(outcomes)
                .as(clauses + " with memories of " + MEMORIES.length + " sizes")
                .containsOnly(outcomes.get(0));
        return outcomes.get(0);
    }

    static Stream<Op> comparisons() {
        return Stream.of(Op.values()).filter(Op::compares);
    }

    private static boolean holds(Op op, int rows, int count) {
        int sign = Integer.compare(rows, count);
        return switch (op) {
            case EQUAL -> sign == 0;
            case DIFFERENT -> sign != 0;
            case LESS -> sign < 0;
            case AT_MOST -> sign <= 0;
            case GREATER -> sign > 0;
            case AT_LEAST -> sign >= 0;
            default -> throw new IllegalArgumentException(op.toString());
        };
    }

    @ParameterizedTest
    @MethodSource("comparisons")
    void theNumberOfRowsIsComparedAsWritten(Op op) throws IOException {
        for (int count : new int[] {0, 1, 2}) {
            String clauses = "only number = 7 check rows " + op.sign() + " " + count;
            String outcome = outcome(clauses);
            assertThat(outcome.startsWith("rows 1"))
                    .as(clauses + ": " + outcome)
                    .isEqualTo(holds(op, 1, count));
            if (!holds(op, 1, count)) {
                assertThat(outcome).endsWith("check rows " + op.sign() + " " + count + ": there is 1 row.");
            }
        }
    }

    @Test
    void theFirstOffendersAreNamedAndTheOthersCounted() throws IOException {
        assertThat(outcome("sort number desc check amount < 40 'too dear'")).isEqualTo("""
                The check does not hold: clauses:1: too dear
                  check amount < 40 'too dear'
                  260 rows do not meet it:
                    amount 299, site –, number 299
                    amount 298, site Meadow, number 298
                    amount 297, site Quay, number 297
                    amount 296, site Grove, number 296
                    amount 295, site Meadow, number 295
                    amount 294, site Quay, number 294
                    amount 293, site Grove, number 293
                    amount 292, site Meadow, number 292
                    amount 291, site Quay, number 291
                    amount 290, site Grove, number 290
                  Rows 1 to 10 of 260.""");
    }

    @Test
    void aConditionThatIsMissingDoesNotHold() throws IOException {
        assertThat(outcome("check site <> 'Pier'")).contains("10 rows do not meet it:");
        assertThat(outcome("only site is not missing check site <> 'Pier'")).isEqualTo("rows 290 []");
    }

    @Test
    void keysAreUniqueWhereNoTwoRowsHaveTheSame() throws IOException {
        assertThat(outcome("check unique number")).isEqualTo("rows 300 []");
        assertThat(outcome("check unique site, number")).isEqualTo("rows 300 []");
        assertThat(outcome("only number < 4 check unique site"))
                .contains("2 rows do not meet it:")
                .contains("site Quay");
        assertThat(outcome("only site is missing check unique site"))
                .as("missing keys are a key")
                .contains("10 rows do not meet it:");
    }

    @Test
    void whatOnlyWarnsLetsTheRowsPass() throws IOException {
        assertThat(outcome("only number < 2 check amount > 0 'nothing sold' or warn check rows > 5 or warn"))
                .isEqualTo("""
                        rows 2 [The check does not hold: clauses:1: nothing sold
                          check amount > 0 'nothing sold' or warn
                          1 row does not meet it:
                            amount 0, site Quay, number 0, \
                        The check does not hold: clauses:1: check rows > 5 or warn: there are 2 rows.]""");
    }

    /** Sums over groups and over records are the same, until something is left out or was never there. */
    @ParameterizedTest
    @ValueSource(ints = {0, 3, 500})
    void sumsAreHeldToThoseOfAnotherTable(int least) throws IOException {
        sales();
        String brief = "input sales from 'sales.csv' table all_of_it from sales only number >= " + least
                + " table t from all_of_it per site give total = sum(amount) check total adds up to all_of_it.amount"
                + " table u from sales check amount adds up to all_of_it.amount or warn";
        for (long memory : MEMORIES) {
            try (Fiesta fiesta = Fiesta.with().memory(memory).open()) {
                Result all = fiesta.brief("t", brief, folder)
                        .tables(fiesta)
                        .run(List.of("t", "u"))
                        .get("u");
                String sums = least == 500 ? "44850 and –" : "44850 and 44847";
                assertThat(all.notices().warnings())
                        .isEqualTo(
                                least == 0
                                        ? List.of()
                                        : List.of(
                                                "The check does not hold: t:1: check amount adds up to all_of_it.amount or warn: the sums are "
                                                        + sums + "."));
            }
        }
    }
}
