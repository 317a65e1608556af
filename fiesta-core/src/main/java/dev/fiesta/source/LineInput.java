package dev.fiesta.source;

import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.Paths;
import java.util.List;
import java.util.Set;
import java.util.function.Function;

/** A format of records that are lines. */
record LineInput(String name, List<String> endings, Set<String> options, Function<Inside, LineFormat> lines)
        implements InputFormat {
    @Override
    public Source open(List<Paths.Named> files, Dialect dialect, Inside inside, List<FieldSpec> fields) {
        return LineSource.open(lines.apply(inside), files, dialect, fields, DelimitedSource.PIECE);
    }
}
