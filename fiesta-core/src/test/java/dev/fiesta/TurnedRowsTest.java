package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.DataException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Columns turned into rows while records are read: more rows than are worked on together, in the order of the records. */
class TurnedRowsTest {
    private static final int RECORDS = 9_000;
    private static final int DAYS = 30;
    private static final String TURN =
            IntStream.range(0, DAYS).mapToObj(d -> "d" + d).collect(Collectors.joining(", "));

    @TempDir
    static Path folder;

    @BeforeAll
    static void write() throws Exception {
        List<String> lines = new ArrayList<>();
        lines.add("stall," + TURN.replace(" ", ""));
        for (int r = 0; r < RECORDS; r++) {
            int record = r;
            lines.add("stall-" + r % 7 + ","
                    + IntStream.range(0, DAYS)
                            .mapToObj(d -> Integer.toString(value(record, d)))
                            .collect(Collectors.joining(",")));
        }
        Files.write(folder.resolve("takings.csv"), lines);
    }

    private static int value(int record, int day) {
        return (record * 31 + day * 7) % 1_000;
    }

    private List<String> asked(int threads, long memory, String clauses) {
        try (Fiesta fiesta = Fiesta.with().threads(threads).memory(memory).open()) {
            return Asking.lines(
                    fiesta.read(folder.resolve("takings.csv")).then(clauses).run());
        }
    }

    @ParameterizedTest
    @CsvSource({"1,1073741824", "3,1073741824", "2,1"})
    void allRowsInTheirOrder(int threads, long memory) {
        List<String> expected = new ArrayList<>(List.of("stall,day,n"));
        for (int r = 0; r < RECORDS; r++) {
            for (int d = 0; d < DAYS; d++) {
                expected.add("stall-" + r % 7 + ",d" + d + "," + value(r, d));
            }
        }
        assertThat(asked(threads, memory, "turn " + TURN + " into day, n")).isEqualTo(expected);
        assertThat(asked(threads, memory, "turn " + TURN + " into day, n first 70001"))
                .isEqualTo(expected.subList(0, 70_002));
        assertThat(asked(threads, memory, "turn " + TURN + " into day, n only n = 999 first 3"))
                .isEqualTo(expected.stream()
                        .filter(l -> l.startsWith("stall,") || l.endsWith(",999"))
                        .limit(4)
                        .toList());
    }

    @ParameterizedTest
    @CsvSource({"1,1073741824", "3,1073741824", "2,1"})
    void whatComesFirstIsThatOfTheRecords(int threads, long memory) {
        String ends =
                "turn " + TURN + " into day, n only n >= 500 per stall give f = first(n), l = last(n), b = first(day)";
        List<String> expected = new ArrayList<>(List.of("stall,f,l,b"));
        for (int s = 0; s < 7; s++) {
            List<int[]> found = new ArrayList<>();
            for (int r = s; r < RECORDS; r += 7) {
                for (int d = 0; d < DAYS; d++) {
                    if (value(r, d) >= 500) {
                        found.add(new int[] {value(r, d), d});
                    }
                }
            }
            int[] first = found.get(0);
            expected.add("stall-" + s + "," + first[0] + "," + found.get(found.size() - 1)[0] + ",d" + first[1]);
        }
        assertThat(asked(threads, memory, ends)).isEqualTo(expected);
    }

    @ParameterizedTest
    @CsvSource({"1", "4"})
    void ofSeveralFailuresTheFirstIsTold(int threads) {
        int first = IntStream.range(0, RECORDS)
                .filter(r -> IntStream.range(0, DAYS).anyMatch(d -> value(r, d) == 997))
                .findFirst()
                .orElseThrow();
        assertThatThrownBy(() -> asked(
                        threads,
                        1 << 30,
                        "turn " + TURN + " into day, n add t = integer(if n = 997 then 'no' else '1')"))
                .isInstanceOf(DataException.class)
                .hasMessageContaining("takings.csv, line " + (2 + first) + ").");
        assertThat(asked(
                        threads,
                        1 << 30,
                        "turn " + TURN + " into day, n first 100 add t = integer(if n = 997 then 'no' else '1')"))
                .hasSize(101);
    }

    @Test
    void twiceTurned() {
        String twice = "turn d0, d1 into a, x turn d2, d3 into b, y first 8 columns a, x, b, y";
        assertThat(asked(2, 1 << 30, twice))
                .containsExactly(
                        "a,x,b,y",
                        "d0,0,d2,14",
                        "d0,0,d3,21",
                        "d1,7,d2,14",
                        "d1,7,d3,21",
                        "d0,31,d2,45",
                        "d0,31,d3,52",
                        "d1,38,d2,45",
                        "d1,38,d3,52");
    }

    /** A row for each match while records are read, as long as a key does not stand very often. */
    @ParameterizedTest
    @CsvSource({"1,1,1073741824", "3,64,1073741824", "2,65,1073741824", "2,64,300000", "2,65,3000000"})
    void aRowForEachMatchInTheirOrder(int threads, int times, long memory) throws Exception {
        List<String> tags = new ArrayList<>(List.of("stall,tag"));
        IntStream.range(0, times).forEach(t -> tags.add("stall-3,t" + t));
        tags.add("stall-5,only");
        Path list = folder.resolve("tags-" + times + ".csv");
        Files.write(list, tags);
        List<String> expected = new ArrayList<>(List.of("stall,d0,tag"));
        for (int r = 0; r < RECORDS; r++) {
            String record = "stall-" + r % 7 + "," + value(r, 0) + ",";
            if (r % 7 == 3) {
                IntStream.range(0, times).forEach(t -> expected.add(record + "t" + t));
            } else {
                expected.add(record + (r % 7 == 5 ? "only" : ""));
            }
        }
        try (Fiesta fiesta = Fiesta.with().threads(threads).memory(memory).open()) {
            Table each = fiesta.read(folder.resolve("takings.csv")).matchEach(fiesta.read(list), "on stall bring tag");
            assertThat(Asking.lines(each.columns("stall", "d0", "tag").run())).isEqualTo(expected);
            assertThat(Asking.lines(
                            each.first(1_000).columns("stall", "d0", "tag").run()))
                    .isEqualTo(expected.subList(0, 1_001));
            List<String> matched =
                    expected.stream().filter(l -> !l.endsWith(",")).toList();
            assertThat(Asking.lines(fiesta.read(folder.resolve("takings.csv"))
                            .matchEach(fiesta.read(list), "on stall bring tag matched only")
                            .columns("stall", "d0", "tag")
                            .run()))
                    .isEqualTo(matched);
        }
    }
}
