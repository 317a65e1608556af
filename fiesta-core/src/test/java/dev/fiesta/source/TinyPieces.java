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
        List<FieldSpec> fields = List.of(
                field("site", Type.TEXT),
                field("item", Type.TEXT),
                field("day", Type.DATE),
                field("quantity", Type.INTEGER),
                field("amount", Type.decimal(2)),
                field("score", Type.REAL));
        List<Paths.Named> files = List.of(new Paths.Named(file.getFileName().toString(), file));
        return TableAccess.of(fiesta, () -> DelimitedSource.open(files, Dialect.STANDARD, true, fields, false, piece));
    }

    private static FieldSpec field(String name, Type type) {
        return new FieldSpec(name, name, type, true, false, null, null, false, CellRules.NONE);
    }
}
