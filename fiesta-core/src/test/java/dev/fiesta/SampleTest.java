package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Rows by chance: as many as asked for, the same ones each time, whoever reads them. */
class SampleTest {
    private static final List<String> SITES = List.of("Quay", "Meadow", "Orchard");

    @TempDir
    Path folder;

    private static String sales(int rows) {
        StringBuilder text = new StringBuilder("n,site\n");
        IntStream.range(0, rows).forEach(i -> text.append(i + "," + SITES.get(i % 7 % 3) + "\n"));
        return text.toString();
    }

    private static long[] numbers(String clauses, int threads) {
        return Asking.table(sales(70_000), threads).then(clauses).run().longs("n");
    }

    @Test
    void samplesAreTheSameEachTimeAndStandInOrder() {
        long[] some = numbers("sample 100", 1);
        assertThat(some).hasSize(100).isSorted().doesNotHaveDuplicates();
        assertThat(numbers("sample 100", 4)).isEqualTo(some);
        assertThat(numbers("sample 100 seed 7", 2)).hasSize(100).isNotEqualTo(some);
        assertThat(numbers("sample 200", 2)).contains(some);
        assertThat(numbers("sample 0", 2)).isEmpty();
        assertThat(numbers("sample 80000", 2)).hasSize(70_000);
    }

    /** Of 5,000 drawn from 0 to 69,999 the mean is within five of its standard errors, about 286. */
    @Test
    void everyRowMayBeDrawn() {
        double mean = LongStream.of(numbers("sample 5000", 2)).average().orElseThrow();
        assertThat(mean).isBetween(34_999.5 - 1430, 34_999.5 + 1430);
    }

    @Test
    void partsArePartsOfEachPartition() {
        Map<String, Long> found = new HashMap<>();
        Result result = Asking.table(sales(70_000))
                .then("sample 2.5 percent within site per site give c = count()")
                .run();
        result.forEach(r -> found.put((String) r.get("site"), (Long) r.get("c")));
        assertThat(found).isEqualTo(Map.of("Quay", 750L, "Meadow", 500L, "Orchard", 500L));
        assertThat(numbers("sample 1 within site", 2)).hasSize(3);
    }

    /** A record is drawn for what it is: dropping others before does not change its luck. */
    @Test
    void recordsKeepTheirLuckBehindOtherClauses() throws IOException {
        Files.writeString(folder.resolve("a.csv"), sales(5_000));
        Files.writeString(folder.resolve("b.csv"), sales(5_000));
        String brief = """
                input s from '*.csv'
                table t from s add m = n * 2
                table before from t drop site sample 500
                table quay_after from t sample 500 only site = 'Quay'
                table quay_before from t only site = 'Quay' sample 500
                """;
        try (Fiesta fiesta = Fiesta.with().threads(3).open()) {
            Map<String, Result> results = fiesta.tables(Parser.brief(new BriefText("t.brief", brief)), folder, Map.of())
                    .run(List.of("before", "quay_after", "quay_before"));
            assertThat(results.get("before").rows()).isEqualTo(500);
            long[] after = results.get("quay_after").longs("n");
            assertThat(after).hasSizeBetween(150, 280);
            assertThat(results.get("quay_before").longs("n")).hasSize(500).contains(after);
        }
    }

    @Test
    void groupsAreDrawnByTheirKeys() {
        Table groups = Asking.table(sales(700)).per("n").give("c = count()").then("sample 20");
        Table turned = Asking.table(sales(700))
                .then("sort n desc")
                .per("n")
                .give("c = count()")
                .then("sample 20");
        assertThat(Asking.values(groups, "n")).hasSize(20).isEqualTo(Asking.values(turned, "n"));
        Table parted = Asking.table(sales(30)).then("turn n into what, value sample 4");
        assertThat(parted.run().rows()).isEqualTo(4);
    }

    /** What tells groups apart may be texts, dates, numbers or nothing: it decides alone, in memory and over a file. */
    @Test
    void groupsOfAnyKeysAreDrawnTheSameWithLittleMemory() throws IOException {
        Path file = folder.resolve("sales.csv");
        StringBuilder text = new StringBuilder("site,day,score,n\n");
        IntStream.range(0, 900)
                .forEach(i -> text.append(i % 11 == 0 ? "" : "site " + i % 40)
                        .append(",2026-05-")
                        .append(String.format("%02d", 1 + i % 28))
                        .append(',')
                        .append(i % 7 / 4.0)
                        .append("e0,")
                        .append(i)
                        .append('\n'));
        Files.writeString(file, text);
        String clauses = "per site, day, score give c = count() sample 3 within day sort day, site, score";
        List<String> drawn = null;
        for (long memory : new long[] {1 << 28, 5_000, 1}) {
            try (Fiesta fiesta = Fiesta.with().threads(2).memory(memory).open()) {
                List<String> lines =
                        Asking.lines(fiesta.read(file).then(clauses).run());
                assertThat(lines).hasSize(1 + 3 * 28);
                assertThat(drawn == null ? lines : drawn).as("memory " + memory).isEqualTo(lines);
                drawn = lines;
            }
        }
    }

    @Test
    void shufflingLosesNothing() {
        long[] mixed = numbers("shuffle", 2);
        assertThat(mixed).hasSize(70_000).doesNotHaveDuplicates();
        assertThat(mixed[0] < mixed[1] && mixed[1] < mixed[2] && mixed[2] < mixed[3] && mixed[3] < mixed[4])
                .isFalse();
        assertThat(numbers("shuffle", 1)).isEqualTo(mixed);
        assertThat(numbers("shuffle seed 2", 2)).isNotEqualTo(mixed);
        assertThat(numbers("shuffle first 3", 2)).containsExactly(mixed[0], mixed[1], mixed[2]);
    }

    @Test
    void countsAreNumbers() {
        Table sales = Asking.table(sales(3));
        assertThatThrownBy(() -> sales.then("sample site"))
                .hasMessageContaining("After 'sample' stands a number of rows.");
        assertThatThrownBy(() -> sales.then("sample 101 percent"))
                .hasMessageContaining("Before 'percent' stands a number from 0 to 100.");
        assertThatThrownBy(() -> sales.then("sample 5 seed x"))
                .hasMessageContaining("A whole number after 'seed' is expected here");
    }
}
