package dev.fiesta.value;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.SplittableRandom;
import java.util.stream.IntStream;
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
        assertThat(dictionary.translate(other)).containsExactly(9, 5000);
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

    @Test
    void ranksAreThoseOfComparingTextByText() {
        SplittableRandom random = new SplittableRandom(11);
        String[] beginnings = {"", "C21", "C2109", "ü", "\uD83C\uDFAA", "x".repeat(2000), "a\0\0\0", "-1"};
        Dictionary dictionary = new Dictionary();
        for (int i = 0; i < 3000; i++) {
            String end = random.nextInt(4) == 0 ? "\0".repeat(random.nextInt(6)) : "" + random.nextInt(500);
            dictionary.intern(beginnings[random.nextInt(beginnings.length)] + end);
        }
        int[] ranks = dictionary.ranks();
        List<Integer> byRank = IntStream.range(0, dictionary.size())
                .boxed()
                .sorted(Comparator.comparing(code -> ranks[code]))
                .toList();
        assertThat(byRank).isSortedAccordingTo(dictionary::compare);
        assertThat(Arrays.stream(ranks).distinct().max().orElse(0)).isEqualTo(dictionary.size() - 1);
    }
}
