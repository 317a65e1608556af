package dev.fiesta.examples;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.report.Format;
import dev.fiesta.report.Report;
import java.io.IOException;
import java.io.OutputStream;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/**
 * Records of a program in, a report to a stream out: no file is read. Run it with {@code mvn -q -pl fiesta-examples exec:java
 * -Dexec.mainClass=dev.fiesta.examples.RecordsToReport}.
 */
public final class RecordsToReport {
    /** How the stall was sold. */
    enum Method {
        CARD,
        CASH
    }

    /** A sale as the program knows it. */
    record StallSale(String stall, LocalDate day, Method method, BigDecimal amount) {}

    private static final String BRIEF = """
            brief 'Takings of three stalls'
            parameter from_day date
            input sales from 'given by the program'

            table takings from sales
              only day >= :from_day
              per stall give sales = count(), by_card = count(only method = 'CARD'), takings = sum(amount)
              sort takings desc
              totals

            report
              table takings 'From {:from_day}'
              chart bars takings x stall y takings 'Takings'
            """;

    private RecordsToReport() {}

    public static void main(String[] args) throws IOException {
        Path file = Files.createTempDirectory("ribera").resolve("takings.html");
        try (OutputStream out = Files.newOutputStream(file)) {
            write(() -> sales(3_000), Format.HTML, out);
        }
        System.out.println("Written: " + file);
    }

    /** Writes the report; the records are taken one after another, so that there may be any number. */
    static void write(Supplier<Stream<StallSale>> sales, Format format, OutputStream out) {
        try (Fiesta fiesta = Fiesta.open()) {
            Brief brief = Brief.of(BRIEF)
                    .input("sales", fiesta.records(StallSale.class, sales))
                    .set("from_day", LocalDate.of(2026, 5, 8));
            Report.of(brief, fiesta).write(format, out);
        }
    }

    static Stream<StallSale> sales(int count) {
        return IntStream.range(0, count)
                .mapToObj(i -> new StallSale(
                        "00" + (1 + i % 3),
                        LocalDate.of(2026, 5, 1).plusDays(i % 28),
                        i % 5 < 3 ? Method.CARD : Method.CASH,
                        BigDecimal.valueOf(250 + i * 37 % 900, 2)));
    }
}
