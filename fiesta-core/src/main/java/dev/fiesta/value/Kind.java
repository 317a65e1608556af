package dev.fiesta.value;

/** The kinds of value. */
public enum Kind {
    /** No value was ever seen; fits any use. */
    EMPTY,
    /** Whole numbers of 64 bits. */
    INTEGER,
    /** Exact decimals of up to 18 digits. */
    DECIMAL,
    /** Binary floating point of 64 bits, never NaN, infinite or minus zero. */
    REAL,
    /** Unicode text. */
    TEXT,
    /** A day. */
    DATE,
    /** Date and time without a zone, in microseconds. */
    DATETIME,
    /** A point in time, in microseconds. */
    INSTANT,
    /** True or false. */
    TRUTH
}
