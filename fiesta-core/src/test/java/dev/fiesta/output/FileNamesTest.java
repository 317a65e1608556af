package dev.fiesta.output;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** A name becomes the name of a file: readable where it can be, never two in one, never out of its folder. */
class FileNamesTest {
    private static final int ROUNDS = 20_000;
    private static final List<String> PIECES = List.of(
            "_", "2f", "5f", "/", ".", " ", "a", "Q", "é", "con", "-", "0a1b2c", "\n", "..", "run", "\uD800", "_2e");

    @ParameterizedTest
    @CsvSource({
        "by_band, by_band",
        "Old Town, Old Town",
        "v1.2, v1.2",
        "Café, Café",
        "a/b, a_2fb",
        "a:b, a_3ab",
        "a_2fb, a_5f2fb",
        "..\\x, _2e._5cx",
    })
    void namesStayReadable(String name, String file) {
        assertThat(FileNames.of(name)).isEqualTo(file);
    }

    @ParameterizedTest
    @ValueSource(strings = {"", ".", "..", "...", "con", "NUL.txt", "Aux", "run", "Report", "set-aside", "com1"})
    void namesThatMeanSomethingElseAreMarked(String name) {
        assertThat(FileNames.of(name)).matches("(?s).*-[0-9a-f]{6}").doesNotMatch("\\.+");
    }

    @Test
    void longNamesAreCutAndKeptApart() {
        String one = FileNames.of("é".repeat(500));
        assertThat(one.getBytes(java.nio.charset.StandardCharsets.UTF_8).length).isLessThanOrEqualTo(120);
        assertThat(FileNames.of("é".repeat(501))).isNotEqualTo(one);
    }

    @Test
    void spellingsAreKeptApartWhereTheyMeet() {
        assertThat(FileNames.of("Quay", true)).isNotEqualToIgnoringCase(FileNames.of("quay", true));
        assertThat(FileNames.of("Quay", false)).isEqualTo("Quay");
    }

    @Test
    void noTwoNamesMeetAndNoneLeadsOut() {
        Random random = new Random(5);
        Map<String, String> names = new HashMap<>();
        for (int i = 0; i < ROUNDS; i++) {
            StringBuilder name = new StringBuilder();
            for (int n = random.nextInt(5); n >= 0; n--) {
                name.append(PIECES.get(random.nextInt(PIECES.size())));
            }
            String file = FileNames.of(name.toString());
            String other = names.putIfAbsent(file, name.toString());
            assertThat(other == null ? name.toString() : other).as(file).isEqualTo(name.toString());
            assertThat(file).doesNotContain("/", "\\", ":", "\n").isNotBlank().doesNotMatch("\\.+");
        }
    }
}
