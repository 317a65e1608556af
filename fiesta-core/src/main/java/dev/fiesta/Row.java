package dev.fiesta;

import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Cells;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import org.jspecify.annotations.Nullable;

/** One row of a {@link Result}. Values are objects; null is a missing value. */
public final class Row {
    private final Result result;
    private final int number;

    Row(Result result, int number) {
        this.result = result;
        this.number = number;
    }

    /** The place of the row, from 0. */
    public int position() {
        return number;
    }

    /**
     * A value.
     *
     * @throws RequestException when there is no such field
     */
    public @Nullable Object get(String field) {
        Cells column = result.column(field);
        return column.get(number);
    }

    public @Nullable String text(String field) {
        return (String) get(field);
    }

    public @Nullable Long integer(String field) {
        return (Long) get(field);
    }

    public @Nullable BigDecimal decimal(String field) {
        return (BigDecimal) get(field);
    }

    public @Nullable Double real(String field) {
        return (Double) get(field);
    }

    public @Nullable LocalDate date(String field) {
        return (LocalDate) get(field);
    }

    public @Nullable LocalDateTime dateTime(String field) {
        return (LocalDateTime) get(field);
    }

    public @Nullable Boolean truth(String field) {
        return (Boolean) get(field);
    }

    @Override
    public String toString() {
        StringBuilder text = new StringBuilder();
        for (String field : result.schema().names()) {
            text.append(text.isEmpty() ? "" : ", ").append(field).append(' ').append(get(field));
        }
        return text.toString();
    }
}
