package dev.fiesta.source.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.fail;

import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

/** Bytes are UTF-8 where the strict decoder of the JDK says so. */
class Utf8Test {
    private static boolean jdk(byte[] bytes) {
        try {
            StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(bytes));
            return true;
        } catch (CharacterCodingException e) {
            return false;
        }
    }

    @Test
    void oneToFourBytesOfAnyKind() {
        int[] edges = {
            0, 0x41, 0x7F, 0x80, 0x8F, 0x90, 0x9F, 0xA0, 0xBF, 0xC0, 0xC1, 0xC2, 0xDF, 0xE0, 0xE1, 0xEC, 0xED, 0xEE,
            0xEF, 0xF0, 0xF1, 0xF3, 0xF4, 0xF5, 0xFF
        };
        int[] last = {0x41, 0x7F, 0x80, 0xBF, 0xC0, 0xFF};
        for (int a : edges) {
            isAsTheJdkSays(a);
            for (int b : edges) {
                isAsTheJdkSays(a, b);
                for (int c : edges) {
                    isAsTheJdkSays(a, b, c);
                    for (int d : last) {
                        isAsTheJdkSays(a, b, c, d);
                    }
                }
            }
        }
    }

    private static void isAsTheJdkSays(int... all) {
        byte[] bytes = new byte[all.length];
        for (int i = 0; i < all.length; i++) {
            bytes[i] = (byte) all[i];
        }
        if (Utf8.isValid(bytes, 0, bytes.length) != jdk(bytes)) {
            fail(Arrays.toString(bytes));
        }
    }

    /** Cut anywhere, what stands between the first and the last whole character is valid. */
    @Test
    void blocksAreLookedAtBetweenWholeCharacters() {
        byte[] text = "Lemonade, crêpe, 屋台, \uD83C\uDFAA and café".repeat(3).getBytes(StandardCharsets.UTF_8);
        SplittableRandom random = new SplittableRandom(3);
        for (int turn = 0; turn < 2000; turn++) {
            int from = random.nextInt(text.length);
            byte[] block = Arrays.copyOfRange(text, from, from + 1 + random.nextInt(text.length - from));
            int start = Utf8.start(block);
            int end = Math.max(start, Utf8.end(block));
            assertThat(Utf8.isValid(block, start, end)).isTrue();
            assertThat(start).isLessThanOrEqualTo(3);
            assertThat(block.length - end).isLessThanOrEqualTo(4);
        }
    }
}
