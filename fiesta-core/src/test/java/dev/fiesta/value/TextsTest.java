package dev.fiesta.value;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TextsTest {
    @ParameterizedTest
    @CsvSource({
        "2.0E-3, 0.002",
        "2.2250738585072014E-308, 2.2250738585072014e-308",
        "1.0E23, 1e+23",
        "9.007199254740993E15, 9007199254740992",
        "-0.1, -0.1",
        "5.0E-324, 4.9e-324",
        "100, 100",
        "1e17, 1e+17",
        "2.0E-7, 2e-7"
    })
    void numbersAreShort(double value, String text) {
        assertThat(Texts.number(value)).isIn(text, text.replace("4.9e-324", "5e-324"));
    }

    @Test
    void numbersReadBackTheSame() {
        SplittableRandom random = new SplittableRandom(3);
        for (int i = 0; i < 20_000; i++) {
            double value = Double.longBitsToDouble(random.nextLong());
            if (Double.isFinite(value)) {
                String text = Texts.number(value);
                assertThat(Double.parseDouble(text)).isEqualTo(value);
                assertThat(new BigDecimal(text).precision()).isLessThanOrEqualTo(17);
            }
        }
    }

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
