package dev.fiesta.language;

import org.jspecify.annotations.Nullable;

/** What is done with each kind of pieces of a report: a new kind has its method here, and whoever writes reports must know it. */
public interface PieceVisitor<T extends @Nullable Object> {
    T heading(BriefTree.Heading heading);

    T say(BriefTree.Say say);

    T table(BriefTree.ShowTable table);

    T figures(BriefTree.Figures figures);

    T chart(BriefTree.Chart chart);

    T newPage(BriefTree.NewPage page);
}
