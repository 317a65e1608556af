package dev.fiesta.member;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Result;
import dev.fiesta.crew.Crew;
import dev.fiesta.problem.FiestaException;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Objects;
import java.util.function.Function;
import java.util.stream.IntStream;
import java.util.zip.GZIPOutputStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What only the one who asks could read is placed as plain text for members, who read it as one machine does. */
class PlacedFilesTest {
    private static final int ROWS = 60_000;
    private static final String FIELDS = " fields quantity integer, amount decimal(2)";

    @TempDir
    static Path folder;

    @BeforeAll
    static void data() throws IOException {
        Path plain = DirtySales.write(folder, ROWS, 6, 9);
        byte[] bytes = Files.readAllBytes(plain);
        try (OutputStream out = new GZIPOutputStream(Files.newOutputStream(folder.resolve("sales.csv.gz")))) {
            out.write(bytes);
        }
        try (ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(folder.resolve("sales.zip")))) {
            out.putNextEntry(new ZipEntry("may/sales.csv"));
            out.write(bytes);
            out.closeEntry();
        }
        String text = new String(bytes, StandardCharsets.UTF_8).replace("site 1", "Café \"Süd\"");
        Files.writeString(folder.resolve("western.csv"), text, Charset.forName("windows-1252"));
        Files.writeString(folder.resolve("wide.csv"), "\uFEFF" + text, StandardCharsets.UTF_16LE);
    }

    private static Object outcome(@Nullable Crew crew, Function<Fiesta, Result> question) {
        FiestaBuilder settings = Fiesta.with().threads(2);
        try (Fiesta fiesta =
                crew == null ? settings.open() : settings.crew(crew).open()) {
            Result result = question.apply(fiesta);
            return List.of(result.schema().toString(), Asking.outcome(result));
        } catch (FiestaException e) {
            return e.getMessage();
        }
    }

    private static void same(boolean fails, Function<Fiesta, Result> question) {
        Object alone = outcome(null, question);
        assertThat(alone).isInstanceOf(fails ? String.class : List.class);
        HeldCrew crew = new HeldCrew(1 << 20, 0);
        assertThat(outcome(crew, question)).isEqualTo(alone);
        assertThat(crew.asked()).isPositive();
        assertThat(crew.left()).isZero();
    }

    private static void same(String input, String clauses, boolean fails) {
        String brief = "input s from " + input + "\ntable t from s " + clauses;
        same(
                fails,
                fiesta -> Objects.requireNonNull(
                        Brief.of("t", brief, folder).run(fiesta).get("t")));
    }

    @ParameterizedTest
    @ValueSource(strings = {"'sales.csv.gz'", "'sales.zip'", "'western.csv'", "'wide.csv'"})
    void packedAndOtherwiseWritten(String file) {
        same(
                file + FIELDS + " bad as missing",
                "per site, item give n = count(), takings = sum(amount), m = median(score)",
                false);
        same(
                file + FIELDS + " bad as missing",
                "add r = rank(within site along amount desc) only r <= 2 columns site, quantity, r",
                false);
        same(file + FIELDS, "per site give takings = sum(amount)", true);
        same(
                file + FIELDS + " unreadable aside",
                "only quantity > 59000 sort amount desc, quantity columns quantity",
                false);
        same(file + FIELDS + " bad as missing", "add x = 1 / (quantity - 47011)", false);
    }

    /** A sale as a program hands it over. */
    record Sale(String site, @Nullable Integer quantity, boolean settled) {}

    @Test
    void recordsOfAProgram() {
        same(
                false,
                fiesta -> fiesta.records(
                                Sale.class,
                                () -> IntStream.range(0, ROWS)
                                        .mapToObj(
                                                i -> new Sale("si\tte\n" + i % 7, i % 11 == 0 ? null : i, i % 3 == 0)))
                        .per("site", "settled")
                        .give("n = count()", "q = sum(quantity)", "latest = last(quantity)")
                        .run());
    }

    @Test
    void surveys() {
        HeldCrew crew = new HeldCrew(1 << 20, 0);
        try (Fiesta together = Fiesta.with().threads(2).crew(crew).open();
                Fiesta alone = Fiesta.with().threads(2).open()) {
            Path file = folder.resolve("sales.csv.gz");
            assertThat(together.read(file).survey())
                    .usingRecursiveComparison()
                    .isEqualTo(alone.read(file).survey());
        }
        assertThat(crew.asked()).isPositive();
    }
}
