package dev.fiesta.cluster;

/** Whether what goes between machines may be read on the way. */
public enum Encryption {
    /** Nobody may: where members are on other machines they need certificates of each other. */
    NEEDED,
    /** Somebody said that he wants none. */
    WAIVED
}
