package dev.fiesta.source;

/** A reading whose pieces are given out in turns, and can be read again. */
public interface ScanInTurns extends Source.Scan {
    /** {@return what gives them out} */
    PieceTurns turns();

    @Override
    default double share() {
        return turns().share();
    }

    @Override
    default boolean readsAgain() {
        return true;
    }

    @Override
    default void stop(long sequence) {
        turns().stop(sequence);
    }
}
