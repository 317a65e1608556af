package dev.fiesta.member;

import dev.fiesta.crew.Crew;
import dev.fiesta.crew.StageFile;
import dev.fiesta.problem.MachineException;
import dev.fiesta.source.files.TemporaryFiles;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;

/** A crew in this process: its members are threads, and all that they hand each other goes through files all the same. */
public final class LocalCrew implements Crew {
    private final Member member;
    private final int members;
    private final long taskBytes;
    private final long leastBytes;
    private final int mergedAtOnce;
    private final ExecutorService threads;

    /**
     * @param member does the tasks of all
     * @param members how many there are, at least 1
     * @param taskBytes about the bytes of an input that make a task
     * @param leastBytes the least bytes of an input that is read together
     * @param mergedAtOnce how many answers that wait are merged into one, at least 2
     */
    public LocalCrew(Member member, int members, long taskBytes, long leastBytes, int mergedAtOnce) {
        this.member = member;
        this.members = members;
        this.taskBytes = taskBytes;
        this.leastBytes = leastBytes;
        this.mergedAtOnce = mergedAtOnce;
        this.threads = Executors.newFixedThreadPool(members, job -> {
            Thread thread = new Thread(job, "fiesta-member");
            thread.setDaemon(true);
            return thread;
        });
    }

    @Override
    public int members() {
        return members;
    }

    @Override
    public long taskBytes() {
        return taskBytes;
    }

    @Override
    public long leastBytes() {
        return leastBytes;
    }

    @Override
    public int mergedAtOnce() {
        return mergedAtOnce;
    }

    @Override
    public Work begin(Purpose purpose) {
        return new LocalWork();
    }

    @Override
    public void close() {
        threads.shutdownNow();
    }

    private final class LocalWork implements Work {
        private final Map<String, Path> files = new ConcurrentHashMap<>();
        private final AtomicInteger number = new AtomicInteger();

        @Override
        public String lay(Content content) {
            String name = "laid-" + number.incrementAndGet();
            Path file = TemporaryFiles.create(".laid");
            try {
                StageFile.write(file, content);
            } catch (IOException e) {
                throw TemporaryFiles.unwritable("What members of the crew look up", e);
            }
            files.put(name, file);
            return name;
        }

        @Override
        public Path place(Path file) {
            Path placed = TemporaryFiles.create(".placed");
            try {
                Files.copy(file, placed, StandardCopyOption.REPLACE_EXISTING);
            } catch (IOException e) {
                throw TemporaryFiles.unwritable("What members of the crew read", e);
            }
            files.put("placed-" + number.incrementAndGet(), placed);
            return placed;
        }

        @Override
        public CompletableFuture<Answer> ask(byte[] task) {
            return CompletableFuture.supplyAsync(() -> answer(task), threads);
        }

        private Answer answer(byte[] task) {
            Path file = TemporaryFiles.create(".answer");
            String name = "answer-" + number.incrementAndGet();
            files.put(name, file);
            try {
                StageFile.write(
                        file,
                        out -> member.work(
                                task,
                                (asked, section) ->
                                        StageFile.open(Objects.requireNonNull(files.get(asked), asked), section),
                                out));
            } catch (IOException e) {
                throw TemporaryFiles.unwritable("What a member of the crew has found", e);
            }
            return new Answer() {
                @Override
                public InputStream open(int section) throws IOException {
                    return StageFile.open(file, section);
                }

                @Override
                public String name() {
                    return name;
                }

                @Override
                public long bytes() {
                    return file.toFile().length();
                }

                @Override
                public void drop() {
                    remove(file);
                    files.remove(name);
                }
            };
        }

        private void remove(Path file) {
            try {
                Files.deleteIfExists(file);
            } catch (IOException e) {
                throw new MachineException("'" + file + "' cannot be removed", e);
            }
        }

        @Override
        public void close() {
            files.values().forEach(this::remove);
        }
    }
}
