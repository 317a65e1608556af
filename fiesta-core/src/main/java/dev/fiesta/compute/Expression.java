package dev.fiesta.compute;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Type;
import java.util.function.IntConsumer;

/** An expression over the fields of a batch, its names and types settled. Immutable. */
public abstract class Expression {
    private final Type type;

    protected Expression(Type type) {
        this.type = type;
    }

    /** The type of the values. */
    public final Type type() {
        return type;
    }

    /** What works it out, for one worker. */
    public abstract Kernel kernel(Notices notices);

    /** Names each field it reads. */
    public abstract void fields(IntConsumer field);

    /** Whether it may fail for a value, or counts something, so that it must not see rows that are not its own. */
    public abstract boolean mayFail();
}
