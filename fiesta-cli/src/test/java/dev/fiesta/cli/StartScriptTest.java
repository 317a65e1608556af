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
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What the start script says where it cannot start, and whether it takes what is named for little. */
class StartScriptTest {
    private static final Path SCRIPT =
            Path.of("..", "bin", "fiesta").toAbsolutePath().normalize();
    /** What every system has; Java and Maven are none of it. */
    private static final List<String> TOOLS = List.of(
            "sh",
            "sed",
            "find",
            "dirname",
            "readlink",
            "touch",
            "mkdir",
            "cat",
            "ls",
            "grep",
            "flock",
            "mktemp",
            "rm",
            "wc");

    /** What the script of a checkout ends in, and what an installed one is. */
    private static final Path LAUNCHER = Path.of("src", "main", "launcher", "fiesta");

    @TempDir
    Path folder;

    private Path tools;
    private Path copy;

    @BeforeEach
    void copyTheScript() throws IOException {
        assumeTrue(Files.exists(SCRIPT) && Files.isExecutable(Path.of("/bin/sh")));
        copy = folder.resolve("fiesta/bin/fiesta");
        Files.createDirectories(copy.getParent());
        Path launcher = folder.resolve("fiesta/fiesta-cli").resolve(LAUNCHER);
        Files.createDirectories(launcher.getParent());
        Files.copy(SCRIPT, copy);
        Files.copy(LAUNCHER, launcher);
        tools = Files.createDirectories(folder.resolve("tools"));
        for (String tool : TOOLS) {
            for (String place : List.of("/bin/", "/usr/bin/")) {
                if (Files.exists(Path.of(place + tool)) && !Files.exists(tools.resolve(tool))) {
                    Files.createSymbolicLink(tools.resolve(tool), Path.of(place + tool));
                }
            }
        }
    }

    /** What later starts need is made beside the first one. */
    @AfterEach
    void waitForWhatIsMade() throws IOException, InterruptedException {
        Path target = folder.resolve("fiesta/fiesta-cli/target");
        if (Files.exists(target)) {
            sh(Map.of(), "-c", "flock " + target.resolve("lock") + " true");
        }
    }

    private void program(String name, String... lines) throws IOException {
        Path file = Files.writeString(tools.resolve(name), "#!/bin/sh\n" + String.join("\n", lines) + "\n");
        assertThat(file.toFile().setExecutable(true)).isTrue();
    }

    private record Said(int status, String text) {}

    /** Runs the script where nothing but some tools is to be found. */
    private Said start(Map<String, String> environment) throws IOException, InterruptedException {
        return sh(environment, copy.toString(), "help");
    }

