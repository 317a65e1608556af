package dev.fiesta.value;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

class HalvingTest {
    @Test
    void thePlaceBehindAllForWhichItHolds() {
        for (int from = 0; from < 4; from++) {
            for (int to = from; to < 40; to++) {
                for (int place = from; place <= to; place++) {
                    int end = place;
                    assertThat(Halving.behind(from, to, i -> i < end)).isEqualTo(place);
                }
            }
        }
        assertThat(Halving.behind(3, 2, i -> true)).isEqualTo(3);
        assertThat(Halving.behind(0, Integer.MAX_VALUE, i -> i < 2_000_000_000)).isEqualTo(2_000_000_000);
    }
}
