package dev.fiesta.member;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Result;
import dev.fiesta.crew.Crew;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Ranges of an order that have many blocks, in which many rows stand level with each other. */
class RangesOfRowsTest {
    @TempDir
    static Path folder;

    private static Path sales;

    @BeforeAll
    static void data() throws IOException {
        sales = DirtySales.write(folder, 90_000, 7, 11);
    }

    private static List<String> answer(String clauses, @Nullable Crew crew, long memory) {
        FiestaBuilder settings = Fiesta.with().threads(2).memory(memory);
        try (Fiesta fiesta =
                        crew == null ? settings.open() : settings.crew(crew).open();
                Result result = fiesta.read(List.of(sales), "fields amount decimal(2) bad as missing")
                        .then(clauses)
                        .run()) {
            return Asking.lines(result);
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "add d = dense_rank(along amount desc), r = rank(along amount desc) only quantity % 501 = 7",
                "add d = dense_rank(only item <> 'item 3' along site, amount) only quantity % 501 = 7",
                "add p = percent_rank(along day), n = ntile(7 along day), c = cume_dist(along day) only quantity % 501 = 7",
                "add s = sum(quantity along amount running), m = mean(quantity along amount last 40) only quantity % 501 = 7",
                "add s = sum(quantity along amount from here to end), t = stddev(amount within all) only quantity % 501 = 7",
                "sort amount desc, site only quantity % 501 = 7"
            })
    void areWorkedOutAsOne(String clauses) {
        List<String> alone = answer(clauses, null, 1L << 28);
        for (long memory : new long[] {1L << 28, 300_000}) {
            HeldCrew crew = new HeldCrew(1 << 18, 0);
            assertThat(answer(clauses, crew, memory)).isEqualTo(alone);
            assertThat(crew.opened).isNotEmpty();
            assertThat(crew.left()).isZero();
        }
    }
}
