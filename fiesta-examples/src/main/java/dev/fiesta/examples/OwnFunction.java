package dev.fiesta.examples;

import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Result;
import dev.fiesta.report.Terminal;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.PrintStream;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/**
 * A function and rows of one's own: the tax that is in a price, over rows that come one after another. Run it with {@code mvn -q -pl
 * fiesta-examples exec:java -Dexec.mainClass=dev.fiesta.examples.OwnFunction}.
 */
public final class OwnFunction {
    private static final BigDecimal RATE = new BigDecimal("0.13");

    private static final Schema SALES = new Schema(
            List.of(new Field("stall", Type.TEXT), new Field("day", Type.DATE), new Field("amount", Type.decimal(2))));

    private OwnFunction() {}

    public static void main(String[] args) {
        run(System.out);
    }

    /** The tax of each stall, and what is left of its takings. */
    public static Result run(PrintStream out) {
        FiestaBuilder settings = Fiesta.with()
                .define(
                        "tax_in",
                        BigDecimal.class,
                        Type.decimal(2),
                        amount -> amount.multiply(RATE).divide(BigDecimal.ONE.add(RATE), 2, RoundingMode.HALF_EVEN));
        try (Fiesta fiesta = settings.open()) {
            Result result = fiesta.rows(SALES, OwnFunction::sales)
                    .only("day >= :from", Map.of("from", LocalDate.of(2026, 5, 2)))
                    .per("stall")
                    .give("takings = sum(amount)", "tax = sum(tax_in(amount))")
                    .add("left = takings - tax")
                    .sort("left desc")
                    .columns("stall 'Stall'", "takings 'Takings' money", "tax 'Tax' money", "left 'Left' money")
                    .run();
            Terminal.print(result, out);
            return result;
        }
    }

    private static Stream<Object[]> sales() {
        return Stream.of(
                new Object[] {"001", LocalDate.of(2026, 5, 1), new BigDecimal("99.00")},
                new Object[] {"001", LocalDate.of(2026, 5, 2), new BigDecimal("11.30")},
                new Object[] {"007", LocalDate.of(2026, 5, 2), new BigDecimal("22.60")},
                new Object[] {"007", LocalDate.of(2026, 5, 3), null});
    }
}
