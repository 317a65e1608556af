package dev.fiesta.cluster;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Members killed, stopped and damaged at random moments, again and again: no wrong byte, no run that hangs, nothing left. */
class ClusterAttack {
    private static final int FAULTS = Integer.getInteger("fiesta.faults", 120);
    private static final long SEED = Long.getLong("fiesta.first", 1);

    @TempDir
    private Path folder;

    private enum Fault {
        KILL_ONE,
        KILL_OLDEST,
        KILL_ALL_BUT_ONE,
        STOP_AND_GO_ON,
        DAMAGE_ANSWERS,
        REMOVE_ANSWERS,
        LOSE_THE_ONE_WHO_ASKS
    }

    @Test
    void nothingComesOutWrong() throws Exception {
        Crowd.write(folder, 200_000);
        Map<String, String> alone = new TreeMap<>();
        Crowd.QUESTIONS.forEach(q -> alone.put(q, Crowd.answer(folder, q, null)));
        Path conf = Crowd.conf(folder, "");
        Map<Fault, int[]> came = new TreeMap<>();
        List<String> wrong = new ArrayList<>();
        SplittableRandom random = new SplittableRandom(SEED);
        try (Members members = new Members(conf, Map.of());
                ClusterCrew crew = ClusterCrew.of(CrewFile.read(conf))) {
            for (int i = 0; i < 3; i++) {
                members.start();
            }
            for (int i = 0; i < FAULTS; i++) {
                boolean slow = i % 20 == 0; // a stop lasts longer than members may be silent
                Fault fault = slow ? Fault.STOP_AND_GO_ON : Fault.values()[random.nextInt(Fault.values().length)];
                String question = Crowd.QUESTIONS.get(random.nextInt(Crowd.QUESTIONS.size()));
                long start = System.nanoTime();
                String answer = fault == Fault.LOSE_THE_ONE_WHO_ASKS
                        ? resumed(conf, question, random)
                        : attacked(members, crew, question, fault, random);
                int[] counted = came.computeIfAbsent(fault, f -> new int[3]);
                counted[0]++;
                counted[1] += answer.equals(alone.get(question)) ? 1 : 0;
                counted[2] = (int) Math.max(counted[2], (System.nanoTime() - start) / 1_000_000);
                boolean right = answer.equals(alone.get(question));
                System.out.printf(
                        "%3d %s, %s, %,d ms%n",
                        i, fault, right ? "right" : "WRONG", (System.nanoTime() - start) / 1_000_000);
                if (!right) {
                    wrong.add(fault + ": " + question + "\n"
                            + answer.lines().limit(5).toList());
                }
                while (members.alive().size() < 3) {
                    members.start();
                }
            }
        }
        came.forEach((fault, counts) -> System.out.printf(
                "%-22s %3d times, %3d right, %,6d ms at most%n", fault, counts[0], counts[1], counts[2]));
        assertThat(wrong).isEmpty();
        try (Stream<Path> left = Files.list(folder.resolve("shared"))) {
            assertThat(left).isEmpty();
        }
    }

    private String attacked(Members members, ClusterCrew crew, String question, Fault fault, SplittableRandom random)
            throws Exception {
        CompletableFuture<String> answer = CompletableFuture.supplyAsync(() -> {
            try {
                return Crowd.answer(folder, question, crew);
            } catch (RuntimeException e) {
                return "failed: " + e;
            }
        });
        Thread.sleep(random.nextInt(700));
        List<Process> alive = members.alive();
        switch (fault) {
            case KILL_ONE ->
                alive.get(random.nextInt(alive.size())).destroyForcibly().waitFor();
            case KILL_OLDEST -> alive.get(0).destroyForcibly().waitFor();
            case KILL_ALL_BUT_ONE -> {
                alive.get(0).destroyForcibly();
                alive.get(1).destroyForcibly().waitFor();
            }
            case STOP_AND_GO_ON -> {
                Process stopped = alive.get(random.nextInt(alive.size()));
                Members.signal(stopped, "STOP");
                Thread.sleep(13_000);
                Members.signal(stopped, "CONT");
                Thread.sleep(3_000);
                stopped.destroyForcibly().waitFor();
            }
            case DAMAGE_ANSWERS ->
                each(file -> {
                    try (RandomAccessFile damaged = new RandomAccessFile(file.toFile(), "rw")) {
                        damaged.seek(damaged.length() / 2);
                        damaged.write(~damaged.read());
                    }
                });
            case REMOVE_ANSWERS -> each(Files::deleteIfExists);
            default -> throw new IllegalArgumentException(fault.toString());
        }
        return answer.get(60, TimeUnit.SECONDS);
    }

    private interface Deed {
        void to(Path file) throws IOException;
    }

    /** Does something to each answer that lies there now. */
    private void each(Deed deed) throws IOException {
        try (Stream<Path> files = Files.walk(folder.resolve("shared"))) {
            for (Path file : files.filter(f -> f.getFileName().toString().startsWith("answer-"))
                    .toList()) {
                deed.to(file);
            }
        } catch (IOException | java.io.UncheckedIOException e) {
            return; // the run has ended meanwhile
        }
    }

    private String resumed(Path conf, String question, SplittableRandom random) throws Exception {
        Path log = folder.resolve("asker.log");
        Process asker = Members.java(
                Map.of(), log, ClusterCrewTest.Asker.class.getName(), folder.toString(), conf.toString(), question);
        while (!Files.readString(log).contains("run-") && asker.isAlive()) {
            Thread.sleep(5);
        }
        Thread.sleep(random.nextInt(500));
        asker.destroyForcibly().waitFor();
        String run = Files.readString(log).lines().findFirst().orElseThrow();
        ClusterCrew again = ClusterCrew.of(CrewFile.read(conf));
        boolean there = Files.isDirectory(folder.resolve("shared").resolve(run)); // else it had come to its end
        try (ClusterCrew crew = there ? again.resuming(run) : again) {
            return Crowd.answer(folder, question, crew);
        }
    }
}
