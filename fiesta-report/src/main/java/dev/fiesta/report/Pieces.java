package dev.fiesta.report;

import dev.fiesta.language.Braces;
import dev.fiesta.language.BriefTree;
import java.util.ArrayList;
import java.util.List;

/** What the texts of pieces speak of. */
final class Pieces {
    private Pieces() {}

    /** The tables that a text speaks of, {@code {best.rows}}, or a line stands for. */
    static List<String> tablesInText(BriefTree.Piece piece) {
        List<String> tables = new ArrayList<>();
        for (BriefTree.Marker line : piece.lines()) {
            if (line.table() != null) {
                tables.add(line.table().name());
            }
        }
        for (String text : piece.texts()) {
            Braces.fill(text, inner -> {
                int dot = inner.indexOf('.');
                if (dot > 0) {
                    tables.add(inner.substring(0, dot));
                }
                return null;
            });
        }
        return tables;
    }
}
