package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.LongStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Runs that a timeout or a cancellation stops, runs side by side, and what is closed. */
class StoppingTest {
    private static final Schema NUMBERS = new Schema(List.of(new Field("n", Type.INTEGER)));

    /** A table whose rows never end. */
    private static Table endless(Fiesta fiesta, CountDownLatch begun) {
        return fiesta.rows(
                NUMBERS,
                () -> LongStream.iterate(0, n -> n + 1).mapToObj(n -> {
                    begun.countDown();
                    return new Object[] {n};
                }));
    }

    private static Table endless(Fiesta fiesta) {
        return endless(fiesta, new CountDownLatch(1));
    }

    private static Table three(Fiesta fiesta) {
        return fiesta.rows(NUMBERS, () -> Stream.of(new Object[] {1}, new Object[] {2}, new Object[] {3}));
    }

    @Test
    void aTimeoutEndsARunAndLeavesNoMark() {
        try (Fiesta fiesta = Fiesta.open()) {
            RunOptions options = RunOptions.usual().timeout(Duration.ofMillis(200));
            assertThatThrownBy(() -> endless(fiesta).run(options))
                    .isInstanceOf(Interrupted.class)
                    .hasMessage("The run was stopped: it took longer than 0.2s.");
            assertThat(Thread.currentThread().isInterrupted()).isFalse();
            assertThat(three(fiesta).run(options).rows()).isEqualTo(3);
            assertThat(three(fiesta)
                            .run(RunOptions.usual().timeout(Duration.ofDays(100_000_000)))
                            .rows())
                    .isEqualTo(3);
        }
        assertThatThrownBy(() -> RunOptions.usual().timeout(Duration.ZERO))
                .isInstanceOf(RequestException.class)
                .hasMessage("a timeout of PT0S leaves no time; one is longer than nothing");
    }

    @Test
    void aCancellationEndsRunsThatGoOnAndThoseBegunLater() throws Exception {
        ExecutorService other = Executors.newFixedThreadPool(2);
        try (Fiesta fiesta = Fiesta.open()) {
            Cancellation cancellation = new Cancellation();
            RunOptions options = RunOptions.usual().cancelledBy(cancellation);
            CountDownLatch begun = new CountDownLatch(2);
            List<Future<Result>> running = new ArrayList<>();
            for (int i = 0; i < 2; i++) {
                CountDownLatch one = new CountDownLatch(1);
                running.add(other.submit(() -> endless(fiesta, one).run(options)));
                assertThat(one.await(60, TimeUnit.SECONDS)).isTrue();
                begun.countDown();
            }
            cancellation.cancel();
            for (Future<Result> one : running) {
                assertThatThrownBy(() -> one.get(60, TimeUnit.SECONDS))
                        .hasCauseInstanceOf(Interrupted.class)
                        .hasMessageContaining("The run was stopped: it was cancelled.");
            }
            assertThat(cancellation.isCancelled()).isTrue();
            assertThatThrownBy(() -> three(fiesta).run(options)).isInstanceOf(Interrupted.class);
            assertThat(three(fiesta).run().rows()).isEqualTo(3);
        } finally {
            other.shutdownNow();
        }
    }

    @Test
    void aRunHasItsOwnListener() {
        List<String> all = new ArrayList<>();
        List<String> own = new ArrayList<>();
        try (Fiesta fiesta =
                Fiesta.with().progress(p -> all.add(p.phase())).threads(1).open()) {
            three(fiesta).sort("n").run(RunOptions.usual().progress(p -> own.add(p.phase())));
            assertThat(own).isNotEmpty();
            assertThat(all).isEmpty();
            three(fiesta).sort("n").run();
            assertThat(all).isNotEmpty();
        }
    }

    @Test
    void eightRunsShareOneBudget() throws Exception {
        ExecutorService callers = Executors.newFixedThreadPool(8);
        try (Fiesta fiesta = Fiesta.with().threads(2).memory(4 << 20).open()) {
            Table table = fiesta.rows(
                            NUMBERS, () -> LongStream.range(0, 60_000).mapToObj(n -> new Object[] {n * 7919 % 60_000}))
                    .sort("n")
                    .add("before = last(n along n last 2)");
            long[] wanted = table.run().longs("n");
            List<Future<long[]>> all = new ArrayList<>();
            for (int i = 0; i < 8; i++) {
                all.add(callers.submit(() -> {
                    try (Result result = table.run()) {
                        return result.longs("n");
                    }
                }));
            }
            for (Future<long[]> one : all) {
                assertThat(one.get(60, TimeUnit.SECONDS)).isEqualTo(wanted);
            }
        } finally {
            callers.shutdownNow();
        }
    }

    record Price(java.math.BigDecimal price) {}

    /** Every asking gives values of another scale, so that types differ from run to run. */
    @Test
    void runsSideBySideTakeNoTypesOfAnother() throws Exception {
        ExecutorService callers = Executors.newFixedThreadPool(4);
        AtomicInteger asked = new AtomicInteger();
        try (Fiesta fiesta = Fiesta.with().threads(2).open()) {
            Table prices = fiesta.records(Price.class, () -> {
                int scale = asked.incrementAndGet() % 5;
                return Stream.of(
                        new Price(java.math.BigDecimal.valueOf(2).setScale(scale)),
                        new Price(java.math.BigDecimal.valueOf(3).setScale(scale)));
            });
            List<Future<Object>> all = new ArrayList<>();
            for (int i = 0; i < 200; i++) {
                boolean chained = i % 2 == 0;
                all.add(callers.submit(() -> {
                    Table table = chained ? prices.add("twice = price * 2").sort("twice desc") : prices;
                    return table.per("all")
                            .give("sum = sum(price)")
                            .run()
                            .row(0)
                            .decimal("sum")
                            .stripTrailingZeros();
                }));
            }
            for (Future<Object> one : all) {
                assertThat(one.get(60, TimeUnit.SECONDS)).isEqualTo(java.math.BigDecimal.valueOf(5));
            }
        } finally {
            callers.shutdownNow();
        }
    }

    @Test
    void whatIsClosedSaysSo() {
        Fiesta fiesta = Fiesta.open();
        Table table = three(fiesta);
        Result result = table.run();
        result.close();
        result.close();
        assertThatThrownBy(() -> result.longs("n"))
                .isInstanceOf(RequestException.class)
                .hasMessage("the result 'records' is closed; its rows are gone");
        assertThatThrownBy(() -> result.writeCsv(new java.io.ByteArrayOutputStream()))
                .isInstanceOf(RequestException.class);
        assertThat(result.rows()).isEqualTo(3);
        Result stays = table.run();
        fiesta.close();
        fiesta.close();
        assertThat(stays.longs("n")).containsExactly(1, 2, 3);
        assertThatThrownBy(table::run)
                .isInstanceOf(RequestException.class)
                .hasMessage("this Fiesta is closed; open another");
    }

    @Test
    void aClosedResultGivesItsFileBack() {
        try (Fiesta fiesta = Fiesta.with().memory(1).open()) {
            Table table = fiesta.rows(NUMBERS, () -> LongStream.range(0, 20_000).mapToObj(n -> new Object[] {-n}))
                    .sort("n");
            AtomicInteger closed = new AtomicInteger();
            try (Result result = table.run()) {
                assertThat(result.timings()).anyMatch(t -> t.written() > 0);
                closed.incrementAndGet();
            }
            Result gone = table.run();
            gone.close();
            assertThatThrownBy(() -> gone.row(0).get("n")).isInstanceOf(RequestException.class);
            assertThat(closed).hasValue(1);
        }
    }
}
