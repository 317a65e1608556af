package dev.fiesta.cluster;

import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** Members of a crew as processes of their own, which tests kill, stop and let go on. */
final class Members implements AutoCloseable {
    private final Path conf;
    private final Map<String, String> environment;
    private final List<Process> processes = new ArrayList<>();

    Members(Path conf, Map<String, String> environment) {
        this.conf = conf;
        this.environment = environment;
    }

    /** A Java process with the class path of the tests. */
    static Process java(Map<String, String> environment, Path log, String main, String... args) throws IOException {
        List<String> command = new ArrayList<>(List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(), "-Xmx256m", "-XX:+UseSerialGC"));
        command.addAll(ManagementFactory.getRuntimeMXBean().getInputArguments().stream()
                .filter(a -> a.startsWith("--add-opens") || a.startsWith("-Dfiesta."))
                .toList());
        command.addAll(List.of("-XX:TieredStopAtLevel=1", "-cp", System.getProperty("java.class.path"), main));
        command.addAll(List.of(args));
        ProcessBuilder builder =
                new ProcessBuilder(command).redirectErrorStream(true).redirectOutput(log.toFile());
        builder.environment().putAll(environment);
        return builder.start();
    }

    /** Starts one more, and waits until it is there. */
    Process start() throws IOException, InterruptedException {
        Path log = conf.resolveSibling("member-" + processes.size() + ".log");
        Process process = java(environment, log, MemberMain.class.getName(), conf.toString());
        processes.add(process);
        long end = System.nanoTime() + 60_000_000_000L;
        while (!Files.readString(log).contains("there") && process.isAlive() && System.nanoTime() < end) {
            Thread.sleep(50);
        }
        return process;
    }

    /** What a member has said. */
    String said(int member) throws IOException {
        return Files.readString(conf.resolveSibling("member-" + member + ".log"));
    }

    List<Process> alive() {
        return processes.stream().filter(Process::isAlive).collect(Collectors.toList());
    }

    /** Sends a signal: {@code STOP}, {@code CONT}, {@code KILL}. */
    static void signal(Process process, String name) throws IOException, InterruptedException {
        new ProcessBuilder("kill", "-" + name, "" + process.pid()).start().waitFor();
    }

    @Override
    public void close() {
        processes.forEach(Process::destroyForcibly);
    }

    /** A member as a process. */
    static final class MemberMain {
        private MemberMain() {}

        public static void main(String[] args) throws InterruptedException {
            try (MemberNode member = MemberNode.join(CrewFile.read(Path.of(args[0])), Encryption.NEEDED)) {
                System.out.println("there: " + member.place());
                member.await();
                System.out.println("lost");
            } catch (RuntimeException e) {
                System.out.println("refused: " + e.getMessage());
            }
            System.exit(0);
        }
    }
}
