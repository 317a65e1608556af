package dev.fiesta.member;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.crew.Crew;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.survey.Survey;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Random;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A survey sees the same, whoever reads: members look at stretches, and what they saw is brought together. */
class SurveysOfCrewsTest {
    @TempDir
    Path folder;

    private StringBuilder text;

    @BeforeEach
    void some() {
        dirtySales(45_000, 1 << 10);
    }

    private void dirtySales(int rows, int notes) {
        Random random = new Random(11);
        text = new StringBuilder("sale_id,site,note,day,amount,fee,empty\n");
        for (int i = 0; i < rows; i++) {
            text.append(100_000 + i)
                    .append(
                            random.nextInt(40) == 0
                                    ? ","
                                    : ", Site".substring(0, 1 + random.nextInt(2)) + "site " + random.nextInt(7))
                    .append(random.nextInt(90) == 0 ? ",n/a" : ",note " + random.nextInt(notes))
                    .append(String.format(",%02d.%02d.2026", 10 + random.nextInt(10), 5 + random.nextInt(4)))
                    .append(
                            random.nextInt(60) == 0
                                    ? ",\"1,50\""
                                    : String.format(",%d.%02d", random.nextInt(3000), random.nextInt(100)))
                    .append(i < rows - 9 ? "," + i % 13 : ",0.25")
                    .append(",\n");
        }
    }

    private static Fiesta open(@Nullable Crew crew) {
        FiestaBuilder settings = Fiesta.with().threads(2);
        return crew == null ? settings.open() : settings.crew(crew).open();
    }

    private static Object survey(Path file, @Nullable Crew crew) {
        try (Fiesta fiesta = open(crew)) {
            return fiesta.read(file).survey();
        } catch (FiestaException e) {
            return e.getMessage();
        }
    }

    private void isTheSameWith(HeldCrew crew) throws IOException {
        Path file = Files.writeString(folder.resolve("sales.csv"), text);
        Object alone = survey(file, null);
        assertThat(alone).isInstanceOf(Survey.class);
        assertThat(survey(file, crew)).usingRecursiveComparison().isEqualTo(alone);
        assertThat(crew.asked()).isGreaterThan(1);
        assertThat(crew.left()).isZero();
    }

    /** A type that only the last records need, texts in several ways, more different values than are held. */
    @Test
    void ofDirtyRecords() throws IOException {
        dirtySales(80_000, 1 << 20);
        isTheSameWith(new HeldCrew(1 << 20, 0));
    }

    @Test
    void whereMembersMergeWhatOthersSaw() throws IOException {
        isTheSameWith(new HeldCrew(1, 2, true, 0));
    }

    @Test
    void whereLinesAreNoRecords() throws IOException {
        text.insert(text.length() / 2, "\nand this is none, it is\n");
        isTheSameWith(new HeldCrew(1 << 20, 0));
    }

    /** Where the records of a piece begin is known once the piece before it is read. */
    @Test
    void whereTextsHoldLines() throws IOException {
        for (int at = text.length() / 2; at > 1_000; at -= 300_000) {
            int end = text.indexOf("\n", at) + 1;
            text.insert(end, "7,\"a\n8,b,c,01.05.2026,2.00,1,\n\",note,01.05.2026,1.00,1,\n");
        }
        isTheSameWith(new HeldCrew(1 << 20, 0));
    }

    @Test
    void whatCannotBeReadIsToldTheSame() throws IOException {
        text.insert(text.length() / 2, "\n7,\"never closed,b\n");
        Path file = Files.writeString(folder.resolve("sales.csv"), text);
        assertThat(survey(file, new HeldCrew(1 << 20, 0)))
                .usingRecursiveComparison()
                .isEqualTo(survey(file, null));
    }
}
