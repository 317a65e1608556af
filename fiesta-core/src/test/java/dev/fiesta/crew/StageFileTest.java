package dev.fiesta.crew;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Each section is read by itself, whole or not at all. */
class StageFileTest {
    private static final int[] SIZES = {10, 0, 200_000, 1};

    @TempDir
    Path folder;

    private Path file;
    private byte[][] sections;

    @BeforeEach
    void write() throws IOException {
        file = folder.resolve("answer");
        sections = new byte[SIZES.length][];
        Random random = new Random(3);
        for (int s = 0; s < SIZES.length; s++) {
            sections[s] = new byte[SIZES[s]];
            random.nextBytes(sections[s]);
        }
        StageFile.write(file, out -> {
            for (int s = 0; s < SIZES.length; s++) {
                if (s > 0) {
                    out.next();
                }
                out.write(sections[s]);
            }
        });
    }

    private byte[] read(int section) throws IOException {
        try (InputStream in = StageFile.open(file, section)) {
            return in.readAllBytes();
        }
    }

    @Test
    void sectionsAreReadByThemselves() throws IOException {
        for (int s = SIZES.length - 1; s >= 0; s--) {
            assertThat(read(s)).isEqualTo(sections[s]);
        }
        assertThat(StageFile.isWhole(file)).isTrue();
        assertThatThrownBy(() -> StageFile.open(file, SIZES.length)).hasMessage("it has no section 4");
    }

    @Test
    void damageIsFoundInTheSectionThatHasIt() throws IOException {
        byte[] bytes = Files.readAllBytes(file);
        bytes[1_000] ^= 1;
        Files.write(file, bytes);
        assertThat(StageFile.isWhole(file)).isFalse();
        assertThat(read(0)).isEqualTo(sections[0]);
        assertThat(read(3)).isEqualTo(sections[3]);
        assertThatThrownBy(() -> StageFile.open(file, 2)).hasMessage("it is damaged");
    }

    @Test
    void whatIsCutOffOrDamagedAtItsEndIsNotRead() throws IOException {
        byte[] bytes = Files.readAllBytes(file);
        for (int cut = 1; cut < 80; cut += 3) {
            Files.write(file, Arrays.copyOf(bytes, bytes.length - cut));
            assertThat(StageFile.isWhole(file)).as("%d bytes less", cut).isFalse();
            byte[] damaged = bytes.clone();
            damaged[bytes.length - cut] ^= 4;
            Files.write(file, damaged);
            assertThat(StageFile.isWhole(file))
                    .as("damaged %d bytes before the end", cut)
                    .isFalse();
        }
        Files.write(file, new byte[3]);
        assertThat(StageFile.isWhole(file)).isFalse();
    }

    @Test
    void whoFailsLeavesNothing() throws IOException {
        Path other = folder.resolve("other");
        assertThatThrownBy(() -> StageFile.write(other, out -> {
                    out.write(1);
                    throw new IOException("no more room");
                }))
                .hasMessage("no more room");
        try (Stream<Path> files = Files.list(folder)) {
            assertThat(files).containsExactly(file);
        }
    }
}
