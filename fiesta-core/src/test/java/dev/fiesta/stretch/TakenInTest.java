package dev.fiesta.stretch;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.compute.Fault;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.Source;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;

/** What members of a crew have found is taken in, or fails as it would have failed here. */
class TakenInTest {
    @Test
    void allAreTakenIn() {
        AtomicInteger in = new AtomicInteger();
        try (TakenIn taken = new TakenIn(3, () -> {})) {
            for (int i = 0; i < 50; i++) {
                taken.add(in::incrementAndGet);
            }
            taken.await();
            assertThat(in).hasValue(50);
        }
    }

    @Test
    void failuresComeOut() {
        assertThatThrownBy(() -> taken(() -> {
                    throw new IOException("cut off");
                }))
                .isInstanceOf(MachineException.class)
                .hasMessage("What a member of the crew wrote cannot be read (cut off)");
        assertThatThrownBy(() -> taken(() -> {
                    throw new OutOfMemoryError("heap");
                }))
                .isInstanceOf(OutOfMemoryError.class);
        assertThatThrownBy(() -> taken(() -> {
                    throw new IllegalStateException("odd");
                }))
                .isInstanceOf(IllegalStateException.class)
                .hasMessage("odd");
    }

    private static void taken(TakenIn.Taking one) {
        try (TakenIn taken = new TakenIn(1, () -> {})) {
            taken.add(one);
            taken.await();
        }
    }

    @Test
    void whoWaitsCanBeStopped() {
        CountDownLatch never = new CountDownLatch(1);
        try (TakenIn taken = new TakenIn(1, () -> {})) {
            taken.add(() -> {
                try {
                    never.await();
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt(); // it ends, as it was asked to
                }
            });
            Thread.currentThread().interrupt();
            assertThatThrownBy(taken::await).isInstanceOf(Interrupted.class);
            assertThat(Thread.currentThread().isInterrupted()).isTrue();
        }
        assertThat(Thread.interrupted())
                .as("still to be seen by who comes after")
                .isTrue();
    }

    @Test
    void faultsOfTheDataTravel() throws IOException {
        DataException bare = new DataException("no rows");
        DataException full = new DataException("bad", "sales.csv", 12, "amount", "oops");
        assertThat(there(bare)).isInstanceOf(DataException.class).hasMessage("no rows");
        DataException told = (DataException) there(full);
        assertThat(List.of(told.file(), told.line(), told.field(), told.value()))
                .containsExactly("sales.csv", 12L, "amount", "oops");
        Fault fault = (Fault) there(new Fault("too large", "12", null));
        assertThat(fault.text()).isEqualTo("too large");
        assertThat(fault.value()).isEqualTo("12");
        Source.Widening wider = new Source.Widening("amount", Type.INTEGER, Type.decimal(2));
        Source none = new Source() {
            @Override
            public Schema schema() {
                throw new UnsupportedOperationException();
            }

            @Override
            public Scan scan(Notices notices) {
                throw new UnsupportedOperationException();
            }
        };
        assertThat(((FailureBytes.WidenedElsewhere) there(new Source.Widened(none, none, List.of(wider)))).fields())
                .containsExactly(wider);
        assertThat(FailureBytes.isOfData(new MachineException("full", null))).isFalse();
    }

    private static RuntimeException there(RuntimeException failure) throws IOException {
        assertThat(FailureBytes.isOfData(failure)).isTrue();
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        FailureBytes.write(failure, new DataOutputStream(bytes));
        return FailureBytes.read(new DataInputStream(new ByteArrayInputStream(bytes.toByteArray())));
    }
}
