package dev.fiesta.value;

import java.util.Locale;

/**
 * The type of a field: a kind and, for decimals, the digits after the point.
 *
 * @param kind the kind
 * @param scale digits after the point, 0 to 18; 0 for every kind but {@link Kind#DECIMAL}
 */
public record Type(Kind kind, int scale) {
    public static final int MOST_DIGITS = 18;
    public static final Type EMPTY = new Type(Kind.EMPTY, 0);
    public static final Type INTEGER = new Type(Kind.INTEGER, 0);
    public static final Type REAL = new Type(Kind.REAL, 0);
    public static final Type TEXT = new Type(Kind.TEXT, 0);
    public static final Type DATE = new Type(Kind.DATE, 0);
    public static final Type DATETIME = new Type(Kind.DATETIME, 0);
    public static final Type INSTANT = new Type(Kind.INSTANT, 0);
    public static final Type TRUTH = new Type(Kind.TRUTH, 0);

    public Type {
        if (scale < 0 || scale > MOST_DIGITS || (scale > 0 && kind != Kind.DECIMAL)) {
            throw new IllegalArgumentException("scale " + scale + " of " + kind + "; decimals have 0 to 18");
        }
    }

    // Asked for in every run: what Java makes of a record when it is first compared takes longer than a small question.

    @Override
    public boolean equals(Object other) {
        return other instanceof Type type && type.kind == kind && type.scale == scale;
    }

    @Override
    public int hashCode() {
        return kind.hashCode() * 31 + scale;
    }

    /** The decimals with so many digits after the point. */
    public static Type decimal(int scale) {
        return new Type(Kind.DECIMAL, scale);
    }

    /** Integer or decimal: held as a scaled long, calculated without rounding. */
    public boolean isExact() {
        return kind == Kind.INTEGER || kind == Kind.DECIMAL;
    }

    /** Integer, decimal or number. */
    public boolean isNumeric() {
        return isExact() || kind == Kind.REAL;
    }

    /** Date, datetime or instant. */
    public boolean isTime() {
        return kind == Kind.DATE || kind == Kind.DATETIME || kind == Kind.INSTANT;
    }

    /** Held in a {@link LongColumn}. */
    public boolean isLong() {
        return isExact() || isTime() || kind == Kind.EMPTY;
    }

    /** With its article, for a sentence: {@code a text}, {@code an integer}. */
    public String withArticle() {
        if (kind == Kind.TRUTH) {
            return "true or false";
        }
        String name = toString();
        return ("aei".indexOf(name.charAt(0)) >= 0 ? "an " : "a ") + name;
    }

    /** As it is written in a brief: {@code decimal(2)}, {@code text}. */
    @Override
    public String toString() {
        String name = kind.name().toLowerCase(Locale.ROOT);
        return kind == Kind.DECIMAL ? name + "(" + scale + ")" : name;
    }
}
