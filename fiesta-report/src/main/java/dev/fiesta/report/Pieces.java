package dev.fiesta.report;

import dev.fiesta.language.Braces;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Ref;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
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
            if (chart.apart() != null) {
                fields.add(chart.apart());
            }
        }
        return fields;
    }

    /** The texts of a piece that have places to be filled. */
    static List<String> texts(BriefTree.Piece piece) {
        List<@Nullable String> texts = new ArrayList<>();
        if (piece instanceof BriefTree.Say say) {
            texts.add(say.text());
        } else if (piece instanceof BriefTree.Heading heading) {
            texts.add(heading.text());
        } else if (piece instanceof BriefTree.ShowTable show) {
            texts.add(show.title());
            texts.add(show.note());
        } else if (piece instanceof BriefTree.Figures figures) {
            texts.add(figures.title());
        } else if (piece instanceof BriefTree.Chart chart) {
            texts.add(chart.title());
            texts.add(chart.options().note());
            chart.options().lines().forEach(l -> texts.add(l.text()));
        }
        return texts.stream().flatMap(t -> Optional.ofNullable(t).stream()).toList();
    }

    /** The lines across a chart. */
    static List<BriefTree.Marker> lines(BriefTree.Piece piece) {
        return piece instanceof BriefTree.Chart chart ? chart.options().lines() : List.of();
    }

    /** The tables that a text speaks of, {@code {best.rows}}, or a line stands for. */
    static List<String> tablesInText(BriefTree.Piece piece) {
        List<String> tables = new ArrayList<>();
        for (BriefTree.Marker line : lines(piece)) {
            if (line.table() != null) {
                tables.add(line.table().name());
            }
        }
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
