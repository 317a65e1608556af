package dev.fiesta.problem;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.ObjectInputStream;
import java.io.ObjectOutputStream;
import java.util.List;
import org.junit.jupiter.api.Test;

/** What would help is told apart from the sentence, and goes along when a failure is sent elsewhere. */
class RemediesTest {
    @Test
    void aParameterWithoutAValueNamesItself() throws IOException, ClassNotFoundException {
        try (Fiesta fiesta = Fiesta.open()) {
            BriefException failure = catchThrowableOfType(
                    BriefException.class,
                    () -> Brief.of("parameter from_day date 'the first day' input s from 's.csv' table t from s")
                            .tables(fiesta));
            assertThat(failure).hasMessageContaining("The parameter 'from_day' has no value: the first day.");
            assertThat(failure.remedies()).containsExactly(new Remedy(Remedy.Kind.PARAMETER_VALUE, "from_day"));
            BriefException sent = (BriefException) sent(failure);
            assertThat(sent.remedies()).isEqualTo(failure.remedies());
            assertThat(sent.problems()).isEqualTo(failure.problems()).hasSize(1);
        }
    }

    @Test
    void checksAndPlacesGoAlong() throws IOException, ClassNotFoundException {
        Notices.Check check = new Notices.Check("t.brief:1", "n > 0", false, false, "too few");
        assertThat(((CheckException) sent(new CheckException("too few", check))).check())
                .isEqualTo(check);
        DataException data = new DataException("bad", "sales.csv", 7, "n", "x");
        DataException told = (DataException) sent(Remedy.offered(data, Remedy.Kind.ROW_KEYS, ""));
        assertThat(List.of(told.file(), told.line(), told.field(), told.value()))
                .containsExactly("sales.csv", 7L, "n", "x");
        assertThat(told.remedies()).hasSize(1);
    }

    private static Object sent(FiestaException told) throws IOException, ClassNotFoundException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (ObjectOutputStream out = new ObjectOutputStream(bytes)) {
            out.writeObject(told);
        }
        return new ObjectInputStream(new ByteArrayInputStream(bytes.toByteArray())).readObject();
    }
}
