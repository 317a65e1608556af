package dev.fiesta.language;

import dev.fiesta.language.Expr.Literal;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import org.jspecify.annotations.Nullable;

/** Values written out. */
final class Literals {
    private Literals() {}

    /** A value written out. */
    static Literal next(Cursor words) {
        Token token = words.next();
        try {
            return switch (token.kind()) {
                case TEXT -> new Literal(Type.TEXT, token.text(), token.at());
                case INTEGER -> new Literal(Type.INTEGER, Long.parseLong(token.text()), token.at());
                case DECIMAL -> decimal(token);
                case NUMBER -> new Literal(Type.REAL, number(words, token), token.at());
                case DATE -> new Literal(Type.DATE, LocalDate.parse(token.text()), token.at());
                case DATETIME -> new Literal(Type.DATETIME, LocalDateTime.parse(token.text()), token.at());
                default ->
                    throw words.failure(token.at(), "A value is expected here, not " + token.shown() + ".", null);
            };
        } catch (NumberFormatException e) {
            throw words.failure(
                    token.at(),
                    token.text() + " has more than 18 digits.",
                    "Write it as a number with an exponent (" + token.text().charAt(0) + "e"
                            + (token.text().length() - 1) + ") or as a text.");
        } catch (DateTimeException e) {
            throw words.failure(token.at(), token.text() + " is no day of the calendar.", null);
        }
    }

    private static double number(Cursor words, Token token) {
        double value = Double.parseDouble(token.text());
        if (Double.isInfinite(value)) {
            throw words.failure(token.at(), token.text() + " is too large for a number.", null);
        }
        return value;
    }

    private static Literal decimal(Token token) {
        BigDecimal value = new BigDecimal(token.text());
        if (value.precision() > Type.MOST_DIGITS || value.scale() > Type.MOST_DIGITS) {
            throw new NumberFormatException();
        }
        return new Literal(Type.decimal(value.scale()), value, token.at());
    }

    static @Nullable Object opposite(@Nullable Object number) {
        return number instanceof Long n
                ? (Object) (-n)
                : number instanceof BigDecimal d ? d.negate() : number instanceof Double d ? 0.0 - d : number;
    }
}