    private Said sh(Map<String, String> environment, String... words) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(List.of("/bin/sh"));
        command.addAll(List.of(words));
        ProcessBuilder builder =
                new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true);
        builder.environment().keySet().retainAll(List.of("HOME"));
        builder.environment().put("PATH", tools.toString());
        builder.environment().putAll(environment);
        Process process = builder.start();
        process.getOutputStream().close();
        String text = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        return new Said(process.waitFor(), text);
    }

    @Test
    void whatIsLackingIsSaidInASentence() throws IOException, InterruptedException {
        assertThat(start(Map.of()).text).startsWith("fiesta: No Java was found. Install a JDK, version 17 or newer");
        assertThat(start(Map.of("JAVA_HOME", "/nowhere")).text)
                .startsWith("fiesta: No Java was found where JAVA_HOME points to (/nowhere).");
        program("java", "exit 0");
        assertThat(start(Map.of()).text).contains("only to run programs, not to build them. Install a whole JDK");
        program("javac", "echo 'javac 1.8.0_392'");
        assertThat(start(Map.of()).text).contains("This JDK is version 8; 17 or newer is needed.");
        program("javac", "echo 'javac 11.0.2' >&2");
        assertThat(start(Map.of()).text).contains("This JDK is version 11; 17 or newer is needed.");
        program("javac", "echo 'javac 25'");
        assertThat(start(Map.of())).satisfies(s -> {
            assertThat(s.text).contains("Maven was not found; it builds fiesta the first time.");
            assertThat(s.text.lines()).hasSize(1);
            assertThat(s.status).isEqualTo(4);
        });
    }

    @Test
    void aBuildThatFailsIsSaidInASentence() throws IOException, InterruptedException {
        program("java", "exit 0");
        program("javac", "echo 'javac 17.0.2'");
        program("mvn", "echo '[ERROR] Could not transfer artifact a:b from central: Unknown host'; exit 1");
        assertThat(start(Map.of())).satisfies(s -> {
            assertThat(s.text).contains("The libraries cannot be fetched: Maven Central is not reached.");
            assertThat(s.text).doesNotContain("[ERROR]");
            assertThat(s.status).isEqualTo(4);
        });
        program("mvn", "echo '[ERROR] COMPILATION ERROR'; exit 1");
        assertThat(start(Map.of()).text).contains("Fiesta could not be built. What the build said: ");
    }

    @Test
    void closedStreamsAreNoFiles() throws IOException, InterruptedException {
        program("java", "cat; echo started; echo said >&2");
        program("javac", "echo 'javac 17.0.2'");
        program("mvn", "exit 0");
        start(Map.of());
        Said closed = sh(Map.of(), "-c", copy + " help >&-");
        assertThat(closed.text).isEqualTo("fiesta: Standard output cannot be written: it is closed.\n");
        assertThat(closed.status).isEqualTo(4);
        assertThat(sh(Map.of(), "-c", copy + " help <&- 2>&-").text).isEqualTo("started\n");
    }

    @Test
    void nobodyWaitsForWhatLaterStartsNeed() throws IOException, InterruptedException {
        program(
                "java",
                "case \"$*\" in *help*) echo helped ;; *) sleep 1; echo \"$*\" >> " + folder + "/asked; false ;; esac");
        program("javac", "echo 'javac 17.0.2'");
        program("mvn", "exit 0");
        for (String tool : List.of("sleep", "nice")) {
            Files.createSymbolicLink(tools.resolve(tool), Path.of("/usr/bin/", tool));
        }
        assertThat(start(Map.of()).text).endsWith("helped\n");
        Path asked = folder.resolve("asked");
        assertThat(asked).doesNotExist();
        waitForWhatIsMade();
        Path target = folder.resolve("fiesta/fiesta-cli/target");
        assertThat(asked).content().contains("dev.fiesta.cli.Main demo ");
        assertThat(target.resolve("classes.jsa"))
                .as("what cannot be made is not there")
                .doesNotExist();
        assertThat(target.resolve("making")).doesNotExist();
        start(Map.of());
        waitForWhatIsMade();
        assertThat(asked).as("and is not tried at each start").content().hasLineCount(1);
    }

    /** Runs the function of the script on some words. */
    private boolean isLittle(String... words) throws IOException, InterruptedException {
        String text = Files.readString(LAUNCHER);
        int start = text.indexOf("little() {");
        String function = text.substring(start, text.indexOf("\n}\n", start) + 3);
        List<String> command = new ArrayList<>(List.of("-c", "set -e\n" + function + "little \"$@\"", "sh"));
        command.addAll(List.of(words));
        Said said = sh(Map.of(), command.toArray(String[]::new));
        assertThat(said.text).isEmpty();
        assertThat(said.status).isBetween(0, 1);
        return said.status == 0;
    }

    @Test
    void filesNamedAreLookedAt() throws IOException, InterruptedException {
        Files.writeString(folder.resolve("sales.csv"), "site\nQuay\n");
        try (RandomAccessFile file =
                new RandomAccessFile(folder.resolve("large.csv").toFile(), "rw")) {
            file.setLength(40L << 20);
        }
        assertThat(isLittle("ask", "sales.csv", "--as", "csv", "add x = 2 * 3")).isTrue();
        assertThat(isLittle("ask", "sales.csv", "large.csv", "first 3")).isFalse();
        assertThat(isLittle("ask", "sales.csv", "l*.csv", "first 3")).isFalse();
        assertThat(isLittle("ask", "sales.csv", "-", "first 3")).isFalse();
        assertThat(isLittle("ask", "nowhere.csv", "first 3")).isFalse();
        assertThat(isLittle("ask")).isFalse();
    }
}
