package dev.fiesta.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.source.LeftBehind;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Parts;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Threads at one job: all of it is done once, the failure told is the one of the least place, nobody is left running. */
class WorkersTest {
    @AfterEach
    void noThreadIsLeft() {
        assertThat(Thread.interrupted()).isFalse();
        assertThat(LeftBehind.workers()).isZero();
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 9})
    void eachNumberIsWorkedOnOnce(int threads) {
        List<Integer> met = Collections.synchronizedList(new ArrayList<>());
        Workers.each(threads, 300, met::add);
        assertThat(met)
                .containsExactlyInAnyOrderElementsOf(
                        IntStream.range(0, 300).boxed().toList());
        Workers.each(threads, 0, i -> met.clear());
        assertThat(met).hasSize(300);
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 4})
    void errorsAndFailuresAreThrownAsTheyAre(int threads) {
        assertThatThrownBy(() -> Workers.each(threads, 50, i -> {
                    if (i == 0) {
                        throw new IllegalStateException("the first");
                    }
                }))
                .isInstanceOf(IllegalStateException.class)
                .hasMessage("the first");
        assertThatThrownBy(() -> Workers.each(threads, 50, i -> {
                    throw new OutOfMemoryError("none left");
                }))
                .isInstanceOf(OutOfMemoryError.class);
    }

    @Test
    void partsCoverAllRowsInOrder() {
        assertThat(Workers.parts(4, 100)).as("what is soon done").isSameAs(Parts.ONE);
        assertThat(Workers.parts(1, 1 << 20)).isSameAs(Parts.ONE);
        Parts parts = Workers.parts(3, 1 << 17);
        assertThat(parts.count()).isEqualTo(3);
        assertThat(parts.start(0, 1 << 17)).isZero();
        assertThat(parts.start(3, 1 << 17)).isEqualTo(1 << 17);
        AtomicInteger sum = new AtomicInteger();
        parts.each(p -> sum.addAndGet(parts.start(p + 1, 1 << 17) - parts.start(p, 1 << 17)));
        assertThat(sum).hasValue(1 << 17);
    }

    @Test
    void anInterruptIsToldToTheWorkersOnceAndStays() throws InterruptedException {
        CountDownLatch begun = new CountDownLatch(2);
        CountDownLatch end = new CountDownLatch(1);
        AtomicInteger told = new AtomicInteger();
        Thread caller = Thread.currentThread();
        Thread other = new Thread(() -> {
            try {
                begun.await();
                caller.interrupt();
            } catch (InterruptedException e) {
                throw new AssertionError(e);
            }
        });
        other.start();
        Workers.run(
                2,
                () -> {
                    begun.countDown();
                    try {
                        end.await();
                    } catch (InterruptedException e) {
                        throw new AssertionError(e);
                    }
                },
                () -> {
                    told.incrementAndGet();
                    end.countDown();
                });
        assertThat(told).hasValue(1);
        assertThatThrownBy(Workers::stopIfInterrupted).isInstanceOf(Interrupted.class);
        assertThat(Thread.interrupted()).isTrue();
        other.join();
        Workers.stopIfInterrupted();
    }

    @Test
    void theFailureOfTheLeastPlaceIsTold() {
        EarliestFailure failures = new EarliestFailure();
        failures.rethrow();
        failures.met(3, 9, 0, new IllegalStateException("third piece"));
        failures.met(2, 7, 1, new IllegalStateException("second clause"));
        failures.met(2, 7, 0, new IllegalStateException("first clause"));
        failures.met(2, 8, 0, new IllegalStateException("a row behind"));
        failures.met(5, new IllegalStateException("fifth piece"));
        assertThatThrownBy(failures::rethrow).hasMessage("first clause");
        failures.met(new OutOfMemoryError("none left"));
        assertThatThrownBy(failures::rethrow).as("memory comes before all else").isInstanceOf(OutOfMemoryError.class);
    }

    @Test
    void anErrorOfTheProgramIsAFailureToo() {
        EarliestFailure failures = new EarliestFailure();
        failures.met(new AssertionError("a mistake"));
        assertThatThrownBy(failures::rethrow).hasMessage("a worker failed").hasRootCauseMessage("a mistake");
    }

    @Test
    void theShortestBeginningThatFailsIsFound() {
        for (int bad : new int[] {0, 1, 5, 98, 99}) {
            long[] values = IntStream.range(0, 100).asLongStream().toArray();
            Batch batch = Batch.of(100, new Column[] {new LongColumn(Type.INTEGER, values, 100, null)}, 0);
            AtomicInteger attempts = new AtomicInteger();
            Failing first = Failing.find(batch, new DataException("all of it"), some -> {
                attempts.incrementAndGet();
                if (some.size() > bad) {
                    throw new DataException("row " + bad);
                }
            });
            assertThat(first.sound()).isEqualTo(bad);
            assertThat(attempts.get()).as("halved each time").isLessThan(9);
            assertThat(first.failure()).hasMessage(bad == 99 ? "all of it" : "row " + bad);
        }
    }

    @Test
    void whoComesInTurnWaitsForThoseBefore() throws InterruptedException {
        InTurn turns = new InTurn(2, true);
        List<Long> came = Collections.synchronizedList(new ArrayList<>());
        Thread later = new Thread(() -> {
            turns.await(1, 5);
            came.add(5L);
            turns.end(1);
        });
        turns.at(0, 4);
        later.start();
        came.add(4L);
        turns.at(0, 6);
        later.join();
        assertThat(came).containsExactly(4L, 5L);
        turns.await(0, 6);
        new InTurn(2, false).await(1, 9);
    }
}
