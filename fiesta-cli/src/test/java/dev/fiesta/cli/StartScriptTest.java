package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Whether the start script takes what is read for little: only then it does without the second compiler. */
class StartScriptTest {
    @TempDir
    Path folder;

    private Path write(String name, String text) throws IOException {
        return Files.writeString(folder.resolve(name), text);
    }

    private void sparse(String name, long bytes) throws IOException {
        try (RandomAccessFile file = new RandomAccessFile(folder.resolve(name).toFile(), "rw")) {
            file.setLength(bytes);
        }
    }

    /** Runs the function of the script on some words. */
    private boolean isLittle(String... words) throws IOException, InterruptedException {
        Path script = Path.of("..", "bin", "fiesta").toAbsolutePath().normalize();
        assumeTrue(Files.exists(script) && Files.isExecutable(Path.of("/bin/sh")));
        String text = Files.readString(script);
        int start = text.indexOf("little() {");
        String function = text.substring(start, text.indexOf("\n}\n", start) + 3)
                // A sparse file takes no room; its length is what a read would meet.
                .replace("du -cLk", "du --apparent-size -cLk");
        List<String> command = new ArrayList<>(List.of("/bin/sh", "-c", "set -e\n" + function + "little \"$@\"", "sh"));
        command.addAll(List.of(words));
        Process process = new ProcessBuilder(command)
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        int status = process.waitFor();
        assertThat(said).isEmpty();
        assertThat(status).isBetween(0, 1);
        return status == 0;
    }

    @Test
    void inputsOfABriefAreLookedAtWhereTheyStand() throws IOException, InterruptedException {
        write("sales-1.csv", "site,amount\nQuay,1\n");
        write("stalls.csv", "stall\n1\n");
        Files.createDirectories(folder.resolve("sub dir"));
        write(
                "sub dir/week.brief",
                "brief 'Week'\ninput sales from '../sales-*.csv'\n  input stalls from '../stalls.csv'\n");
        assertThat(isLittle("run", "sub dir/week.brief", "--as", "csv")).isTrue();
        sparse("sales-2.csv", 33L << 20);
        assertThat(isLittle("run", "sub dir/week.brief")).isFalse();
    }

    @Test
    void whatIsNotKnownIsNotLittle() throws IOException, InterruptedException {
        write("gone.brief", "brief 'Gone'\ninput sales from 'nowhere.csv'\n");
        assertThat(isLittle("run", "gone.brief")).isFalse();
        write("sales.csv", "site\nQuay\n");
        write("spaced.brief", "brief 'Spaced'\ninput sales from 'my sales.csv'\n");
        assertThat(isLittle("run", "spaced.brief")).isFalse();
        write("using.brief", "brief 'Using'\nuse 'other.brief'\ninput sales from 'sales.csv'\n");
        assertThat(isLittle("run", "using.brief")).isFalse();
        assertThat(isLittle("run")).isFalse();
    }

    @Test
    void filesNamedAreLookedAt() throws IOException, InterruptedException {
        write("sales.csv", "site\nQuay\n");
        assertThat(isLittle("ask", "sales.csv", "first 3")).isTrue();
        sparse("large.csv", 40L << 20);
        assertThat(isLittle("ask", "sales.csv", "large.csv", "first 3")).isFalse();
    }
}
