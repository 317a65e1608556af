package dev.fiesta.cluster;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Three members as processes: the answers of one machine, whoever is killed. */
class ClusterCrewTest {
    @TempDir
    private static Path folder;

    private static final Map<String, String> ALONE = new HashMap<>();
    private static Members members;
    private static Path conf;

    @BeforeAll
    static void start() throws IOException, InterruptedException {
        Crowd.write(folder, 100_000);
        Crowd.QUESTIONS.forEach(q -> ALONE.put(q, Crowd.answer(folder, q, null)));
        conf = Crowd.conf(folder, "");
        members = new Members(conf, Map.of());
        for (int i = 0; i < 3; i++) {
            members.start();
            assertThat(members.said(i)).startsWith("there: 127.0.0.1:");
        }
    }

    @AfterAll
    static void stop() {
        members.close();
    }

    private static List<Path> shared() throws IOException {
        Path shared = folder.resolve("shared");
        if (!Files.exists(shared)) {
            return List.of();
        }
        try (Stream<Path> files = Files.list(shared)) {
            return files.toList();
        }
    }

    @Test
    void answersAreThoseOfOneMachine() throws IOException {
        try (ClusterCrew crew = ClusterCrew.of(CrewFile.read(conf))) {
            assertThat(crew.isUsed()).isFalse();
            for (String question : Crowd.QUESTIONS) {
                assertThat(Crowd.answer(folder, question, crew)).as(question).isEqualTo(ALONE.get(question));
            }
            assertThat(crew.isUsed()).isTrue();
            assertThat(crew.isSpared()).isFalse();
        }
        assertThat(shared()).isEmpty();
    }

    @Test
    void aKilledMemberCostsWhatItHadInHand() throws IOException, InterruptedException {
        String question = Crowd.QUESTIONS.get(0);
        try (ClusterCrew crew = ClusterCrew.of(CrewFile.read(conf))) {
            for (int kill = 0; kill < 3; kill++) {
                crew.members();
                CompletableFuture<String> answer =
                        CompletableFuture.supplyAsync(() -> Crowd.answer(folder, question, crew));
                Thread.sleep(40 + 90 * kill);
                List<Process> alive = members.alive();
                alive.get(kill % alive.size()).destroyForcibly().waitFor();
                assertThat(answer.join()).isEqualTo(ALONE.get(question));
                members.start();
            }
        }
        assertThat(shared()).isEmpty();
    }

    /** The one who asks as a process of its own, killed while members work; another one goes on, one answer being damaged. */
    @Test
    void aRunGoesOnWhenTheOneWhoAskedIsLost() throws Exception {
        Path log = folder.resolve("asker.log");
        Process asker = Members.java(
                Map.of(), log, Asker.class.getName(), folder.toString(), conf.toString(), Crowd.QUESTIONS.get(0));
        while (!Files.readString(log).contains("answered 3 ") && asker.isAlive()) {
            Thread.sleep(5);
        }
        asker.destroyForcibly().waitFor();
        String run = Files.readString(log).lines().findFirst().orElseThrow();
        Path own = folder.resolve("shared").resolve(run);
        assertThat(own).isDirectory();
        List<Path> answers;
        try (Stream<Path> files = Files.list(own)) {
            answers = files.filter(f -> f.getFileName().toString().matches("answer-[0-9a-f]+"))
                    .toList();
        }
        assertThat(answers).isNotEmpty();
        try (RandomAccessFile damaged = new RandomAccessFile(answers.get(0).toFile(), "rw")) {
            damaged.seek(damaged.length() / 2);
            damaged.write(~damaged.read());
        }
        String question = Crowd.QUESTIONS.get(0);
        try (ClusterCrew crew = ClusterCrew.of(CrewFile.read(conf)).resuming(run)) {
            assertThat(Crowd.answer(folder, question, crew)).isEqualTo(ALONE.get(question));
        }
        assertThat(own).doesNotExist();
    }

    /** Asks, and tells how far it has come. */
    static final class Asker {
        private Asker() {}

        public static void main(String[] args) throws Exception {
            Path in = Path.of(args[0]);
            try (ClusterCrew crew = ClusterCrew.of(CrewFile.read(Path.of(args[1])))
                    .telling(run -> {
                        System.out.println(run);
                        Thread counting =
                                new Thread(() -> count(in.resolve("shared").resolve(run)));
                        counting.setDaemon(true);
                        counting.start();
                    })) {
                Crowd.answer(in, args[2], crew);
            }
            System.out.println("answered 3 at the end");
            Thread.sleep(60_000);
        }

        private static void count(Path run) {
            while (true) {
                try (Stream<Path> files = Files.list(run)) {
                    long there = files.filter(f -> f.toString().contains("answer-")
                                    && !f.toString().endsWith(".part"))
                            .count();
                    if (there >= 3) {
                        System.out.println("answered 3 or more");
                        return;
                    }
                    Thread.sleep(2);
                } catch (IOException | InterruptedException e) {
                    return;
                }
            }
        }
    }

    @Test
    void nobodyIsThere() throws IOException {
        Path other = Files.createDirectory(folder.resolve("other"));
        Path nobody = other.resolve("crew.conf");
        Files.writeString(nobody, "members 127.0.0.1:19\nfolder shared\nalone-below 0\n");
        try (ClusterCrew crew = ClusterCrew.of(CrewFile.read(nobody))) {
            assertThatThrownBy(() -> Crowd.answer(folder, Crowd.QUESTIONS.get(0), crew))
                    .isInstanceOf(MachineException.class)
                    .hasMessageStartingWith("No member of the crew answers at 127.0.0.1:19. Start them with "
                            + "'fiesta member', with the same certificates");
        }
    }

    @Test
    void allMembersAreLost() throws IOException, InterruptedException {
        Path other = Files.createDirectory(folder.resolve("lost"));
        Path alone = other.resolve("crew.conf");
        int port = 13_000 + (int) (ProcessHandle.current().pid() % 900);
        Files.writeString(
                alone, "members 127.0.0.1:" + port + "\nfolder shared\nalone-below 0\ntask 300k\nthreads 1\n");
        try (Members few = new Members(alone, Map.of());
                ClusterCrew crew = ClusterCrew.of(CrewFile.read(alone))) {
            Process only = few.start();
            assertThat(crew.members()).isEqualTo(1);
            only.destroyForcibly().waitFor();
            assertThatThrownBy(() -> Crowd.answer(folder, Crowd.QUESTIONS.get(0), crew))
                    .isInstanceOf(MachineException.class)
                    .hasMessageStartingWith("The members of the crew at 127.0.0.1:" + port + " were lost");
        }
        try (Stream<Path> left = Files.list(other.resolve("shared"))) {
            assertThat(left).isEmpty();
        }
    }

    /** As many members as a range of places has. */
    @Test
    void everyPlaceIsTaken() throws IOException, InterruptedException {
        Path other = Files.createDirectory(folder.resolve("places"));
        Path conf = other.resolve("crew.conf");
        int port = 16_000 + (int) (ProcessHandle.current().pid() % 500) * 2;
        Files.writeString(conf, "members 127.0.0.1:" + port + ".." + (port + 1) + "\nfolder shared\nthreads 1\n");
        try (Members both = new Members(conf, Map.of());
                ClusterCrew crew = ClusterCrew.of(CrewFile.read(conf))) {
            both.start();
            both.start();
            assertThat(crew.members()).as(both.said(0) + both.said(1)).isEqualTo(2);
        }
    }
}
