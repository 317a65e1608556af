package dev.fiesta;

import dev.fiesta.source.Source;
import java.util.function.Supplier;

/** Tables over sources of a test's own. */
public final class TableAccess {
    private TableAccess() {}

    public static Table of(Fiesta fiesta, Supplier<Source> source) {
        return Table.of(fiesta, "sales", source);
    }
}
