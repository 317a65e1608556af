package dev.fiesta.plan;

import dev.fiesta.language.Clause;
import dev.fiesta.language.Span;
import dev.fiesta.problem.Suggestion;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** The figures that a later {@code give} makes, for a clause that looks at them too early. */
final class LaterFigures {
    static final LaterFigures NONE = new LaterFigures(Map.of());

    /**
     * Where a figure is made.
     *
     * @param line of its {@code give}
     * @param move puts the clause that looks too early behind it; asked for only when that is said
     */
    record Later(int line, Supplier<List<Suggestion.Change>> move) {}

    private final Map<String, Later> figures;

    private LaterFigures(Map<String, Later> figures) {
        this.figures = figures;
    }

    /** @param clause the place of the clause that looks at them */
    static LaterFigures of(Context context, List<Clause> clauses, int clause) {
        Map<String, Later> figures = new HashMap<>();
        for (int i = clause + 1; i < clauses.size(); i++) {
            if (clauses.get(i) instanceof Clause.Per per) {
                int behind = i;
                Later later =
                        new Later(context.text().line(per.giveAt()), () -> move(context, clauses, clause, behind));
                per.figures().stream()
                        .flatMap(f -> StandIns.names(f).stream())
                        .forEach(name -> figures.putIfAbsent(name, later));
            }
        }
        return new LaterFigures(figures);
    }

    private static List<Suggestion.Change> move(Context context, List<Clause> clauses, int clause, int behind) {
        Span ours = clauses.get(clause).at();
        Span next = clauses.get(clause + 1).at();
        Span last = clauses.get(behind).at();
        if (ours.end() > next.start() || next.start() > last.end()) {
            return List.of(); // clauses that were put together from several places
        }
        String text = context.text().text();
        String moved = text.substring(next.start(), last.end())
                + text.substring(ours.end(), next.start())
                + context.text().at(ours);
        return List.of(new Suggestion.Change(ours.start(), last.end(), moved));
    }

    /** The line of the first {@code give} behind. */
    OptionalInt firstLine() {
        return figures.values().stream().mapToInt(Later::line).min();
    }

    @Nullable
    Later find(String name) {
        return figures.get(name);
    }
}
