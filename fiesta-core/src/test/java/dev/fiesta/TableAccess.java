package dev.fiesta;

import dev.fiesta.source.Source;
import dev.fiesta.source.files.FilesSeen;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Supplier;

/** Tables over sources of a test's own. */
public final class TableAccess {
    private TableAccess() {}

    public static Table of(Fiesta fiesta, Supplier<Source> source) {
        return Table.of(fiesta, "sales", source, () -> FilesSeen.of(Path.of(""), List.of()));
    }
}
