package dev.fiesta.plan;

import dev.fiesta.language.Expr;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.Suggestion;
import java.util.ArrayList;
import java.util.List;

/** What was meant by the name of a function that is not there. */
final class MeantFunction {
    private MeantFunction() {}

    /** The function meant by a name from elsewhere, else those whose names look alike. */
    static CharSequence of(Context context, Expr.Call node) {
        if (List.of("today", "now", "current_date").contains(node.name())) {
            return "A brief knows no clock, so that it repeats: declare 'parameter day date' and write :day.";
        }
        String args =
                context.text().at(node.at()).substring(node.name().length()).replaceAll("\\s+", " ");
        return dev.fiesta.catalogue.ForeignWord.function(node.name())
                .map(ours -> written(node, ours, args))
                .orElseGet(() -> {
                    List<String> names = new ArrayList<>(Catalogue.names());
                    names.addAll(context.parameters().functions().keySet());
                    List<String> near = Names.nearest(node.name(), names);
                    return near.isEmpty()
                            ? new Suggestion("See 'fiesta help functions'.", List.of())
                            : new Suggestion(
                                    Names.didYouMean(node.name(), names, "").text(),
                                    near.stream().map(n -> called(node, n)).toList());
                });
    }

    private static Suggestion written(Expr.Call node, String ours, String args) {
        boolean name = ours.matches("\\w+");
        return new Suggestion(
                "It is written: " + ours + (ours.contains(" ") ? "" : args),
                name ? List.of(called(node, ours)) : List.of());
    }

    /** Another name for the function that is called. */
    private static Suggestion.Change called(Expr.Call node, String name) {
        return new Suggestion.Change(node.nameAt().start(), node.nameAt().end(), name);
    }
}
