package dev.fiesta.oracle;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.Repeats;
import dev.fiesta.Result;
import dev.fiesta.crew.Crew;
import dev.fiesta.member.LocalCrew;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.source.LeftBehind;
import dev.fiesta.source.TinyPieces;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.SplittableRandom;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A crew whose members are slow, answer twice, late, in any order, or are lost after they have written: what comes of a run is the same. */
class BadCrewTest {
    private static final int QUESTIONS = Integer.getInteger("fiesta.badCrew", 60);
    private static final int FIRST = Integer.getInteger("fiesta.first", 0);

    @TempDir
    Path folder;

    private record Bad(LocalCrew crew, SplittableRandom random) implements Crew {
        @Override
        public int members() {
            return crew.members();
        }

        @Override
        public long taskBytes() {
            return crew.taskBytes();
        }

        @Override
        public int mergedAtOnce() {
            return crew.mergedAtOnce();
        }

        @Override
        public long leastBytes() {
            return 0;
        }

        @Override
        public void close() {
            crew.close();
        }

        @Override
        public Work begin(Purpose purpose) {
            Work work = crew.begin(purpose);
            return new Work() {
                @Override
                public Path place(Path file) {
                    return file;
                }

                @Override
                public String lay(Content content) {
                    return work.lay(content);
                }

                @Override
                public synchronized CompletableFuture<Answer> ask(byte[] task) {
                    CompletableFuture<Answer> answer = work.ask(task);
                    if (random.nextInt(3) == 0) { // lost once it had written: done again
                        answer = answer.thenCompose(first -> {
                            first.drop();
                            return work.ask(task);
                        });
                    }
                    if (random.nextInt(3) == 0) { // twice: the second one is taken
                        CompletableFuture<Answer> again = work.ask(task);
                        answer = answer.thenCombine(again, (one, other) -> {
                            one.drop();
                            return other;
                        });
                    }
                    int late = random.nextInt(4);
                    return answer.thenCompose(
                            a -> new CompletableFuture<Answer>().completeOnTimeout(a, late, TimeUnit.MILLISECONDS));
                }

                @Override
                public void close() {
                    work.close();
                }
            };
        }
    }

    @Test
    void outcomesAreTheSame() throws IOException {
        Path file = folder.resolve("sales.csv");
        long before = LeftBehind.files();
        List<String> differing = new ArrayList<>();
        for (long seed = FIRST; seed < FIRST + QUESTIONS; seed++) {
            RandomQuestions questions = new RandomQuestions(seed + 4_000_000);
            Repeats.write(file, EngineAgainstOracleTest.csv(questions.table()));
            String clauses = questions.clauses();
            LocalCrew crew = new LocalCrew(
                    Fiesta.with().threads(2).member(), 1 + (int) (seed % 5), 100, 0, 2 + (int) (seed % 3));
            try (Fiesta alone = Fiesta.open();
                    Bad bad = new Bad(crew, new SplittableRandom(seed));
                    Fiesta together = Fiesta.with().crew(bad).open()) {
                String expected = outcome(alone, file, clauses);
                String found = outcome(together, file, clauses);
                if (!found.equals(expected)) {
                    differing.add("seed " + seed + ":\n" + clauses + "\n" + expected + "\nbut\n" + found);
                }
            }
        }
        assertThat(differing).isEmpty();
        assertThat(LeftBehind.files()).as("files that no run needs any more").isLessThanOrEqualTo(before);
    }

    private static String outcome(Fiesta fiesta, Path file, String clauses) {
        try (Result result = TinyPieces.read(fiesta, file, 50).then(clauses).run()) {
            return String.join("\n", Asking.lines(result)) + "\n" + result.totals() + "\n" + Asking.notices(result);
        } catch (FiestaException e) {
            return "failed: " + e.getMessage();
        } catch (RuntimeException e) {
            return "crashed: " + e + Arrays.toString(e.getStackTrace());
        }
    }
}
