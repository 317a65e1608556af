package dev.fiesta.engine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.Repeats;
import dev.fiesta.Table;
import dev.fiesta.TableAccess;
import dev.fiesta.output.OutputFile;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.DelimitedSource;
import dev.fiesta.source.LeftBehind;
import dev.fiesta.source.Source;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Whatever breaks: one clear failure, no thread left, no file half-written. */
@Timeout(60)
class FaultsTest {
    @TempDir
    Path folder;

    /** Batches of ten numbers; one of them fails, or never ends. */
    private static final class Breaking implements Source {
        private final int batches;
        private final int breaksAt;
        private final RuntimeException failure;
        private final AtomicBoolean closed = new AtomicBoolean();

        Breaking(int batches, int breaksAt, RuntimeException failure) {
            this.batches = batches;
            this.breaksAt = breaksAt;
            this.failure = failure;
        }

        @Override
        public Schema schema() {
            return new Schema(List.of(new Field("n", Type.INTEGER)));
        }

        @Override
        public Scan scan(Notices notices) {
            AtomicInteger next = new AtomicInteger();
            AtomicInteger stop = new AtomicInteger(batches);
            return new Scan() {
                @Override
                public Reader reader(Notices counted) {
                    return new Reader() {
                        private int at;

                        @Override
                        public Batch next() {
                            at = next.getAndIncrement();
                            if (at == breaksAt) {
                                throw failure;
                            }
                            if (at >= stop.get()) {
                                return null;
                            }
                            int first = at * 10;
                            Column numbers = Column.of(
                                    Type.INTEGER,
                                    IntStream.range(first, first + 10)
                                            .mapToObj(i -> (Object) (long) i)
                                            .toList());
                            return Batch.of(10, new Column[] {numbers, Column.missing(Type.TEXT, 10)}, at);
                        }

                        @Override
                        public long sequence() {
                            return at;
                        }
                    };
                }

                @Override
                public void stop(long sequence) {
                    stop.accumulateAndGet((int) sequence, Math::min);
                }

                @Override
                public void close() {
                    closed.set(true);
                }
            };
        }
    }

    private static Table over(Source source, int threads) {
        return TableAccess.of(Fiesta.with().threads(threads).open(), () -> source);
    }

    private static long workers() {
        return Thread.getAllStackTraces().keySet().stream()
                .filter(t -> t.getName().startsWith("fiesta-worker"))
                .count();
    }

    @Test
    void aSourceThatFailsEndsTheRun() {
        for (int threads = 1; threads <= 4; threads++) {
            Breaking source = new Breaking(1000, 500, new DataException("the line went dead"));
            assertThatThrownBy(
                            () -> over(source, 3).per("all").give("s = sum(n)").run())
                    .isInstanceOf(DataException.class)
                    .hasMessage("the line went dead");
            assertThat(source.closed).isTrue();
            assertThat(workers()).isZero();
        }
    }

    @Test
    void theEarliestOfSeveralFaultsIsTold() {
        for (int turn = 0; turn < 50; turn++) {
            Breaking source = new Breaking(100, 60, new DataException("later"));
            assertThatThrownBy(() -> over(source, 4)
                            .add("x = if n >= 305 then integer('earlier') else 1")
                            .run())
                    .hasMessageContaining("'earlier' is not an integer");
        }
    }

    @Test
    void faultsBehindTheRowsWantedAreNone() {
        Breaking source = new Breaking(1000, 900, new DataException("never reached"));
        assertThat(over(source, 1).first(25).run().rows()).isEqualTo(25);
        assertThat(source.closed).isTrue();
    }

    @Test
    void aRunCanBeInterrupted() throws InterruptedException {
        Source endless = new Breaking(Integer.MAX_VALUE, -1, new IllegalStateException());
        AtomicBoolean interrupted = new AtomicBoolean();
        Thread thread = new Thread(() -> {
            try {
                over(endless, 2).per("all").give("s = count()").run();
            } catch (Interrupted e) {
                interrupted.set(true);
            }
        });
        thread.start();
        Thread.sleep(200);
        thread.interrupt();
        thread.join(20_000);
        assertThat(thread.isAlive()).isFalse();
        assertThat(interrupted).isTrue();
    }

    @Test
    void aFileThatShrinksIsToldOf() throws IOException {
        Path file = folder.resolve("sales.csv");
        Files.writeString(file, "n\n" + "1\n".repeat(100_000));
        Source sales = DelimitedSource.open(Paths.find(folder, "sales.csv"), Dialect.STANDARD, false, List.of(), false);
        Files.writeString(file, "n\n1\n");
        assertThatThrownBy(() -> over(sales, 1).per("all").give("s = sum(n)").run())
                .isInstanceOf(DataException.class)
                .hasMessageContaining("became shorter while it was read.");
    }

