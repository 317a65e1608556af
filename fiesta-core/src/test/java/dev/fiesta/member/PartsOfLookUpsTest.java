package dev.fiesta.member;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Result;
import dev.fiesta.Table;
import dev.fiesta.crew.Crew;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.source.TinyPieces;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Random;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A table that does not fit into memory is looked up part by part by members, and what is found is what one machine finds. */
class PartsOfLookUpsTest {
    @TempDir
    static Path folder;

    private static Path sales;

    @BeforeAll
    static void data() throws IOException {
        sales = DirtySales.write(folder, 300, 12, 60);
        Random random = new Random(3);
        StringBuilder items = new StringBuilder("item,price,since\n,7.00,2026-01-01\n");
        StringBuilder numbers = new StringBuilder("n,exact,quarter,label\n");
        StringBuilder often = new StringBuilder("site,place\n,nowhere\n");
        for (int i = 0; i < 55; i++) {
            items.append("item ")
                    .append(i)
                    .append(',')
                    .append(random.nextInt(90))
                    .append(".50,2026-05-01\n");
        }
        for (int i = 0; i < 500; i += 1 + i % 3) {
            numbers.append(i)
                    .append(',')
                    .append(i)
                    .append(".00,")
                    .append(i)
                    .append(".25,label ")
                    .append(i % 7)
                    .append('\n');
        }
        for (int i = 0; i < 210; i++) {
            often.append("site ")
                    .append(random.nextInt(3))
                    .append(",place ")
                    .append(i)
                    .append('\n');
        }
        Files.writeString(folder.resolve("items.csv"), items);
        Files.writeString(folder.resolve("numbers.csv"), numbers);
        Files.writeString(folder.resolve("often.csv"), often);
        String dated = items.substring(0, items.length())
                + items.substring(items.indexOf("\n") + 1)
                        .replace("2026-05-01", "2026-06-15")
                        .replace("2026-01-01", "2026-06-15");
        Files.writeString(folder.resolve("dated.csv"), dated);
    }

    /** @param memory of the one who asks */
    private static String outcome(String other, String how, String clauses, @Nullable Crew crew, long memory) {
        FiestaBuilder settings = Fiesta.with().memory(memory);
        try (Fiesta fiesta =
                crew == null ? settings.open() : settings.crew(crew).open()) {
            Table from = TinyPieces.read(fiesta, sales, 60, true);
            Table theirs = fiesta.read(folder.resolve(other + ".csv"));
            Table found = how.startsWith("each ") ? from.matchEach(theirs, how.substring(5)) : from.match(theirs, how);
            try (Result result = (clauses == null ? found : found.then(clauses)).run()) {
                return Asking.outcome(result);
            }
        } catch (FiestaException e) {
            return "failed: " + e.getMessage();
        }
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "items; on item bring price;",
                "items; on item bring price; only price > 20 add t = price * amount columns quantity, t",
                "items; on item bring price matched only; per site give t = sum(price), n = count() totals",
                "items; on item unmatched only; sort quantity desc",
                "dated; on item, latest since <= day bring price, since as valid; only quantity % 3 = 0",
                "numbers; on quantity = n bring label; only label is missing",
                "numbers; on quantity = exact bring label, quarter; columns quantity, label, quarter",
                "numbers; on quantity = n bring label matched only; per label give n = count(), f = first(quantity)",
                "often; each on site bring place; add k = place columns quantity, site, k",
                "often; each on site bring place matched only; only quantity < 40 sort quantity desc, place",
                "often; each on site unmatched only; columns quantity, site"
            })
    void whatMembersFindIsTheSame(String other, String how, @Nullable String clauses) {
        String alone = outcome(other, how, clauses, null, 1 << 26);
        assertThat(alone).doesNotStartWith("failed");
        assertThat(outcome(other, how, clauses, null, 1)).isEqualTo(alone);
        HeldCrew crew = new HeldCrew(1_200, 0);
        assertThat(outcome(other, how, clauses, crew, 1)).isEqualTo(alone);
        assertThat(crew.opened).as("sections that were opened by members").isNotEmpty();
        assertThat(crew.left()).isZero();
        assertThat(outcome(other, how, clauses, new HeldCrew(1_200, 2), 1)).isEqualTo(alone);
        assertThat(outcome(other, how, clauses, new HeldCrew(1_200, 0), 1 << 26))
                .isEqualTo(alone);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "items; on item bring price required;",
                "often; on site bring place;",
                "items; on item bring price; add x = 1 / (quantity - 300)",
                "items; on item bring price also unmatched; per site give n = count()"
            })
    void whatIsOddIsToldAsEver(String other, String how, @Nullable String clauses) {
        assertThat(outcome(other, how, clauses, new HeldCrew(1_200, 0), 1))
                .isEqualTo(outcome(other, how, clauses, null, 1 << 26));
    }
}
