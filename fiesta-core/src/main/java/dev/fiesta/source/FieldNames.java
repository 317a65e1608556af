package dev.fiesta.source;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Names of fields from what stands at the head of columns. */
public final class FieldNames {
    private static final int MOST_TOLD = 5;

    private FieldNames() {}

    /**
     * Names for all columns: trimmed; an empty one by its place, a repeated one with a number behind it.
     *
     * @param file as it is told
     * @param remarks gets a line for each name that had to be made
     */
    public static List<String> named(List<String> cells, String file, List<String> remarks) {
        List<String> names = new ArrayList<>();
        Set<String> met = new HashSet<>();
        Map<String, Integer> times = new HashMap<>();
        List<String> nameless = new ArrayList<>();
        List<String> repeated = new ArrayList<>();
        for (int i = 0; i < cells.size(); i++) {
            String name = cells.get(i).strip();
            String base = name.isEmpty() ? "field_" + (i + 1) : name;
            String unique = base;
            while (!met.add(unique)) {
                unique = base + "_" + (times.merge(base, 1, Integer::sum) + 1);
            }
            if (name.isEmpty()) {
                nameless.add(unique);
            } else if (!unique.equals(name)) {
                repeated.add("a second column '" + name + "'; it is called " + unique);
            }
            names.add(unique);
        }
        if (!nameless.isEmpty()) {
            remarks.add(file + ": "
                    + (nameless.size() == 1
                            ? "a column has no name; it is called "
                            : nameless.size() + " columns have no name; they are called ")
                    + listed(nameless, ", ") + ".");
        }
        if (!repeated.isEmpty()) {
            remarks.add(file + ": there is " + listed(repeated, "; ") + ".");
        }
        return names;
    }

    private static String listed(List<String> all, String between) {
        String shown = String.join(between, all.subList(0, Math.min(MOST_TOLD, all.size())));
        return all.size() > MOST_TOLD ? shown + between + "and " + (all.size() - MOST_TOLD) + " more" : shown;
    }
}
