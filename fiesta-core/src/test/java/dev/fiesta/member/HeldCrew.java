package dev.fiesta.member;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.crew.Crew;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;

/** A member alone, whose answers stand in memory; those that tasks open can be lost, and the first one can come once nobody asks any more. */
final class HeldCrew implements Crew {
    private static final int QUIET = 200;

    private final Member member = Fiesta.with().threads(2).member();
    private final long taskBytes;
    private final int mergedAtOnce;
    private final boolean firstIsLast;
    private final Map<String, List<byte[]>> answers = new ConcurrentHashMap<>();
    private final Map<String, List<byte[]>> laid = new ConcurrentHashMap<>();
    /** The names of the answers that tasks have opened sections of. */
    final List<String> opened = new ArrayList<>();

    private int lost;
    private volatile int asked;
    private volatile boolean working;

    /** One that goes on with parts and merges nothing. */
    HeldCrew(long taskBytes, int lost) {
        this(taskBytes, Integer.MAX_VALUE, false, lost);
    }

    /**
     * @param firstIsLast whether the first answer is there only once nothing more is asked
     * @param lost how many of the first sections opened cannot be read
     */
    HeldCrew(long taskBytes, int mergedAtOnce, boolean firstIsLast, int lost) {
        this.taskBytes = taskBytes;
        this.mergedAtOnce = mergedAtOnce;
        this.firstIsLast = firstIsLast;
        this.lost = lost;
    }

    @Override
    public int members() {
        return 2;
    }

    @Override
    public long taskBytes() {
        return taskBytes;
    }

    @Override
    public long leastBytes() {
        return 0;
    }

    @Override
    public int mergedAtOnce() {
        return mergedAtOnce;
    }

    @Override
    public void close() {}

    /** How many answers nobody has dropped. */
    int left() {
        return answers.size();
    }

    /** How many tasks it was given. */
    int asked() {
        return asked;
    }

    private InputStream open(String name, int section) throws IOException {
        List<byte[]> looked = laid.get(name);
        if (looked != null) {
            return new ByteArrayInputStream(looked.get(section));
        }
        opened.add(name);
        if (lost > 0) {
            lost--;
            throw new IOException("gone");
        }
        return new ByteArrayInputStream(answers.get(name).get(section));
    }

    @Override
    public Work begin(Purpose purpose) {
        return new Work() {
            private final List<Path> placed = new ArrayList<>();

            @Override
            public String lay(Content content) {
                HeldSections out = new HeldSections();
                try {
                    content.writeTo(out);
                } catch (IOException e) {
                    throw new UncheckedIOException(e);
                }
                String name = "laid-" + laid.size();
                laid.put(name, out.bytes());
                return name;
            }

            @Override
            public CompletableFuture<Answer> ask(byte[] task) {
                CompletableFuture<Answer> done = new CompletableFuture<>();
                int number = asked;
                working = true;
                asked = number + 1;
                try {
                    HeldSections out = new HeldSections();
                    member.work(task, HeldCrew.this::open, out);
                    Answer found = answer("answer-" + number, out.bytes());
                    if (number == 0 && firstIsLast) {
                        onceNobodyAsks(() -> give(found, done), asked);
                    } else {
                        give(found, done);
                    }
                } catch (IOException | RuntimeException e) {
                    done.completeExceptionally(e);
                } finally {
                    working = false;
                }
                return done;
            }

            @Override
            public Path place(Path file) {
                try {
                    Path there = Files.createTempFile("placed-", ".plain");
                    placed.add(there);
                    return Files.copy(file, there, StandardCopyOption.REPLACE_EXISTING);
                } catch (IOException e) {
                    throw new UncheckedIOException(e);
                }
            }

            @Override
            public void close() {
                placed.forEach(file -> assertThat(file.toFile().delete()).isTrue());
            }
        };
    }

    /** @param seen how many tasks had been given when it was looked at last */
    private void onceNobodyAsks(Runnable job, int seen) {
        CompletableFuture.delayedExecutor(QUIET, TimeUnit.MILLISECONDS).execute(() -> {
            int now = asked;
            if (working || now != seen) {
                onceNobodyAsks(job, now);
            } else {
                job.run();
            }
        });
    }

    /** Gives an answer, or drops it where nobody waits for it any more. */
    private static void give(Answer found, CompletableFuture<Answer> to) {
        if (!to.complete(found)) {
            found.drop();
        }
    }

    private Answer answer(String name, List<byte[]> sections) {
        answers.put(name, sections);
        return new Answer() {
            @Override
            public InputStream open(int section) {
                return new ByteArrayInputStream(sections.get(section));
            }

            @Override
            public String name() {
                return name;
            }

            @Override
            public long bytes() {
                return sections.stream().mapToLong(s -> s.length).sum();
            }

            @Override
            public void drop() {
                answers.remove(name);
            }
        };
    }
}
