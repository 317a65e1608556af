package dev.fiesta.step;

/**
 * How a check is told.
 *
 * @param at where it stands
 * @param check its own message, and the check as it is written
 */
public record CheckText(String at, String check) {
    @Override
    public String toString() {
        return at + ": " + check;
    }
}
