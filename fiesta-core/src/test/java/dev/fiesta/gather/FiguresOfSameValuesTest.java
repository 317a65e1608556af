package dev.fiesta.gather;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.member.LocalCrew;
import dev.fiesta.source.TinyPieces;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Figures that look at the same values share them; each is what it is when it is asked alone. */
class FiguresOfSameValuesTest {
    private static final List<String> FIGURES = List.of(
            "quantile(amount, 0.9)",
            "median(amount)",
            "quantile(amount, 0.25)",
            "trimmed_mean(amount, 0.1)",
            "mean_abs_deviation(amount)",
            "median(amount only quantity > 20)",
            "quantile(amount, 0.5 only quantity > 20)",
            "median(score)",
            "quantile(amount, 0.1)",
            "median(amount within site)",
            "median(quantity)");

    @TempDir
    Path folder;

    private Path file;

    @BeforeEach
    void sales() throws IOException {
        Random random = new Random(4);
        StringBuilder text = new StringBuilder("site,item,day,quantity,amount,score\n");
        for (int i = 0; i < 900; i++) {
            text.append(random.nextInt(20) == 0 ? "" : "site " + random.nextInt(4))
                    .append(",item " + random.nextInt(3) + ",2026-05-01,")
                    .append(random.nextInt(40))
                    .append(random.nextInt(15) == 0 ? "," : "," + (random.nextInt(200) - 90) + ".50")
                    .append("," + random.nextInt(50) / 8.0 + "\n");
        }
        file = Files.writeString(folder.resolve("sales.csv"), text);
    }

    private List<String> lines(Fiesta fiesta, String figures, String behind) {
        try (Result result = TinyPieces.read(fiesta, file, 4_000, true)
                .then("per site, item give " + figures + behind)
                .run()) {
            return Asking.lines(result);
        }
    }

    private void areThoseAskedAlone(Fiesta fiesta) {
        String all =
                FIGURES.stream().map(f -> "f" + FIGURES.indexOf(f) + " = " + f).collect(Collectors.joining(", "));
        List<String> together = lines(fiesta, all, " sort site, item totals by site");
        assertThat(together).hasSizeGreaterThan(15);
        try (Fiesta plain = Fiesta.open()) {
            for (int f = 0; f < FIGURES.size(); f++) {
                int column = 2 + f;
                List<String> alone = lines(plain, "f = " + FIGURES.get(f), " sort site, item totals by site");
                assertThat(together.stream().skip(1).map(l -> l.split(",", -1)[column]))
                        .as(FIGURES.get(f))
                        .containsExactlyElementsOf(alone.stream()
                                .skip(1)
                                .map(l -> l.split(",", -1)[2])
                                .toList());
            }
        }
    }

    @Test
    void inMemory() {
        try (Fiesta fiesta = Fiesta.with().threads(3).open()) {
            areThoseAskedAlone(fiesta);
        }
    }

    @Test
    void inTheFile() {
        for (long memory : new long[] {1, 20_000}) {
            try (Fiesta fiesta = Fiesta.with().threads(2).memory(memory).open()) {
                areThoseAskedAlone(fiesta);
            }
        }
    }

    @Test
    void ofACrew() {
        try (LocalCrew crew = new LocalCrew(Fiesta.with().member(), 3, 1, 0, 2);
                Fiesta fiesta = Fiesta.with().crew(crew).open()) {
            areThoseAskedAlone(fiesta);
        }
    }
}
