package dev.fiesta.source;

import dev.fiesta.Fiesta;
import dev.fiesta.Table;
import dev.fiesta.TableAccess;
import dev.fiesta.source.cells.CellRules;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Type;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Sales read in pieces of a few bytes, so that borders fall everywhere; types are told, as small tables may not show them. */
public final class TinyPieces {
    private static final Map<String, Type> FIELDS = new LinkedHashMap<>();

    static {
        FIELDS.put("site", Type.TEXT);
        FIELDS.put("item", Type.TEXT);
        FIELDS.put("day", Type.DATE);
        FIELDS.put("quantity", Type.INTEGER);
        FIELDS.put("amount", Type.decimal(2));
        FIELDS.put("score", Type.REAL);
    }

    private TinyPieces() {}

    public static Table read(Fiesta fiesta, Path file, int piece) {
        return read(fiesta, file, piece, false);
    }

    /** Those that can be read in all fields; the others go aside. */
    public static Table settingAside(Fiesta fiesta, Path file, int piece, Aside aside) {
        BitSet all = new BitSet();
        all.set(0, FIELDS.size());
        return TableAccess.of(fiesta, () -> open(file, piece, false).settingAside(all, aside));
    }

    /** @param badAsMissing whether values that cannot be read are missing and counted */
    public static Table read(Fiesta fiesta, Path file, int piece, boolean badAsMissing) {
        return TableAccess.of(fiesta, () -> open(file, piece, badAsMissing));
    }

    /** The source alone. */
    public static Source source(Path file, int piece, boolean badAsMissing) {
        return open(file, piece, badAsMissing);
    }

    private static DelimitedSource open(Path file, int piece, boolean badAsMissing) {
        List<FieldSpec> fields = new ArrayList<>();
        FIELDS.forEach((name, type) ->
                fields.add(new FieldSpec(name, name, type, true, false, null, null, badAsMissing, CellRules.NONE)));
        List<Paths.Named> files = List.of(new Paths.Named(file.getFileName().toString(), file));
        return DelimitedSource.open(files, Dialect.STANDARD, true, fields, false, piece);
    }
}
