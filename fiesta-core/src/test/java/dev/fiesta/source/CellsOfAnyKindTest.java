package dev.fiesta.source;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.source.cells.CellRules;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.cells.Numbers;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.TimePattern;
import dev.fiesta.value.Type;
import dev.fiesta.value.Values;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.time.format.ResolverStyle;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Numbers and dates straight from bytes, held to what the JDK reads; files written and read back are the same. */
class CellsOfAnyKindTest {
    private static final String DIGITS = "0123456789";

    @TempDir
    Path folder;

    private static String number(SplittableRandom random) {
        StringBuilder text = new StringBuilder();
        text.append(new String[] {"", "", "-", "+"}[random.nextInt(4)]);
        for (int i = random.nextInt(12); i > 0; i--) {
            text.append(DIGITS.charAt(random.nextInt(10)));
        }
        if (random.nextInt(2) == 0) {
            text.append('.');
            for (int i = random.nextInt(8); i > 0; i--) {
                text.append(DIGITS.charAt(random.nextInt(10)));
            }
        }
        if (random.nextInt(6) == 0) {
            text.append(new String[] {"e5", "E-3", "x", " ", "e", ".", ","}[random.nextInt(7)]);
        }
        return text.toString();
    }

    @Test
    void exactValuesAreWhatTheyAre() {
        SplittableRandom random = new SplittableRandom(1);
        int read = 0;
        for (int i = 0; i < 50_000; i++) {
            String text = number(random);
            int scale = random.nextInt(7);
            byte[] bytes = ("#" + text + "#").getBytes(StandardCharsets.US_ASCII);
            long found = Numbers.exact(bytes, 1, bytes.length - 1, scale);
            assertThat(found).as("'%s' at scale %s", text, scale).isEqualTo(expected(text, scale));
            read += found == Numbers.BAD ? 0 : 1;
        }
        assertThat(read).isGreaterThan(10_000);
    }

    private static long expected(String text, int scale) {
        if (!text.matches("[-+]?([0-9]+\\.?[0-9]*|\\.[0-9]+)")) {
            return Numbers.BAD;
        }
        try {
            BigDecimal value = new BigDecimal(text.endsWith(".") ? text + "0" : text).setScale(scale);
            return value.precision() > 18 && value.signum() != 0
                    ? Numbers.BAD
                    : value.unscaledValue().longValueExact();
        } catch (ArithmeticException e) {
            return Numbers.BAD;
        }
    }

    @Test
    void binaryNumbersAreTheNearestDoubles() {
        SplittableRandom random = new SplittableRandom(2);
        for (int i = 0; i < 20_000; i++) {
            String text = random.nextInt(3) == 0
                    ? Double.toString(Double.longBitsToDouble(random.nextLong()))
                    : number(random);
            byte[] bytes = (text + " ").getBytes(StandardCharsets.US_ASCII);
            double found = bytes.length == 1 ? Double.NaN : Numbers.number(bytes, 0, bytes.length - 1);
            double expected;
            try {
                expected = text.isBlank() || text.endsWith(" ") || !text.matches(".*[0-9.]")
                        ? Double.NaN
                        : Double.parseDouble(text) + 0.0;
            } catch (NumberFormatException e) {
                expected = Double.NaN;
            }
            assertThat(Double.valueOf(found))
                    .as("'%s'", text)
                    .isEqualTo(Double.valueOf(Double.isFinite(expected) ? expected : Double.NaN));
        }
    }

    @Test
    void isoDatesAreStrict() {
        SplittableRandom random = new SplittableRandom(3);
        for (int i = 0; i < 20_000; i++) {
            String text =
                    String.format("%04d-%02d-%02d", random.nextInt(10_000), random.nextInt(14), random.nextInt(33));
            byte[] bytes = text.getBytes(StandardCharsets.US_ASCII);
            long expected;
            try {
                expected = LocalDate.parse(text).toEpochDay();
            } catch (DateTimeException e) {
                expected = TimePattern.NONE;
            }
            assertThat(TimePattern.isoDate(bytes, 0, bytes.length)).as(text).isEqualTo(expected);
            String time = text
                    + (random.nextBoolean() ? "T" : " ")
                    + String.format("%02d:%02d:%02d", random.nextInt(26), random.nextInt(62), random.nextInt(62));
            byte[] timeBytes = time.getBytes(StandardCharsets.US_ASCII);
            try {
                expected = Values.micros(LocalDateTime.parse(time.replace(' ', 'T')));
            } catch (DateTimeException e) {
                expected = TimePattern.NONE;
            }
            assertThat(TimePattern.isoDateTime(timeBytes, 0, timeBytes.length))
                    .as(time)
                    .isEqualTo(expected);
        }
    }

