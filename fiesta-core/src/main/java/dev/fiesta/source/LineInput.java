package dev.fiesta.source;

import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.Paths;
import java.util.List;
import java.util.Set;
import java.util.function.Function;

/** A format of records that are lines. */
record LineInput(String name, List<String> endings, Set<String> options, Function<Inside, LineFormat> how)
        implements InputFormat {
    @Override
    public Source open(List<Paths.Named> files, Dialect dialect, Inside inside, List<FieldSpec> fields) {
        return LineSource.open(new LineSource.Told(this, inside), files, dialect, fields, DelimitedSource.PIECE);
    }

    LineFormat lines(Inside inside) {
        return how.apply(inside);
    }
}
