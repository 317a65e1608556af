package dev.fiesta.benchmarks;

import java.util.Arrays;
import java.util.concurrent.Callable;

/**
 * Times of two programs that took turns, in seconds.
 *
 * @param ours the median of the first
 * @param theirs the median of the second
 * @param ratios first over second, turn by turn, in order of size
 */
record TookTurns(double ours, double theirs, double[] ratios) {
    static TookTurns of(int turns, Callable<?> first, Callable<?> second) throws Exception {
        double[] ours = new double[turns];
        double[] theirs = new double[turns];
        double[] ratios = new double[turns];
        for (int i = 0; i < turns; i++) {
            ours[i] = seconds(first);
            theirs[i] = seconds(second);
            ratios[i] = ours[i] / theirs[i];
        }
        Arrays.sort(ratios);
        return new TookTurns(median(ours), median(theirs), ratios);
    }

    static double seconds(Callable<?> job) throws Exception {
        long start = System.nanoTime();
        job.call();
        return (System.nanoTime() - start) / 1e9;
    }

    static double median(double[] values) {
        double[] sorted = values.clone();
        Arrays.sort(sorted);
        return sorted[sorted.length / 2];
    }

    @Override
    public String toString() {
        return String.format(
                "%.3f s : %.3f s | %.2f (%.2f to %.2f)",
                ours, theirs, ratios[ratios.length / 2], ratios[0], ratios[ratios.length - 1]);
    }
}
