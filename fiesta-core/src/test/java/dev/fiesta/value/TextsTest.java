package dev.fiesta.value;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

class TextsTest {
    @Test
    void dictionariesNumberTextsInTheOrderInWhichTheyCome() {
        Dictionary dictionary = new Dictionary();
        for (int i = 0; i < 5000; i++) {
            assertThat(dictionary.intern("stall " + i)).isEqualTo(i);
        }
        assertThat(dictionary.intern("stall 4321")).isEqualTo(4321);
        assertThat(dictionary.find("nowhere")).isEqualTo(-1);
        assertThat(dictionary.text(17)).isEqualTo("stall 17");
        Dictionary other = new Dictionary();
        other.intern("stall 9");
        other.intern("new");
        assertThat(dictionary.translate(other, new int[0])).containsExactly(9, 5000);
    }

    @Test
    void textsStandInTheOrderOfTheirCodePoints() {
        Dictionary dictionary = new Dictionary();
        int wide = dictionary.intern("\uFF21");
        int beyond = dictionary.intern("\uD83C\uDFAA");
        assertThat(dictionary.compare(wide, beyond))
                .as("UTF-16 would turn these round")
                .isNegative();
        assertThat(dictionary.ranks()).containsExactly(0, 1);
    }
}
