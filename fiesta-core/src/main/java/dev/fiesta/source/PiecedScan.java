package dev.fiesta.source;

/** A reading whose pieces may be read apart, by others too, who need not have read those before. */
public interface PiecedScan extends Source.Scan {
    /** Nobody knows yet. */
    long UNKNOWN = -1;

    /** How many pieces there are. */
    int pieces();

    /** The bytes of a piece. */
    int pieceBytes();

    /**
     * Where the first record of a piece starts, as it was told or guessed or as the piece before it ended; unknown where nobody has come so far.
     * Pieces that say themselves where records start, whoever reads them, tell their number.
     */
    default long start(int piece) {
        return piece;
    }

    /** Notes where the first record of a piece starts. */
    default void publish(int piece, long start) {}
}
