package dev.fiesta.member;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.crew.Crew;
import dev.fiesta.problem.DataException;
import dev.fiesta.source.TinyPieces;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Answers that come faster than they are taken in are merged by members, as often as it takes; what comes of the run is the same. */
class MergedAnswersTest {
    private static final int ROWS = 1_500;
    private static final int PIECE = 300;
    private static final int LATE = 500;
    private static final String FIGURES = """
            per site give n = count(), s = sum(amount), d = stddev(score), k = count_distinct(item),
              f = first(quantity along day, score), g = max(amount), l = last(item)
            totals
            """;

    @TempDir
    private Path folder;

    private Path file;

    @BeforeEach
    void write() throws IOException {
        StringBuilder text = new StringBuilder("site,item,day,quantity,amount,score\n");
        for (int i = 0; i < ROWS; i++) {
            text.append(i % 3 == 0 ? "Quay" : "\"Mea\ndow\"")
                    .append(i % 7 == 0 ? ",ices," : ",noodles,")
                    .append(String.format("2026-05-%02d,", 1 + i % 28))
                    .append(i % 331 == 330 ? "some" : "" + i % 90)
                    .append(String.format(",%d.50,%d.25\n", i, i % 13));
        }
        file = Files.writeString(folder.resolve("sales.csv"), text);
    }

    /** A member who does all, but for the first task: its answer comes late. */
    private static final class HeldBack implements Crew {
        private final Member member = Fiesta.with().member();
        private final Map<String, byte[]> files = new ConcurrentHashMap<>();
        private final List<String> opened = new ArrayList<>();
        private int asked;
        private int lost;

        /** @param lost how many answers cannot be opened by members */
        HeldBack(int lost) {
            this.lost = lost;
        }

        @Override
        public int members() {
            return 2;
        }

        @Override
        public long taskBytes() {
            return 1;
        }

        @Override
        public long leastBytes() {
            return 0;
        }

        @Override
        public int mergedAtOnce() {
            return 4;
        }

        @Override
        public void close() {}

        private InputStream opened(String name, int section) throws IOException {
            opened.add(name);
            if (lost > 0) {
                lost--;
                throw new IOException("gone");
            }
            return new ByteArrayInputStream(files.get(name));
        }

        private Answer answer(String name, byte[] bytes) {
            files.put(name, bytes);
            return new Answer() {
                @Override
                public InputStream open(int section) {
                    return new ByteArrayInputStream(bytes);
                }

                @Override
                public String name() {
                    return name;
                }

                @Override
                public long bytes() {
                    return bytes.length;
                }

                @Override
                public void drop() {
                    files.remove(name);
                }
            };
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
                    CompletableFuture<Answer> answer = new CompletableFuture<>();
                    int number = asked++;
                    try {
                        HeldSections out = new HeldSections();
                        member.work(task, HeldBack.this::opened, out);
                        Answer found = answer("answer-" + number, out.bytes().get(0));
                        answer.completeOnTimeout(found, number == 0 ? LATE : 0, TimeUnit.MILLISECONDS);
                    } catch (IOException | RuntimeException e) {
                        answer.completeExceptionally(e);
                    }
                    return answer;
                }

                @Override
                public void close() {}
            };
        }
    }

    private String outcome(String clauses, boolean badAsMissing, Crew crew) {
        return outcome(clauses, PIECE, badAsMissing, crew);
    }

    private String outcome(String clauses, int piece, boolean badAsMissing, Crew crew) {
        try (Fiesta fiesta =
                        crew == null ? Fiesta.open() : Fiesta.with().crew(crew).open();
                Result result = TinyPieces.read(fiesta, file, piece, badAsMissing)
                        .then(clauses)
                        .run()) {
            return String.join("\n", Asking.lines(result))
                    + result.totals()
                    + result.notices().list().stream().map(n -> n.text()).collect(Collectors.joining("\n"));
        }
    }

    @Test
    void whatIsMergedIsTheSame() {
        HeldBack crew = new HeldBack(0);
        assertThat(outcome(FIGURES, true, crew)).isEqualTo(outcome(FIGURES, true, null));
        assertThat(crew.opened).as("answers that were merged").hasSizeGreaterThan(40);
        assertThat(crew.opened)
                .as("what was merged is merged again")
                .anyMatch(name -> Integer.parseInt(name.substring("answer-".length())) > 60);
        assertThat(crew.files).as("answers that nobody needs").isEmpty();
    }

    @Test
    void whatCannotBeMergedIsTakenInAsItWas() {
        for (int lost : new int[] {1, 9, 1_000}) {
            HeldBack crew = new HeldBack(lost);
            assertThat(outcome(FIGURES, true, crew)).isEqualTo(outcome(FIGURES, true, null));
            assertThat(crew.opened).hasSizeGreaterThan(lost > 40 ? 3 : 40);
        }
    }

    /** Merging groups that are as many as records would only be work. */
    @Test
    void whatDoesNotBecomeLessIsMergedOnceOnly() throws IOException {
        StringBuilder text = new StringBuilder("site,item,day,quantity,amount,score\n");
        SplittableRandom random = new SplittableRandom(5);
        for (int i = 0; i < 20_000; i++) {
            text.append("Quay,").append(Long.toHexString(random.nextLong())).append(",2026-05-01,1,2.50,3.25\n");
        }
        Files.writeString(file, text);
        String all = "per item give n = count()";
        HeldBack crew = new HeldBack(0);
        assertThat(outcome(all, 20_000, true, crew)).isEqualTo(outcome(all, 20_000, true, null));
        assertThat(crew.opened).hasSize(crew.mergedAtOnce());
    }

    /** One stretch fails: it is told as if it had been read alone, whatever was merged around it. */
    @Test
    void aFaultIsToldAsItIs() {
        HeldBack crew = new HeldBack(0);
        assertThatThrownBy(() -> outcome(FIGURES, false, crew))
                .isInstanceOf(DataException.class)
                .hasMessageContaining("line 552:")
                .hasMessageContaining("'some'");
    }

    /** Rows are only handed on. */
    @Test
    void rowsAreNotMerged() {
        String rows = "sort amount desc columns amount, item";
        HeldBack crew = new HeldBack(0);
        assertThat(outcome(rows, true, crew)).isEqualTo(outcome(rows, true, null));
        assertThat(crew.opened).isEmpty();
    }
}
