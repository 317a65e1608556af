package dev.fiesta.operate.window;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Frames of hundreds of rows over partitions of thousands, which do not fit: the figures are those of rows in memory. */
class FarFramesTest {
    private static final int ROWS = 1_500;
    /** Enough for blocks of a few rows only. */
    private static final long SCARCE = 60_000;

    private static final List<String> FIGURES = List.of(
            "sum(amount",
            "mean(score",
            "stddev(amount",
            "count(",
            "count(amount",
            "count_if(paid",
            "any(paid",
            "all(paid",
            "min(amount",
            "max(item",
            "range(day",
            "range(score",
            "first(item",
            "last(amount",
            "at_max(item, amount",
            "at_min(amount, item",
            "median(amount",
            "quantile(score, 0.9",
            "trimmed_mean(amount, 0.1",
            "mean_abs_deviation(amount",
            "geometric_mean(quantity",
            "weighted_mean(amount, quantity",
            "correlation(amount, score",
            "count_distinct(item",
            "count_distinct(amount",
            "mode(item",
            "mode(quantity",
            "share(quantity");

    private static final List<String> FRAMES = List.of(
            "from start to 700 after",
            "from 900 before to 200 before full",
            "last 1500 at least 1400",
            "from 2 before to end");

    private static final List<String> SPANS = List.of("next 9 days", "last 30 days full", "last 1 month");

    @TempDir
    static Path folder;

    @BeforeAll
    static void data() throws IOException {
        SplittableRandom random = new SplittableRandom(11);
        StringBuilder rising = new StringBuilder("id,site,item,day,quantity,amount,score,paid\n");
        for (int i = 0; i < ROWS; i++) {
            rising.append(i)
                    .append(i < ROWS * 3 / 4 ? ",Quay" : random.nextInt(3) == 0 ? "," : ",Meadow")
                    .append(",item ")
                    .append(random.nextInt(40))
                    .append(
                            random.nextInt(90) == 0
                                    ? ","
                                    : ",2026-0" + (5 + random.nextInt(4)) + "-1" + random.nextInt(9))
                    .append(',')
                    .append(random.nextInt(1, 9))
                    .append(',')
                    .append(random.nextInt(15) == 0 ? "" : random.nextInt(-300, 900) + "." + random.nextInt(10))
                    .append(',')
                    .append(random.nextInt(15) == 0 ? "" : random.nextInt(1 << 20) / 8.0)
                    .append(',')
                    .append(random.nextInt(5) > 0)
                    .append('\n');
        }
        Files.writeString(folder.resolve("sales.csv"), rising);
        StringBuilder falling = new StringBuilder("id,amount\n");
        for (int i = 0; i < ROWS; i++) {
            falling.append(i).append(',').append(ROWS - i).append('\n');
        }
        Files.writeString(folder.resolve("falling.csv"), falling);
    }

    private static List<String> answers(String file, String clauses, long memory, int threads) {
        try (Fiesta fiesta = Fiesta.with().memory(memory).threads(threads).open();
                Result result = fiesta.read(folder.resolve(file)).then(clauses).run()) {
            List<String> lines = new ArrayList<>(Asking.lines(result));
            result.notices().list().forEach(n -> lines.add(n.text()));
            return lines;
        }
    }

    static Stream<String> questions() {
        return Stream.concat(
                FRAMES.stream().map(f -> question("id", f)), SPANS.stream().map(f -> question("day", f)));
    }

    /** All figures over one frame. */
    private static String question(String along, String frame) {
        StringBuilder clauses = new StringBuilder();
        for (int f = 0; f < FIGURES.size(); f++) {
            clauses.append(f == 0 ? "add " : ", ")
                    .append("f")
                    .append(f)
                    .append(" = ")
                    .append(FIGURES.get(f))
                    .append(f % 5 == 4 ? " only quantity > 2 " : " ")
                    .append("within site along ")
                    .append(along)
                    .append(' ')
                    .append(frame)
                    .append(')');
        }
        return clauses.toString();
    }

    @ParameterizedTest
    @MethodSource("questions")
    void figuresAreThoseOfRowsInMemory(String clauses) {
        List<String> expected = answers("sales.csv", clauses, 1L << 30, 2);
        assertThat(expected).hasSizeGreaterThan(ROWS);
        assertThat(answers("sales.csv", clauses, SCARCE, 1)).isEqualTo(expected);
    }

    /** All rows of a frame may still win. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "add x = max(amount within all along id last 400)",
                "add x = min(amount within all along id from start to 300 after)",
                "add x = first(amount within all along id from 1 after to end)",
                "add x = range(amount within all along id last 900)"
            })
    void whatMayStillWinIsKept(String clauses) {
        assertThat(answers("falling.csv", clauses, SCARCE, 2)).isEqualTo(answers("falling.csv", clauses, 1L << 30, 1));
    }
}
