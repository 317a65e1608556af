package dev.fiesta.language;

import org.jspecify.annotations.Nullable;

/**
 * One word of a text.
 *
 * @param kind what it is
 * @param text the name, the text literal without its quotes, the digits, the sign
 * @param at where it stands
 * @param startsLine whether it is the first on its line
 * @param expected gathers what is looked for in place of the end, or null
 */
public record Token(
        Kind kind,
        String text,
        Span at,
        boolean startsLine,
        @Nullable Expected expected) {
    /** Sorts of words. */
    public enum Kind {
        NAME,
        QUOTED,
        TEXT,
        INTEGER,
        DECIMAL,
        NUMBER,
        DATE,
        DATETIME,
        PARAMETER,
        SIGN,
        END
    }

    /** {@return whether this is of a sort} */
    public boolean is(Kind wanted) {
        return kind == wanted;
    }

    /** Whether this is the sign given. */
    boolean sign(String wanted) {
        return kind == Kind.SIGN && text.equals(wanted);
    }

    /** Whether this is the word given, not in quotes. */
    boolean word(String wanted) {
        if (expected != null) {
            expected.word(wanted);
        }
        return spelt(wanted);
    }

    /** As {@link #word}, for a word that means nothing here and is looked for only to say what does. */
    boolean spelt(String wanted) {
        return kind == Kind.NAME && text.equals(wanted);
    }

    /** A name or a name in quotes. */
    boolean isName() {
        return kind == Kind.NAME || kind == Kind.QUOTED;
    }

    /** As a message shows it. */
    String shown() {
        return switch (kind) {
            case END -> "the end of the text";
            case TEXT -> "the text '" + text + "'";
            default -> "'" + text + "'";
        };
    }
}
