package dev.fiesta.editing;

import dev.fiesta.Fiesta;
import dev.fiesta.language.BriefText;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * A brief with a mark where somebody types.
 *
 * @param offset where the mark stood
 */
record Marked(String text, int offset, UnfinishedBrief brief) {
    /** An input of four fields, of which some records are known. */
    static final String HEAD = "input sales from 'sales.csv'\n";

    private static final KnownInput SALES = sales();

    static Marked of(String marked) {
        return in(null, marked);
    }

    static Marked in(@Nullable Path folder, String marked) {
        int offset = marked.indexOf('|');
        String text = marked.replaceFirst("\\|", "");
        boolean known = text.contains("'sales.csv'");
        UnfinishedBrief.Around around = new UnfinishedBrief.Around(
                List.of(), known ? Map.of("sales", SALES) : Map.of(), List.of("csv", "parquet"), folder);
        return new Marked(text, offset, UnfinishedBrief.of(new BriefText("takings.brief", text), around));
    }

    List<Candidate> candidates() {
        return brief.candidates(offset);
    }

    private static KnownInput sales() {
        Schema schema = new Schema(List.of(
                new Field("sold_at", Type.DATETIME),
                new Field("site", Type.TEXT),
                new Field("item", Type.TEXT),
                new Field("amount", Type.decimal(2))));
        LocalDateTime day = LocalDateTime.of(2026, 5, 1, 18, 30);
        List<Object[]> rows = List.of(
                new Object[] {day, "Quay", "Olives", new java.math.BigDecimal("3.10")},
                new Object[] {day, "Quay", "Cheese", new java.math.BigDecimal("7.50")},
                new Object[] {day, "Meadow", "Olives", null},
                new Object[] {day, "Meadow", "Bread", new java.math.BigDecimal("2.00")},
                new Object[] {day, "Quay", "Bread", new java.math.BigDecimal("2.00")});
        try (Fiesta fiesta = Fiesta.open()) {
            return KnownInput.of(Objects.requireNonNull(
                    fiesta.rows(schema, () -> Stream.of(rows.toArray(Object[][]::new)))
                            .survey()));
        }
    }
}
