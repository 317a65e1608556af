package dev.fiesta.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.Interrupted;
import dev.fiesta.source.LeftBehind;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class InOrderTest {
    private final List<Integer> taken = new ArrayList<>();

    @AfterEach
    void noThreadIsLeft() {
        assertThat(Thread.interrupted()).isFalse();
        assertThat(LeftBehind.workers()).isZero();
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 7})
    void whatIsMadeSideBySideIsTakenInOrder(int threads) {
        AtomicInteger made = new AtomicInteger();
        Workers.inOrder(
                threads,
                500,
                i -> {
                    made.incrementAndGet();
                    slowly(i);
                    return i;
                },
                i -> {
                    taken.add(i);
                    assertThat(made.get() - taken.size()).as("not far ahead").isLessThanOrEqualTo(threads * 5);
                });
        assertThat(taken).isEqualTo(IntStream.range(0, 500).boxed().toList());
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 7})
    void theFirstFailureIsToldOnceWhatIsBeforeItWasTaken(int threads) {
        assertThatThrownBy(() -> Workers.inOrder(
                        threads,
                        100,
                        i -> {
                            slowly(100 - i);
                            if (i % 20 == 19) {
                                throw new IllegalStateException("no " + i);
                            }
                            return i;
                        },
                        taken::add))
                .isInstanceOf(IllegalStateException.class)
                .hasMessage("no 19");
        assertThat(taken).isEqualTo(IntStream.range(0, 19).boxed().toList());
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 3})
    void whoTakesMayFail(int threads) {
        assertThatThrownBy(() -> Workers.inOrder(threads, 1000, i -> i, i -> {
                    taken.add(i);
                    if (i == 5) {
                        throw new IllegalStateException("the disk is full");
                    }
                }))
                .hasMessage("the disk is full");
        assertThat(taken).hasSize(6);
    }

    @Test
    void anErrorOfAMakerIsThrownAsItIs() {
        assertThatThrownBy(() -> Workers.inOrder(
                        2,
                        10,
                        i -> {
                            throw new OutOfMemoryError("made up");
                        },
                        i -> taken.add(1)))
                .isInstanceOf(OutOfMemoryError.class);
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2})
    void anInterruptEndsIt(int threads) {
        assertThatThrownBy(() -> Workers.inOrder(threads, 1000, i -> i, i -> {
                    if (i == 3) {
                        Thread.currentThread().interrupt();
                    }
                    taken.add(i);
                }))
                .isInstanceOf(Interrupted.class);
        assertThat(taken).hasSizeLessThan(1000);
        assertThat(Thread.interrupted()).as("the mark stays").isTrue();
    }

    /** Some wait longer than others, so that they come in no order. */
    private static void slowly(int number) {
        for (int i = 0; i < number % 7 * 2000; i++) {
            Thread.onSpinWait();
        }
    }
}
