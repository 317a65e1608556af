package dev.fiesta.benchmarks;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Table;
import dev.fiesta.examples.Ribera;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
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
 * <p>{@code main} prints the ratio of the two over some turns; the JMH benchmark gives single times.
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.SingleShotTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
@Warmup(iterations = 3)
@Measurement(iterations = 7)
@Fork(1)
public class MainQuestion {
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
        file = Path.of(System.getProperty("java.io.tmpdir"), "fiesta-benchmark-" + sales + ".csv");
        if (!Files.exists(file)) {
            try (OutputStream out = new java.io.BufferedOutputStream(Files.newOutputStream(file), 1 << 20)) {
                Ribera.writeSales(out, sales, Ribera.SEED);
            }
        }
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

    Path file() {
        return file;
    }

    @Benchmark
    public Result fiesta() {
        return table.run();
    }

    @Benchmark
    public List<String> handWritten() throws IOException, InterruptedException {
        return HandWritten.answer(file, threads);
    }

    /** Prints for one and two threads the median time of both and their ratio, and that the answers are the same. */
    public static void main(String[] args) throws IOException, InterruptedException {
        MainQuestion question = new MainQuestion();
        question.sales = args.length > 0 ? Long.parseLong(args[0]) : question.sales;
        int turns = 9;
        double[] single = new double[2];
        for (int threads = 1; threads <= 2; threads++) {
            question.threads = threads;
            question.prepare();
            for (int i = 0; i < 4; i++) {
                question.fiesta();
                question.handWritten();
            }
            refuseDifference(question);
            double[] ours = new double[turns];
            double[] theirs = new double[turns];
            double[] ratios = new double[turns];
            for (int i = 0; i < turns; i++) {
                long start = System.nanoTime();
                question.fiesta();
                long between = System.nanoTime();
                question.handWritten();
                ours[i] = (between - start) / 1e9;
                theirs[i] = (System.nanoTime() - between) / 1e9;
                ratios[i] = ours[i] / theirs[i];
            }
            single[threads - 1] = median(ours);
            System.out.printf(
                    "%d sales, %d MB, %d thread%s: fiesta %.3f s, hand-written %.3f s, ratio %.2f (%.2f to %.2f)%n",
                    question.sales,
                    Files.size(question.file) >> 20,
                    threads,
                    threads == 1 ? "" : "s",
                    median(ours),
                    median(theirs),
                    median(ratios),
                    ratios[0],
                    ratios[turns - 1]);
        }
        System.out.printf("two threads are %.2f times as fast as one%n", single[0] / single[1]);
    }

    private static double median(double[] values) {
        Arrays.sort(values);
        return values[values.length / 2];
    }

    private static void refuseDifference(MainQuestion question) throws IOException, InterruptedException {
        StringBuilder text = new StringBuilder();
        question.fiesta().write(text, dev.fiesta.source.TextStyle.CSV);
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
