package dev.fiesta.cli.attack;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A small file system, for the temporary folder and the output, that fills up sooner or later while a run writes. */
class FullDiskAttack {
    private static final int SIZES = 20;

    @TempDir
    Path folder;

    @ParameterizedTest
    @ValueSource(strings = {"csv", "csv,html,json", "xlsx", "pdf"})
    void nothingIsLostWhenItIsFull(String formats) throws IOException, InterruptedException {
        Path small = Files.createDirectories(folder.resolve("small"));
        assumeTrue(
                done("mount", "-t", "tmpfs", "-o", "size=64m", "tmpfs", small.toString()), "mounting needs its rights");
        try {
            World world = new World(small, "--memory", "20k", "--as", formats);
            int full = 0;
            int whole = 0;
            for (int size = 0; size < SIZES; size++) {
                Path filler = small.resolve("filler");
                Files.deleteIfExists(filler);
                long left = 16_384L * size * size;
                try (java.io.RandomAccessFile file = new java.io.RandomAccessFile(filler.toFile(), "rw")) {
                    byte[] block = new byte[4096];
                    for (long free = small.toFile().getUsableSpace() - left; free > 0; free -= block.length) {
                        file.write(block);
                    }
                }
                String why = formats + " with " + left + " bytes left";
                Process process = world.disturbed(Map.of());
                assertThat(process.waitFor(20, TimeUnit.SECONDS)).as(why).isTrue();
                String said = world.message();
                assertThat(said).as(why).doesNotContain("fault of fiesta", "\tat ", "Exception");
                boolean later = world.settled(why);
                if (process.exitValue() == 0) {
                    whole++;
                    assertThat(later).as(why).isTrue();
                } else {
                    full++;
                    assertThat(process.exitValue()).as(why).isEqualTo(4);
                }
                Files.delete(filler);
                world.restore(why);
            }
            System.out.println(formats + ": full " + full + " times, whole " + whole + " times");
            assertThat(full).isPositive();
            assertThat(whole).isPositive();
        } finally {
            done("umount", small.toString());
        }
    }

    private static boolean done(String... command) throws IOException, InterruptedException {
        return new ProcessBuilder(command).inheritIO().start().waitFor() == 0;
    }
}
