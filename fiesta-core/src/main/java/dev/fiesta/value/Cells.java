package dev.fiesta.value;

import org.jspecify.annotations.Nullable;

/** The values of one field over some rows, to be looked at one by one. */
public interface Cells {
    /** The type of all of them. */
    Type type();

    /** The number of rows. */
    int size();

    /** Whether a row, from 0, has no value. */
    boolean isMissing(int row);

    /**
     * The value of a row, from 0, as an object, null when missing: {@code Long}, {@code BigDecimal}, {@code Double}, {@code String},
     * {@code LocalDate}, {@code LocalDateTime}, {@code Instant}, {@code Boolean}.
     */
    @Nullable
    Object get(int row);
}
