package dev.fiesta.output;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.TotalRow;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Cells by their bytes, rows in parts: what is written is what the values say, in the order of the rows. */
class CsvWriterTest {
    @TempDir
    Path folder;

    record Amount(long whole, BigDecimal exact) {}

    @ParameterizedTest
    @ValueSource(ints = {0, 1, 2, 5, 17, 18})
    void exactValuesOfAllLengths(int scale) throws IOException {
        List<Amount> amounts = new ArrayList<>();
        long power = 1;
        for (int digits = 1; digits <= 18; digits++, power *= 10) {
            for (long near : new long[] {power - 1, power, power + 1, 5 * power + 7, 9 * power}) {
                long fits = Math.min(near, 999_999_999_999_999_999L);
                amounts.add(new Amount(fits, BigDecimal.valueOf(fits, scale)));
                amounts.add(new Amount(-fits, BigDecimal.valueOf(-fits, scale)));
            }
        }
        StringBuilder expected = new StringBuilder("whole,exact\n");
        amounts.forEach(a -> expected.append(a.whole())
                .append(',')
                .append(a.exact().toPlainString())
                .append('\n'));
        try (Fiesta fiesta = Fiesta.open()) {
            Result result = fiesta.records(Amount.class, amounts).run();
            StringBuilder written = new StringBuilder();
            result.write(written, TextStyle.CSV);
            assertThat(written.toString()).isEqualTo(expected.toString());
            result.writeCsv(folder.resolve("amounts.csv"));
            assertThat(folder.resolve("amounts.csv")).content().isEqualTo(expected.toString());
        }
    }

    /** More rows than a part holds, in memory and in a file, with totals between them. */
    @ParameterizedTest
    @CsvSource({"1, 1073741824", "2, 1073741824", "3, 1073741824", "2, 1", "3, 100000"})
    void partsStandInOrder(int threads, long memory) throws IOException {
        SplittableRandom random = new SplittableRandom(4);
        StringBuilder text = new StringBuilder("site,item,amount\n");
        int rows = memory < 1000 ? 3_000 : 40_000;
        for (int i = 0; i < rows; i++) {
            text.append(random.nextInt(20) == 0 ? "" : "site " + random.nextInt(9))
                    .append(",\"item, ")
                    .append(i)
                    .append("\",")
                    .append(random.nextInt(-9_000, 90_000))
                    .append(".25\n");
        }
        Path sales = folder.resolve("sales.csv");
        Files.writeString(sales, text);
        try (Fiesta fiesta = Fiesta.with().threads(threads).memory(memory).open()) {
            Result sorted = fiesta.read(sales).then("sort amount, item").run();
            assertThat(written(sorted)).isEqualTo(expected(sorted));
            if (memory > 1000) {
                Result groups = fiesta.read(sales)
                        .then("per site, item give takings = sum(amount) totals by site sort site, takings")
                        .run();
                assertThat(groups.totals()).hasSize(11);
                assertThat(written(groups)).isEqualTo(expected(groups));
            }
        }
    }

    private static String written(Result result) throws IOException {
        StringBuilder out = new StringBuilder();
        result.write(out, TextStyle.CSV);
        return out.toString();
    }

    private static String expected(Result result) {
        List<String> fields = result.schema().names();
        StringBuilder text = new StringBuilder(String.join(",", fields)).append('\n');
        int next = 0;
        for (int row = 0; row <= result.rows(); row++) {
            for (; next < result.totals().size() && result.totals().get(next).after() == row; next++) {
                TotalRow total = result.totals().get(next);
                line(text, fields.stream().map(total::shown).toList());
            }
            if (row < result.rows()) {
                int at = row;
                line(text, fields.stream().map(f -> result.column(f).get(at)).toList());
            }
        }
        return text.toString();
    }

    private static void line(StringBuilder text, List<?> values) {
        for (int i = 0; i < values.size(); i++) {
            String cell = values.get(i) == null ? "" : Texts.of(values.get(i));
            text.append(i == 0 ? "" : ",").append(cell.contains(",") ? '"' + cell + '"' : cell);
        }
        text.append('\n');
    }

    @Test
    void charactersAndBytesStandInTheirOrder() throws IOException {
        Path file = folder.resolve("mixed.txt");
        try (dev.fiesta.output.Utf8Writer out = new dev.fiesta.output.Utf8Writer(Files.newOutputStream(file))) {
            out.append("é1 ");
            out.write(new byte[] {'2', ' ', '!'}, 2);
            out.append("ü3");
        }
        assertThat(file).content().isEqualTo("é1 2 ü3");
    }
}
