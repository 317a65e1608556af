package ribera.takings;

import dev.fiesta.Fiesta;
import java.math.BigDecimal;
import java.util.List;

/** The takings of two sites. */
public final class Main {
    record Sale(String site, BigDecimal amount) {}

    record Takings(String site, long sales, BigDecimal takings) {}

    private Main() {}

    public static void main(String[] args) {
        List<Sale> sales = List.of(
                new Sale("Quay", new BigDecimal("10.00")),
                new Sale("Meadow", new BigDecimal("4.50")),
                new Sale("Quay", new BigDecimal("2.25")));
        try (Fiesta fiesta = Fiesta.open()) {
            fiesta.records(Sale.class, sales)
                    .only("site matches '^[A-Z]'")
                    .per("site")
                    .give("sales = count()", "takings = sum(amount)")
                    .sort("takings desc")
                    .run()
                    .as(Takings.class)
                    .forEach(System.out::println);
        }
    }
}
