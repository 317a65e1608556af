package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is said beside the cells of a table: small lines of other tables, notes, that a figure rests on few records. */
class CoursesAndMarksTest {
    @TempDir
    Path folder;

    @BeforeEach
    void data() throws IOException {
        Files.writeString(
                folder.resolve("sales.csv"),
                "site,week,amount\nQuay,2026-05-04,10\nQuay,2026-05-11,20\nQuay,2026-05-11,5\nMeadow,2026-05-04,7\n");
    }

    private Tables tables(Fiesta fiesta, String text) {
        return fiesta.brief("t", "input sales from 'sales.csv'\n" + text, folder)
                .tables(fiesta);
    }

    @Test
    void aCourseRunsAlongTheKeyThatTheOtherTableHasMore() {
        String weekly = "table weekly from sales per site, week give takings = sum(amount)\n";
        try (Fiesta fiesta = Fiesta.open()) {
            Tables tables = tables(
                    fiesta,
                    weekly + "table sites from sales per site give total = sum(amount)\n"
                            + "  columns site, course(weekly.takings along week) 'Through the season', total\n"
                            + "table methods from sales per site, amount give n = count()\n"
                            + "  columns site, amount, course(weekly.takings along week on site)\n"
                            + "table all_of_it from sales per week give n = count()");
            assertThat(tables.courses("sites"))
                    .containsExactly(
                            new Tables.Course("weekly", "takings", "week", List.of("site"), "Through the season", 1));
            assertThat(tables.courses("methods"))
                    .containsExactly(new Tables.Course("weekly", "takings", "week", List.of("site"), null, 2));
            assertThat(tables.courses("all_of_it")).isEmpty();
            Result sites = tables.run(List.of("sites")).get("sites");
            assertThat(sites.view().stream().map(ViewColumn::field)).containsExactly("site", "total");
        }
    }

    @Test
    void notesStandWhereTheirConditionIsTrue() {
        try (Fiesta fiesta = Fiesta.open()) {
            Result sites = tables(
                            fiesta,
                            "table t from sales per site give total = sum(amount), n = count()\n"
                                    + "  columns site note 'A pitch of ours', total note 'Less than usual' where total < 10 "
                                    + "note 'One sale' where n = 1, n mark few 2")
                    .run(List.of("t"))
                    .get("t");
            assertThat(sites.texts("site")).containsExactly("Meadow", "Quay");
            assertThat(sites.notes("total", 0)).containsExactly("Less than usual", "One sale");
            assertThat(sites.notes("total", 1)).isEmpty();
            assertThat(IntStream.range(0, 2).mapToObj(r -> sites.notes("site", r)))
                    .containsOnly(List.of("A pitch of ours"));
            assertThat(sites.notes("n", 0)).isEmpty();
            assertThat(sites.restsOnFew("n", 0)).isTrue();
            assertThat(sites.restsOnFew("n", 1)).isFalse();
            assertThat(sites.restsOnFew("total", 0)).isFalse();
        }
    }

    /** What is hidden in a table is hidden in those over it, also where they look it up or count on. */
    @Test
    void tablesOverATableKnowWhatItHides() {
        String hides = "table sites from sales per site give total = sum(amount) hide total where total < 10\n";
        try (Fiesta fiesta = Fiesta.open()) {
            Result over = tables(fiesta, hides + "table t from sites sort site desc rename total as takings")
                    .run(List.of("t"))
                    .get("t");
            assertThat(over.texts("site")).containsExactly("Quay", "Meadow");
            assertThat(over.isHidden("takings", 1)).isTrue();
            assertThat(over.isHidden("takings", 0)).isFalse();
            assertThat(over.row(1).get("takings")).isNull();
        }
    }
}
