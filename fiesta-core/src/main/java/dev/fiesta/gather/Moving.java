package dev.fiesta.gather;

import dev.fiesta.gather.frames.Frames;
import dev.fiesta.value.Column;
import org.jspecify.annotations.Nullable;

/** Works a figure out over frames that move with the row, without gathering each frame anew. */
@FunctionalInterface
public interface Moving {
    /**
     * The figures by position.
     *
     * @param values the arguments by position; missing where a condition does not hold
     * @param before what the rows before these have gathered, where frames start with their partition and this is only a piece of
     *     it; else null
     */
    Column figures(Frames frames, Column[] values, @Nullable Accumulator before);
}
