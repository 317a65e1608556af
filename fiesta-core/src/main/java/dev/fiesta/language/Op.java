package dev.fiesta.language;

/** Operators between two expressions, with how tightly they bind. */
public enum Op {
    OR("or", 1),
    AND("and", 2),
    EQUAL("=", 4),
    DIFFERENT("<>", 4),
    LESS("<", 4),
    AT_MOST("<=", 4),
    GREATER(">", 4),
    AT_LEAST(">=", 4),
    CONTAINS("contains", 4),
    STARTS_WITH("starts with", 4),
    ENDS_WITH("ends with", 4),
    MATCHES("matches", 4),
    JOIN("||", 5),
    PLUS("+", 6),
    MINUS("-", 6),
    TIMES("*", 7),
    DIVIDED("/", 7),
    MODULO("%", 7);

    private final String sign;
    private final int strength;

    Op(String sign, int strength) {
        this.sign = sign;
        this.strength = strength;
    }

    /** As it is written. */
    public String sign() {
        return sign;
    }

    /** How tightly it binds, 1 to 7. */
    public int strength() {
        return strength;
    }

    /** One of {@code = <> < <= > >=}. */
    public boolean compares() {
        return ordinal() >= EQUAL.ordinal() && ordinal() <= AT_LEAST.ordinal();
    }

    /** One of {@code contains}, {@code starts with}, {@code ends with}, {@code matches}. */
    public boolean looksInto() {
        return ordinal() >= CONTAINS.ordinal() && ordinal() <= MATCHES.ordinal();
    }
}
