package dev.fiesta.value;

/** Hashes that are the same on every machine and in every run. */
public final class Hashes {
    private Hashes() {}

    /**
     * Spreads the bits of a number over all of it; different numbers stay different. (Known technique: D. Stafford, variant 13
     * of the finalizer of MurmurHash3, behind a step by the golden ratio.)
     */
    public static long mixed(long value) {
        long z = value + 0x9E3779B97F4A7C15L;
        z = (z ^ z >>> 30) * 0xBF58476D1CE4E5B9L;
        z = (z ^ z >>> 27) * 0x94D049BB133111EBL;
        return z ^ z >>> 31;
    }
}
