package dev.fiesta.compute;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Column;
import dev.fiesta.value.Type;
import java.util.Objects;
import java.util.function.IntConsumer;
import org.jspecify.annotations.Nullable;

/** One value for all rows. */
public final class Constant extends Expression {
    private final @Nullable Object value;

    public Constant(Type type, @Nullable Object value) {
        super(type);
        this.value = value;
    }

    /** The value, null for missing. */
    public @Nullable Object value() {
        return value;
    }

    @Override
    public Kernel kernel(Notices notices) {
        Column one = Column.constant(type(), value, 1);
        return batch -> Column.constant(one, batch.size());
    }

    @Override
    @Nullable
    Bounds bounds(Bounds.Known known) {
        return value == null ? null : new Bounds(Column.of(type(), java.util.Collections.nCopies(2, value)));
    }

    @Override
    public void fields(IntConsumer field) {}

    @Override
    public boolean isSameAs(Expression other) {
        return other instanceof Constant one && one.type().equals(type()) && Objects.equals(one.value, value);
    }

    @Override
    public boolean mayFail() {
        return false;
    }
}
