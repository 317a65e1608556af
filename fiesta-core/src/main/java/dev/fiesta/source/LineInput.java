package dev.fiesta.source;

import java.util.List;
import java.util.Set;
import java.util.function.Function;

/** A format of records that are lines. */
record LineInput(String name, List<String> endings, Set<String> options, Function<Inside, LineFormat> lines)
        implements InputFormat {
    /** Lines whose fields stand at fixed characters; no ending tells them. */
    static final InputFormat FIXED = new LineInput(
            "fixed",
            List.of(),
            Set.of("encoding", "skip", "comment", "decimal comma", "brackets negative", "short rows as missing"),
            inside -> new FixedWidth(inside.slices(), inside.shortLines()));

    @Override
    public boolean fits(String file) {
        return !endings.isEmpty() && InputFormat.super.fits(file);
    }

    @Override
    public Source open(List<Paths.Named> files, Dialect dialect, Inside inside, List<FieldSpec> fields) {
        return LineSource.open(lines.apply(inside), files, dialect, fields, DelimitedSource.PIECE);
    }
}
