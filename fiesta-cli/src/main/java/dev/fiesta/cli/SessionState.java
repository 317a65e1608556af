package dev.fiesta.cli;

import dev.fiesta.language.Printer;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/**
 * What stands in a session.
 *
 * @param heads inputs and parameters, as a brief has them
 * @param made tables that have a name
 * @param from what the clauses that have none go on from
 */
record SessionState(List<String> heads, List<Made> made, String from, List<String> clauses) {
    /** What the table is called that has no name yet. */
    static final String CURRENT = "so_far";

    /** A table that has a name. */
    record Made(String name, String from, List<String> clauses) {
        String text() {
            return "table " + Printer.name(name) + " from " + Printer.name(from) + "\n"
                    + clauses.stream().map(c -> "  " + c + "\n").collect(Collectors.joining());
        }
    }

    SessionState with(List<String> other) {
        return new SessionState(heads, made, from, List.copyOf(other));
    }

    SessionState head(String more) {
        List<String> all = new ArrayList<>(heads);
        all.add(more);
        return new SessionState(List.copyOf(all), made, from, clauses);
    }

    SessionState named(String name) {
        List<Made> all = new ArrayList<>(made);
        all.add(new Made(name, from, clauses));
        return new SessionState(heads, List.copyOf(all), name, List.of());
    }

    String text(boolean current) {
        StringBuilder text = new StringBuilder();
        heads.forEach(h -> text.append(h).append('\n'));
        made.forEach(m -> text.append('\n').append(m.text()));
        if (current) {
            text.append('\n').append(new Made(CURRENT, from, clauses).text());
        }
        return text.toString();
    }
}
