package dev.fiesta.cli.attack;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Map;
import java.util.SplittableRandom;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A run killed at any moment, while it spills or writes any format, leaves the folder with all of the old run or all of the new. */
class KillsAttack {
    private static final int KILLS = Integer.getInteger("fiesta.kills", 100);

    @TempDir
    Path folder;

    @ParameterizedTest
    @ValueSource(strings = {"csv", "csv,html,json,svg", "xlsx", "pdf", "jsonl,markdown,tsv,html,csv"})
    void noFileIsLostOrHalfWritten(String formats) throws IOException, InterruptedException {
        World world = new World(folder.resolve("world"), "--memory", "20k", "--as", formats);
        long begun = System.nanoTime();
        assertThat(world.disturbed(Map.of()).waitFor()).isZero();
        long length = System.nanoTime() - begun;
        SplittableRandom random = new SplittableRandom(formats.hashCode());
        int later = 0;
        int died = 0;
        for (int kill = 0; kill < KILLS; kill++) {
            Process process = world.disturbed(Map.of());
            // Half of them where files appear, at the end.
            long wait = kill % 2 == 0 ? random.nextLong(length) : length * 3 / 4 + random.nextLong(length / 2);
            if (!process.waitFor(wait, java.util.concurrent.TimeUnit.NANOSECONDS)) {
                died++;
                if (kill % 4 == 0) {
                    process.destroy();
                } else {
                    process.destroyForcibly();
                }
            }
            process.waitFor();
            if (world.settled(formats + ", kill " + kill)) {
                later++;
            }
            if (kill % 5 == 4) {
                world.restore(formats + ", after kill " + kill);
            }
        }
        System.out.println(formats + ": " + died + " of " + KILLS + " killed, " + later + " times the new run stood");
        assertThat(died).isGreaterThan(KILLS / 3);
    }
}
