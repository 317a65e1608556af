package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Names;
import dev.fiesta.source.cells.FieldSpec;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** The names of fields in files: what stands at the head of columns, and what is wrong with it. */
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

    /** @throws DataException when a file has other columns than those met before, and these are not met by name */
    public static void refuseOthers(String first, Collection<String> known, String file, Collection<String> own) {
        Set<String> more = new LinkedHashSet<>(own);
        more.removeAll(Set.copyOf(known));
        Set<String> fewer = new LinkedHashSet<>(known);
        fewer.removeAll(Set.copyOf(own));
        if (!more.isEmpty() || !fewer.isEmpty()) {
            throw new DataException(
                    file + " has other columns than " + first + ":"
                            + (fewer.isEmpty() ? "" : " it lacks " + String.join(", ", fewer) + ";")
                            + (more.isEmpty() ? "" : " it also has " + String.join(", ", more) + ";")
                            + " add 'fields by name' to the input to let columns be missing.",
                    file,
                    1,
                    null,
                    null);
        }
    }

    /**
     * @param what the files call their fields: {@code column}
     * @throws DataException when a field was told of that no file has
     */
    public static void refuseUnknown(List<FieldSpec> told, Collection<String> known, String file, String what) {
        for (FieldSpec field : told) {
            if (!known.contains(field.column())) {
                throw new DataException(
                        file + " has no " + what + " '" + field.column() + "'. "
                                + Names.didYouMean(field.column(), known, "It has"),
                        file,
                        1,
                        field.name(),
                        null);
            }
        }
    }
}
