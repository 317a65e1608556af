package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.store.Rows;
import dev.fiesta.total.Worked;
import dev.fiesta.value.Column;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.util.List;
import java.util.SplittableRandom;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;

/** Values read part by part: those of all parts are asked for together only by who looks here and there. */
class FileCellsTest {
    private static final int ROWS = 5 * Rows.BLOCK + 3;

    private int asked;

    private FileCells cells() {
        List<Object> values =
                LongStream.range(0, ROWS).mapToObj(n -> (Object) (n * 3)).toList();
        Column all = Column.of(Type.INTEGER, values);
        Worked worked = Worked.of(new Schema(List.of(new Field("n", Type.INTEGER))), new Column[] {all}, ROWS);
        return new FileCells(
                worked,
                0,
                field -> {
                    asked++;
                    return all;
                },
                () -> {});
    }

    @Test
    void goingThroughThemAnyNumberOfTimesHoldsAPart() {
        FileCells cells = cells();
        for (int walk = 0; walk < 40; walk++) {
            for (int row = 0; row < ROWS; row += 7) {
                assertThat(cells.get(row)).isEqualTo(row * 3L);
            }
        }
        assertThat(asked).isZero();
    }

    @Test
    void lookingHereAndThereGetsThemAll() {
        FileCells cells = cells();
        SplittableRandom random = new SplittableRandom(1);
        for (int look = 0; look < 2_000; look++) {
            int row = random.nextInt(ROWS);
            assertThat(cells.get(row)).isEqualTo(row * 3L);
        }
        assertThat(asked).isEqualTo(1);
    }
}
