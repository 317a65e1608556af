package dev.fiesta.compute;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Type;
import java.util.function.IntConsumer;
import org.jspecify.annotations.Nullable;

/** A field. */
public final class FieldRef extends Expression {
    private final int index;

    public FieldRef(int index, Type type) {
        super(type);
        this.index = index;
    }

    /** The place of the field in its batch. */
    public int index() {
        return index;
    }

    @Override
    public Kernel kernel(Notices notices) {
        return batch -> batch.column(index);
    }

    @Override
    @Nullable
    Bounds bounds(Bounds.Known known) {
        return known.of(index);
    }

    @Override
    public void fields(IntConsumer field) {
        field.accept(index);
    }

    @Override
    public boolean isSameAs(Expression other) {
        return other instanceof FieldRef field && field.index == index;
    }

    @Override
    public boolean mayFail() {
        return false;
    }
}