    @Test
    void aRecordWithoutEndIsToldOf() throws IOException {
        Path file = folder.resolve("open.csv");
        Files.writeString(file, "n,t\n1,\"never closed\n" + "2,x\n".repeat(5_000_000));
        assertThatThrownBy(() -> Fiesta.open().read(file).only("n > 5").run())
                .hasMessageContaining("a record is longer than 16 MiB");
    }

    @Test
    void outputsAreWholeOrNotThere() throws IOException {
        Path file = folder.resolve("out.csv");
        OutputFile.write(file, out -> out.append("whole"));
        assertThatThrownBy(() -> OutputFile.write(file, out -> {
                    out.append("ha");
                    throw new IOException("the disk is full");
                }))
                .isInstanceOf(MachineException.class)
                .hasMessage("'out.csv' cannot be written (the disk is full)");
        assertThat(file).hasContent("whole");
        try (Stream<Path> files = Files.list(folder)) {
            assertThat(files).containsExactly(file);
        }
    }

    @Test
    void tablesAreSharedBetweenThreads() throws InterruptedException {
        Table table = Asking.table("n\n" + "3\n".repeat(10_000)).per("all").give("s = sum(n)");
        AtomicInteger right = new AtomicInteger();
        List<Thread> threads = IntStream.range(0, 6)
                .mapToObj(i -> new Thread(() -> {
                    for (int turn = 0; turn < 20; turn++) {
                        right.addAndGet(table.run().longs("s")[0] == 30_000 ? 1 : 0);
                    }
                }))
                .toList();
        threads.forEach(Thread::start);
        for (Thread thread : threads) {
            thread.join();
        }
        assertThat(right).hasValue(120);
    }

    /** In every phase: reading, putting away, sorting, merging, walking. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "sort n desc",
                "per n give c = count(), d = count_distinct(n) sort c",
                "add r = rank(along n), m = mean(n along n last 7)",
                "add m = median(n within all along n from 3 before to end)",
                "per all give d = count_distinct(n)",
                "distinct n sort n desc"
            })
    void runsInterruptedInAnyPhaseLeaveNothing(String clauses) throws Exception {
        long before = LeftBehind.files();
        Path file = folder.resolve("many.csv");
        StringBuilder text = new StringBuilder("n\n");
        for (int i = 0; i < 200_000; i++) {
            text.append(i * 7919L % 200_003).append('\n');
        }
        Files.writeString(file, text);
        int stopped = 0;
        for (int turn = 0; turn < Repeats.of(2, 20); turn++) {
            AtomicReference<Throwable> end = new AtomicReference<>();
            Thread thread = new Thread(() -> {
                try (Fiesta fiesta = Fiesta.with().memory(200_000).threads(2).open()) {
                    fiesta.read(file).then(clauses).run();
                } catch (RuntimeException e) {
                    end.set(e);
                }
            });
            thread.start();
            Thread.sleep(10 + turn * 45L);
            thread.interrupt();
            thread.join(30_000);
            assertThat(thread.isAlive()).isFalse();
            if (end.get() != null) {
                assertThat(end.get()).isInstanceOf(Interrupted.class);
                stopped++;
            }
            assertThat(workers()).isZero();
        }
        assertThat(stopped).as("runs that were stopped on their way").isPositive();
        System.gc(); // files of runs that ended go when nobody can reach their results any more
        for (int i = 0; i < 100 && LeftBehind.files() > before; i++) {
            Thread.sleep(50);
            System.gc();
        }
        assertThat(LeftBehind.files()).isLessThanOrEqualTo(before); // those of earlier tests may go meanwhile
    }

    @Test
    void aFailureRemovesWhatWasPutAway() throws IOException {
        long before = LeftBehind.files();
        Path file = folder.resolve("bad.csv");
        Files.writeString(file, "n\n" + "1\n".repeat(100_000) + "x\n");
        assertThatThrownBy(() -> Fiesta.with()
                        .memory(1)
                        .open()
                        .read(List.of(file), "fields n integer")
                        .then("sort n")
                        .run())
                .hasMessageContaining("line 100002: field n: 'x' is not an integer");
        assertThat(LeftBehind.files()).isLessThanOrEqualTo(before); // those of earlier tests may go meanwhile
    }

    /** What killed processes left beside a file goes when the next one writes there; what a living one writes stays. */
    @Test
    void partsOfDeadProcessesGo() throws IOException {
        Path living = folder.resolve(".fiesta-" + ProcessHandle.current().pid() + "-999999.part");
        for (String name : List.of(".fiesta-999999999999-1.part", ".fiesta-77.part", ".fiesta-x.part", "kept.part")) {
            Files.writeString(folder.resolve(name), "half");
        }
        Files.writeString(living, "half");
        OutputFile.write(folder.resolve("out.csv"), out -> out.append("whole"));
        try (Stream<Path> files = Files.list(folder)) {
            assertThat(files.map(f -> f.getFileName().toString()))
                    .containsExactlyInAnyOrder(
                            "out.csv", "kept.part", living.getFileName().toString());
        }
    }
}