    @Test
    void patternsOfDigitsReadWhatTheFormatterReads() {
        SplittableRandom random = new SplittableRandom(4);
        for (String pattern : List.of("dd/MM/yyyy", "yyyyMMdd", "MM-dd-yyyy", "yyyy.MM.dd")) {
            TimePattern ours = TimePattern.of(pattern, false);
            DateTimeFormatter theirs =
                    DateTimeFormatter.ofPattern(pattern.replace('y', 'u')).withResolverStyle(ResolverStyle.STRICT);
            for (int i = 0; i < 3000; i++) {
                String text = pattern.replace("yyyy", String.format("%04d", random.nextInt(1, 3000)))
                        .replace("MM", String.format("%02d", random.nextInt(14)))
                        .replace("dd", String.format("%02d", random.nextInt(33)));
                long expected;
                try {
                    expected = LocalDate.parse(text, theirs).toEpochDay();
                } catch (DateTimeException e) {
                    expected = TimePattern.NONE;
                }
                assertThat(ours.parse(text)).as("%s as %s", text, pattern).isEqualTo(expected);
            }
        }
    }

    /** A record of every type that a file can hold. */
    record Any(Long n, BigDecimal d, Double x, String t, LocalDate day, LocalDateTime time, Boolean yes) {}

    @Test
    void whatIsWrittenIsReadBackTheSame() throws IOException {
        SplittableRandom random = new SplittableRandom(5);
        String[] texts = {
            "plain",
            "",
            "a,b",
            "say \"hi\"",
            "two\nlines",
            "cr\r\nlf",
            " spaced ",
            "é\uD83C\uDFAA",
            "007",
            "1e5",
            "true",
            "2026-05-01",
            "NA"
        };
        List<Any> records = new ArrayList<>();
        for (int i = 0; i < 2000; i++) {
            records.add(new Any(
                    random.nextInt(9) == 0 ? null : random.nextLong(),
                    random.nextInt(9) == 0 ? null : BigDecimal.valueOf(random.nextInt(), 3),
                    random.nextInt(9) == 0 ? null : random.nextDouble() * Math.pow(10, random.nextInt(-200, 200)),
                    random.nextInt(9) == 0 ? null : texts[random.nextInt(texts.length)],
                    random.nextInt(9) == 0 ? null : LocalDate.ofEpochDay(random.nextInt(60_000)),
                    random.nextInt(9) == 0 ? null : Values.dateTime(random.nextLong(1L << 50)),
                    random.nextInt(9) == 0 ? null : random.nextBoolean()));
        }
        Path file = folder.resolve("any.csv");
        try (Fiesta fiesta = Fiesta.open()) {
            fiesta.records(Any.class, records).run().writeCsv(file);
            List<FieldSpec> fields = List.of(
                    field("n", Type.INTEGER),
                    field("d", Type.decimal(3)),
                    field("x", Type.REAL),
                    field("t", Type.TEXT),
                    field("day", Type.DATE),
                    field("time", Type.DATETIME),
                    field("yes", Type.TRUTH));
            Result back = dev.fiesta.TableAccess.of(
                            fiesta,
                            () -> DelimitedSource.open(
                                    List.of(new Paths.Named("any.csv", file)),
                                    Dialect.STANDARD,
                                    true,
                                    fields,
                                    false,
                                    4096))
                    .run();
            assertThat(back.as(Any.class)).isEqualTo(records);
            Path again = folder.resolve("again.csv");
            back.writeCsv(again);
            assertThat(again).hasSameBinaryContentAs(file);
        }
        assertThat(Files.size(file)).isGreaterThan(50_000);
    }

    private static FieldSpec field(String name, Type type) {
        return new FieldSpec(name, name, type, true, false, null, null, false, CellRules.NONE);
    }
}
