package dev.fiesta.benchmarks;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Table;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Param;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;

/**
 * Settled sales by site and item, five figures, from a file of text: Fiesta and the hand-written program in turn.
 *
 * <p>{@link #compare} prints the ratio of the two over some turns; the JMH benchmark gives single times.
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.SingleShotTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
@Warmup(iterations = 3)
@Measurement(iterations = 7)
@Fork(1)
public class MainQuestion {
    private static final int TURNS = 9;
    private static final int WARM = 4;

    @Param("5000000")
    long sales = 5_000_000;

    @Param({"1", "2"})
    int threads = 1;

    private Path file = Path.of("");
    private Fiesta fiesta = Fiesta.open();
    private Table table = fiesta.records(Nothing.class, List.of());

    /** Stands in before the file is there. */
    record Nothing(long none) {}

    /** Makes the file once; the same number of sales always gives the same bytes. */
    @Setup
    public void prepare() throws IOException {
        file = Processes.sales(sales);
        fiesta = Fiesta.with().threads(threads).open();
        table = fiesta.read(file)
                .only("status = 'settled'")
                .per("site", "item")
                .give(
                        "sales = count()",
                        "takings = sum(amount)",
                        "mean_sale = mean(amount)",
                        "least = min(amount)",
                        "most = max(amount)");
    }

    @Benchmark
    public Result fiesta() {
        return table.run();
    }

    @Benchmark
    public List<String> handWritten() throws IOException, InterruptedException {
        return HandWritten.answer(file, threads);
    }

    /** Prints for one and two threads the median times and their ratio, once both gave the same answers. */
    static void compare(long sales) throws Exception {
        MainQuestion question = new MainQuestion();
        question.sales = sales;
        double[] ours = new double[2];
        for (int threads = 1; threads <= 2; threads++) {
            question.threads = threads;
            question.prepare();
            for (int i = 0; i < WARM; i++) {
                question.fiesta();
                question.handWritten();
            }
            refuseDifference(question);
            TookTurns turns = TookTurns.of(TURNS, question::fiesta, question::handWritten);
            ours[threads - 1] = turns.ours();
            System.out.printf(
                    "| settled sales by site and item, 5 figures, %d MB of text | %d | %s | at most 1.5 |%n",
                    Files.size(question.file) >> 20, threads, turns);
        }
        System.out.printf("| the same, second thread | 2 | | %.2f times as fast | 1.7 |%n", ours[0] / ours[1]);
    }

    private static void refuseDifference(MainQuestion question) throws IOException, InterruptedException {
        StringBuilder text = new StringBuilder();
        question.fiesta().write(text, dev.fiesta.output.TextStyle.CSV);
        List<String> ours = text.toString().lines().skip(1).toList();
        List<String> theirs = question.handWritten();
        if (!ours.equals(theirs)) {
            for (int i = 0; i < Math.max(ours.size(), theirs.size()); i++) {
                String a = i < ours.size() ? ours.get(i) : "";
                String b = i < theirs.size() ? theirs.get(i) : "";
                if (!a.equals(b)) {
                    throw new IllegalStateException("the answers differ: " + a + " and " + b);
                }
            }
        }
    }
}
