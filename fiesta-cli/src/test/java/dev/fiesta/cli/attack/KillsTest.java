package dev.fiesta.cli.attack;

import java.io.IOException;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A few kills in every build; {@link KillsAttack} makes hundreds. */
class KillsTest {
    private static final int KILLS = Integer.getInteger("fiesta.kills", 2);

    @TempDir
    Path folder;

    @Test
    void noFileIsLostOrHalfWritten() throws IOException, InterruptedException {
        new World(folder.resolve("world"), "--memory", "20k", "--as", "csv,html").kill(KILLS, 1);
    }
}
