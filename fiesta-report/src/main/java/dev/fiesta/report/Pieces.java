package dev.fiesta.report;

import dev.fiesta.language.Braces;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Ref;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What pieces of a report point at. */
final class Pieces {
    private Pieces() {}

    /** The table that a piece shows, or null. */
    static @Nullable Ref table(BriefTree.Piece piece) {
        if (piece instanceof BriefTree.ShowTable show) {
            return show.table();
        }
        if (piece instanceof BriefTree.Figures figures) {
            return figures.table();
        }
        return piece instanceof BriefTree.Chart chart ? chart.table() : null;
    }

    /** The fields that a piece names. */
    static List<Ref> fields(BriefTree.Piece piece) {
        if (piece instanceof BriefTree.Figures figures) {
            return figures.fields();
        }
        List<Ref> fields = new ArrayList<>();
        if (piece instanceof BriefTree.Chart chart) {
            fields.add(chart.x());
            fields.addAll(chart.y());
            if (chart.by() != null) {
                fields.add(chart.by());
            }
        }
        return fields;
    }

    /** The texts of a piece that have places to be filled. */
    static List<String> texts(BriefTree.Piece piece) {
        List<String> texts = new ArrayList<>();
        if (piece instanceof BriefTree.Say say) {
            texts.add(say.text());
        } else if (piece instanceof BriefTree.Heading heading) {
            texts.add(heading.text());
        } else if (piece instanceof BriefTree.ShowTable show && show.title() != null) {
            texts.add(show.title());
        } else if (piece instanceof BriefTree.Figures figures && figures.title() != null) {
            texts.add(figures.title());
        } else if (piece instanceof BriefTree.Chart chart && chart.title() != null) {
            texts.add(chart.title());
        }
        return texts;
    }

    /** The tables that a text speaks of, {@code {best.rows}}. */
    static List<String> tablesInText(BriefTree.Piece piece) {
        List<String> tables = new ArrayList<>();
        for (String text : texts(piece)) {
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
