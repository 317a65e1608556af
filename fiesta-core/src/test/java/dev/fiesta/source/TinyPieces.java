package dev.fiesta.source;

import dev.fiesta.Fiesta;
import dev.fiesta.Table;
import dev.fiesta.TableAccess;
import dev.fiesta.value.Type;
import java.nio.file.Path;
import java.util.List;

/** Sales read in pieces of a few bytes, so that borders fall everywhere; types are told, as small tables may not show them. */
public final class TinyPieces {
    private TinyPieces() {}

    public static Table read(Fiesta fiesta, Path file, int piece) {
        return read(fiesta, file, piece, false);
    }

    /** @param badAsMissing whether values that cannot be read are missing and counted */
    public static Table read(Fiesta fiesta, Path file, int piece, boolean badAsMissing) {
        List<FieldSpec> fields = List.of(
                field("site", Type.TEXT, badAsMissing),
                field("item", Type.TEXT, badAsMissing),
                field("day", Type.DATE, badAsMissing),
                field("quantity", Type.INTEGER, badAsMissing),
                field("amount", Type.decimal(2), badAsMissing),
                field("score", Type.REAL, badAsMissing));
        List<Paths.Named> files = List.of(new Paths.Named(file.getFileName().toString(), file));
        return TableAccess.of(fiesta, () -> DelimitedSource.open(files, Dialect.STANDARD, true, fields, false, piece));
    }

    private static FieldSpec field(String name, Type type, boolean badAsMissing) {
        return new FieldSpec(name, name, type, true, false, null, null, badAsMissing, CellRules.NONE);
    }
}
