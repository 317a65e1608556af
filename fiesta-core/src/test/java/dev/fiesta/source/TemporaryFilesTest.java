package dev.fiesta.source;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Temporary files are their owner's, and those of processes that were killed are removed by the next. */
class TemporaryFilesTest {
    @TempDir
    Path folder;

    @Test
    void onlyTheirOwnerMayLook() throws IOException {
        Path file = TemporaryFiles.create(".test");
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file.getParent())))
                .isEqualTo("rwx------");
        Files.delete(file);
    }

    @Test
    void foldersOfTheDeadAreRemoved() throws IOException {
        Path dead = Files.createDirectory(folder.resolve("fiesta-run-1"));
        Files.writeString(dead.resolve("lock"), "");
        Files.writeString(dead.resolve("a.spill"), "left");
        Path living = Files.createDirectory(folder.resolve("fiesta-run-2"));
        Path made = Files.createDirectory(folder.resolve("fiesta-run-3"));
        Path others = Files.createDirectory(folder.resolve("accounts"));
        try (FileChannel lock =
                FileChannel.open(living.resolve("lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE)) {
            lock.lock();
            TemporaryFiles.removeDead(folder);
        }
        assertThat(dead).doesNotExist();
        assertThat(living).exists();
        assertThat(made).exists();
        assertThat(others).exists();
    }
}
