package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Timing;
import dev.fiesta.source.TinyPieces;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What counts as read: what stands behind the last row wanted, or in a row that was dropped before anybody asked, does not. */
class PlacesTest {
    private static final String HEAD = "site,item,day,quantity,amount,score\n";

    @TempDir
    Path folder;

    private Path rows(int count, Map<Integer, String> odd) throws IOException {
        StringBuilder text = new StringBuilder(HEAD);
        for (int i = 1; i <= count; i++) {
            String plain = (i % 2 == 0 ? "Quay" : "Meadow") + ",lemonade,2026-05-01," + i + "," + i + ".50,1.5";
            text.append(odd.getOrDefault(i, plain)).append('\n');
        }
        return Files.writeString(folder.resolve("sales.csv"), text);
    }

    private static Result run(Path file, String clauses, int threads, boolean badAsMissing) {
        try (Fiesta fiesta = Fiesta.with().threads(threads).open()) {
            return TinyPieces.read(fiesta, file, 48, badAsMissing).then(clauses).run();
        }
    }

    private static List<String> told(Result result) {
        return result.notices().list().stream().map(Notices.Notice::text).toList();
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 8})
    void whatStandsBehindTheLastRowWantedDoesNotCount(int threads) throws IOException {
        Path file = rows(
                400,
                Map.of(
                        3, "Quay,lemonade,2026-05-01,oops,3.50,1.5",
                        5, "Quay,lemonade,2026-05-01,oops,5.50,1.5",
                        6, "Quay,lemonade,2026-05-01,oops,6.50,1.5",
                        300, "Quay,lemonade,2026-05-01,oops,1.50,1.5"));
        Result result = run(file, "add x = quantity * 2 first 5", threads, true);
        assertThat(result.rows()).isEqualTo(5);
        assertThat(told(result))
                .containsExactly(
                        "quantity: 2 values could not be read and became missing, such as 'oops' (sales.csv, line 4)",
                        "x: 2 of 5 rows are missing because of a missing field, such as quantity");
        assertThat(result.timings().stream().map(PlacesTest::rows))
                .containsExactly("read 5 to 5", "add 5 to 5", "first 5 to 5");
    }

    private static String rows(Timing step) {
        return step.step() + " " + step.rowsIn() + " to " + step.rowsOut();
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 8})
    void aFaultBehindTheLastRowWantedIsNone(int threads) throws IOException {
        Path file = rows(400, Map.of(9, "Quay,lemonade,2026-05-01,oops,3.50,1.5", 12, "short"));
        Result result = run(file, "only quantity % 2 = 0 first 4", threads, false);
        assertThat(result.longs("quantity")).containsExactly(2, 4, 6, 8);
        assertThatThrownBy(() -> run(file, "only quantity % 2 = 0 first 5", threads, false))
                .isInstanceOf(DataException.class)
                .hasMessageStartingWith("sales.csv, line 10: field quantity: 'oops'");
        assertThatThrownBy(() -> run(file, "only amount > 0 first 11 columns site", threads, false))
                .hasMessageStartingWith("sales.csv, line 10: field quantity: 'oops'");
        assertThatThrownBy(() -> run(file, "only amount > 0 first 12 drop quantity", threads, false))
                .hasMessageStartingWith("sales.csv, line 13: this row has 1 cell");
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            first 2 along amount desc                          | 400, 399
            first 1 within site along amount desc              | 399, 400
            sort amount desc first 2                           | 400, 399
            add r = rank(within site along amount) only r = 1  | 1, 2
            distinct site                                      | 1, 2
            first 1 within site                                | 1, 2
            sort amount only amount < 3 add x = quantity * 2   | 1, 2
            """)
    void cellsOfRowsThatAreDroppedAreNotRead(String clauses, String left) throws IOException {
        Path file = rows(400, Map.of(7, "Quay,lemonade,2026-05-01,oops,3.75,oops"));
        for (int threads : new int[] {1, 3}) {
            for (boolean badAsMissing : new boolean[] {false, true}) {
                Result result = run(file, clauses, threads, badAsMissing);
                assertThat(result.texts("site")).doesNotContainNull();
                assertThat(List.of(left.split(", ")))
                        .isEqualTo(Arrays.stream(result.longs("quantity"))
                                .mapToObj(Long::toString)
                                .toList());
                assertThat(told(result)).noneMatch(t -> t.contains("could not be read"));
            }
        }
    }

    @Test
    void cellsThatAreReadLateAreToldAndCountedAsOthersAre() throws IOException {
        Path file = rows(400, Map.of(390, "Quay,lemonade,2026-05-01,oops,990.50,oops"));
        assertThatThrownBy(() -> run(file, "first 2 along amount desc", 2, false))
                .hasMessageStartingWith("sales.csv, line 391: field quantity: 'oops'");
        Result result = run(file, "first 2 along amount desc", 2, true);
        assertThat(told(result))
                .containsExactly(
                        "quantity: 1 value could not be read and became missing, such as 'oops' (sales.csv, line 391)",
                        "score: 1 value could not be read and became missing, such as 'oops' (sales.csv, line 391)");
        assertThat(result.row(0).get("quantity")).isNull();
        assertThat(result.longs("quantity")[1]).isEqualTo(400);
    }

    @Test
    void aCellCountsOnceHoweverManyTablesReadIt() throws IOException {
        Path file = rows(50, Map.of(7, "Quay,lemonade,2026-05-01,oops,3.75,1.5"));
        try (Fiesta fiesta = Fiesta.open()) {
            Table sales = TinyPieces.read(fiesta, file, 64, true);
            Table few = sales.only("amount < 20");
            Table both = few.per("site")
                    .give("q = sum(quantity)")
                    .match(sales.only("amount < 30").per("site").give("p = sum(quantity)"), "on site bring p");
            assertThat(told(both.run()))
                    .containsExactly(
                            "quantity: 1 value could not be read and became missing, such as 'oops' (sales.csv, line 8)");
        }
    }

    /** A file that changes under a run fails it, and what then cannot be read is not blamed on the data. */
    @ParameterizedTest
    @ValueSource(
            strings = {"per site", "first 2 along amount desc", "sort amount", "add r = rank(along amount) only r < 3"})
    void aFileThatChangesWhileItIsReadIsTold(String clauses) throws IOException {
        Path file = rows(200_000, Map.of());
        boolean[] changed = {false};
        try (Fiesta fiesta = Fiesta.with()
                .threads(2)
                .progress(p -> {
                    if (!changed[0] && p.phase().startsWith("reading")) {
                        changed[0] = true;
                        try {
                            Files.writeString(file, HEAD + "Quay,lemonade,2026-05-01,oops,oops,oops\n");
                        } catch (IOException e) {
                            throw new java.io.UncheckedIOException(e);
                        }
                    }
                })
                .open()) {
            assertThatThrownBy(() -> fiesta.read(file).then(clauses).run())
                    .isInstanceOf(DataException.class)
                    .hasMessageEndingWith("sales.csv' was changed while it was read. Run again when it is whole.");
        }
        assertThat(changed[0]).isTrue();
    }
}
