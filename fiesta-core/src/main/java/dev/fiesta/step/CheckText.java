package dev.fiesta.step;

import dev.fiesta.problem.CheckException;
import dev.fiesta.problem.Notices;
import org.jspecify.annotations.Nullable;

/**
 * How a check is told.
 *
 * @param at where it stands
 * @param check its own message, and the check as it is written
 */
public record CheckText(String at, String check) {
    /**
     * Tells how it came out.
     *
     * @param failure what is wrong, or null when it holds
     * @param warn whether a failure is a mere warning
     * @throws CheckException when it does not hold and is no mere warning
     */
    public void tell(@Nullable String failure, boolean warn, Notices notices) {
        String once = check.replaceAll("\\s+", " ");
        Notices.Check made = new Notices.Check(at, once, failure == null, warn, failure == null ? "" : failure);
        notices.checked(made);
        if (failure != null && warn) {
            notices.warn("The check does not hold: " + failure);
        } else if (failure != null) {
            throw new CheckException("The check does not hold: " + failure, made);
        }
    }

    @Override
    public String toString() {
        return at + ": " + check;
    }
}
