package dev.fiesta.plan;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.Entry.Family;
import dev.fiesta.compute.RowFunctions;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.language.Expr;
import dev.fiesta.problem.Names;
import dev.fiesta.walk.WalkFunctions;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;

/** Everything that can be called, whatever package works it out. */
public final class Catalogue {
    private static final List<Entry> SPECIAL = List.of(
            new Entry(
                    "coalesce",
                    Family.CONVERSIONS,
                    "coalesce(a, b, …)",
                    "The first of the values that is not missing.",
                    "coalesce(missing, 3, 4)",
                    "3"),
            new Entry(
                    "reword",
                    Family.TEXTS,
                    "reword(t, 'a' as 'x', 'b' as 'y'[, else 'z'])",
                    "Other words for some texts; without 'else', all others stay as they are.",
                    "reword('card', 'card' as 'plastic', 'cash' as 'coins')",
                    "plastic"));

    private Catalogue() {}

    /** All entries, family by family. */
    public static List<Entry> entries() {
        List<Entry> all = new ArrayList<>();
        RowFunctions.all().forEach(f -> all.add(f.entry()));
        all.addAll(SPECIAL);
        GatherFunctions.all().forEach(f -> all.add(f.entry()));
        WalkFunctions.all().forEach(f -> all.add(f.entry()));
        all.sort(Comparator.comparing(Entry::family));
        return List.copyOf(all);
    }

    /** The names of all functions. */
    public static List<String> names() {
        return entries().stream().map(Entry::name).toList();
    }

    /**
     * What is proposed where a name is none of a field: the call that it may have been meant for, else names that look like it.
     *
     * @param names the fields and figures that there are
     */
    static CharSequence proposal(String name, Collection<String> names) {
        return entries().stream()
                .filter(entry -> entry.name().equals(name))
                .findFirst()
                .<CharSequence>map(entry -> "If the function is meant, brackets follow its name: "
                        + entry.usage().replaceAll("\\[.*?]", "") + ".")
                .orElseGet(() -> Names.didYouMean(name, names, "There are"));
    }

    /** Whether a figure of a group looks at nothing but the group's own records. */
    public static boolean looksAtOwnOnly(Expr.Call call) {
        GatherFunction function = GatherFunctions.find(call.name());
        return call.modifiers().within() == null && (function == null || !function.isPart());
    }
}
