package dev.fiesta;

import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Cells;
import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import org.jspecify.annotations.Nullable;

/**
 * One row of a {@link Result}. Values are objects; null is a missing value. Methods by type throw a {@link RequestException} where the field is
 * of another type.
 */
public final class Row {
    private final Result result;
    private final int number;

    Row(Result result, int number) {
        this.result = result;
        this.number = number;
    }

    /** {@return the place of the row, from 0} */
    public int position() {
        return number;
    }

    /**
     * A value.
     *
     * @param field the name of the field
     * @return the value, null when missing
     * @throws RequestException when there is no such field
     */
    public @Nullable Object get(String field) {
        Cells column = result.column(field);
        return column.get(number);
    }

    /**
     * {@return a text; null when missing}
     *
     * @param field the name of the field
     */
    public @Nullable String text(String field) {
        return as(String.class, field);
    }

    /**
     * {@return an integer; null when missing}
     *
     * @param field the name of the field
     */
    public @Nullable Long integer(String field) {
        return as(Long.class, field);
    }

    /**
     * {@return a decimal, with the digits of its field; null when missing}
     *
     * @param field the name of the field
     */
    public @Nullable BigDecimal decimal(String field) {
        return as(BigDecimal.class, field);
    }

    /**
     * {@return a real number; null when missing}
     *
     * @param field the name of the field
     */
    public @Nullable Double real(String field) {
        return as(Double.class, field);
    }

    /**
     * {@return a date; null when missing}
     *
     * @param field the name of the field
     */
    public @Nullable LocalDate date(String field) {
        return as(LocalDate.class, field);
    }

    /**
     * {@return a date and time; null when missing}
     *
     * @param field the name of the field
     */
    public @Nullable LocalDateTime dateTime(String field) {
        return as(LocalDateTime.class, field);
    }

    /**
     * {@return an instant; null when missing}
     *
     * @param field the name of the field
     */
    public @Nullable Instant instant(String field) {
        return as(Instant.class, field);
    }

    /**
     * {@return true or false; null when missing}
     *
     * @param field the name of the field
     */
    public @Nullable Boolean truth(String field) {
        return as(Boolean.class, field);
    }

    private <T> @Nullable T as(Class<T> wanted, String field) {
        Object value = get(field);
        if (value != null && !wanted.isInstance(value)) {
            throw new RequestException("the field '" + field + "' is "
                    + result.column(field).type().withArticle() + ", not held as " + wanted.getSimpleName());
        }
        return wanted.cast(value);
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
