package dev.fiesta.member;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.crew.Crew;
import dev.fiesta.problem.DataException;
import dev.fiesta.source.TinyPieces;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.SplittableRandom;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Answers that come faster than they are taken in are merged by members, as often as it takes; what comes of the run is the same. */
class MergedAnswersTest {
    private static final int ROWS = 1_500;
    private static final int PIECE = 300;
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

    private static HeldCrew crew(int lost) {
        return new HeldCrew(1, 4, true, lost);
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
            return String.join("\n", Asking.lines(result)) + result.totals() + Asking.notices(result);
        }
    }

    @Test
    void whatIsMergedIsTheSame() {
        HeldCrew crew = crew(0);
        assertThat(outcome(FIGURES, true, crew)).isEqualTo(outcome(FIGURES, true, null));
        assertThat(crew.opened).as("answers that were merged").hasSizeGreaterThan(40);
        assertThat(crew.opened)
                .as("what was merged is merged again")
                .anyMatch(name -> Integer.parseInt(name.substring("answer-".length())) > 60);
        assertThat(crew.left()).as("answers that nobody needs").isZero();
    }

    @Test
    void whatCannotBeMergedIsTakenInAsItWas() {
        for (int lost : new int[] {1, 9, 1_000}) {
            HeldCrew crew = crew(lost);
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
        HeldCrew crew = crew(0);
        assertThat(outcome(all, 20_000, true, crew)).isEqualTo(outcome(all, 20_000, true, null));
        assertThat(crew.opened).hasSize(crew.mergedAtOnce());
    }

    /** One stretch fails: it is told as if it had been read alone, whatever was merged around it. */
    @Test
    void aFaultIsToldAsItIs() {
        HeldCrew crew = crew(0);
        assertThatThrownBy(() -> outcome(FIGURES, false, crew))
                .isInstanceOf(DataException.class)
                .hasMessageContaining("line 552:")
                .hasMessageContaining("'some'");
    }

    /** Rows are only handed on. */
    @Test
    void rowsAreNotMerged() {
        String rows = "only amount > 3 columns amount, item";
        HeldCrew crew = crew(0);
        assertThat(outcome(rows, true, crew)).isEqualTo(outcome(rows, true, null));
        assertThat(crew.opened).isEmpty();
    }
}
