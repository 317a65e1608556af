package dev.fiesta.cli.attack;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Path;
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
        int died =
                new World(folder.resolve("world"), "--memory", "20k", "--as", formats).kill(KILLS, formats.hashCode());
        System.out.println(formats + ": " + died + " of " + KILLS + " killed");
        assertThat(died).isGreaterThan(KILLS / 3);
    }
}
