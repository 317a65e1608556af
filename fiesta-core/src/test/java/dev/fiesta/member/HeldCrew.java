package dev.fiesta.member;

import dev.fiesta.Fiesta;
import dev.fiesta.crew.Crew;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;

/** A crew of one whose answers stand in memory; it can lose sections of them as they are opened by others. */
final class HeldCrew implements Crew {
    private final Member member = Fiesta.with().threads(2).member();
    private final long taskBytes;
    private final Map<String, List<byte[]>> answers = new HashMap<>();
    /** The sections with parts of rows that tasks have opened, by their names and numbers. */
    final List<String> opened = new ArrayList<>();

    private int lost;
    private int asked;

    /** @param lost how many of the first sections opened cannot be read */
    HeldCrew(long taskBytes, int lost) {
        this.taskBytes = taskBytes;
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
        return 100;
    }

    @Override
    public void close() {}

    /** How many answers are still there. */
    int left() {
        return answers.size();
    }

    private InputStream open(String name, int section) throws IOException {
        if (section > 0) {
            opened.add(name + " " + section);
        }
        if (section > 0 && lost > 0) {
            lost--;
            throw new IOException("gone");
        }
        return new ByteArrayInputStream(answers.get(name).get(section));
    }

    @Override
    public Work begin(Purpose purpose) {
        return new Work() {
            @Override
            public String lay(Content content) {
                throw new IllegalStateException("nothing is looked up");
            }

            @Override
            public CompletableFuture<Answer> ask(byte[] task) {
                CompletableFuture<Answer> done = new CompletableFuture<>();
                try {
                    HeldSections out = new HeldSections();
                    member.work(task, HeldCrew.this::open, out);
                    done.complete(answer("answer-" + asked++, out.bytes()));
                } catch (IOException | RuntimeException e) {
                    done.completeExceptionally(e);
                }
                return done;
            }

            @Override
            public void close() {}
        };
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
