package dev.fiesta.cli.options;

import dev.fiesta.problem.RequestException;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** The one figure of which is told what moved it, where that is asked for. */
public final class OneFigure {
    @Option(names = "--parts", description = "Tell what each group has added to the move of one figure.")
    private boolean parts;

    @Option(names = "--table", paramLabel = "NAME", description = "With --parts: the table.")
    private @Nullable String table;

    @Option(names = "--figure", paramLabel = "NAME", description = "With --parts: the figure.")
    private @Nullable String figure;

    /** Refuses what names half of it, or names it where it is not asked for. */
    public void check() {
        if (parts && (table == null || figure == null)) {
            throw new RequestException("--parts tells of one figure of one table: add --table NAME --figure NAME.");
        }
        if (!parts && (table != null || figure != null)) {
            throw new RequestException("--table and --figure say something with --parts only.");
        }
    }

    public boolean isAsked() {
        return parts;
    }

    public String table() {
        return Objects.requireNonNull(table);
    }

    public String figure() {
        return Objects.requireNonNull(figure);
    }
}
