package dev.fiesta.report.terminal;

import dev.fiesta.StepLook;
import dev.fiesta.ViewColumn;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Texts;
import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** A table as each of its clauses leaves it: the clause, how many rows, which fields came or went, the first rows. */
public final class StepsView {
    private static final String INDENT = "    ";
    private static final int LONGEST = 90;

    private final TextTable tables;
    private final LocaleStyle locale;
    private final boolean colour;

    public StepsView(TextTable tables, LocaleStyle locale, boolean colour) {
        this.tables = tables;
        this.locale = locale;
        this.colour = colour;
    }

    public void print(List<StepLook> looks, PrintWriter out) {
        StepLook before = null;
        for (StepLook look : looks) {
            if (before == null) {
                out.println(TextTable.bold(look.table() + ", from " + look.from(), colour));
                out.println();
                out.println("      " + rows(look, null) + ", " + fields(look));
            } else {
                String line =
                        String.format(Locale.ROOT, "%4s  ", look.line() == 0 ? "" : Integer.toString(look.line()));
                out.println(line + TextTable.bold(cut(Objects.requireNonNull(look.clause())), colour));
                out.println("      " + rows(look, before) + changes(before, look));
            }
            first(look, before, out);
            before = look;
        }
    }

    /** What one clause left, without the clause. */
    public void print(StepLook look, @Nullable StepLook before, PrintWriter out) {
        out.println("      " + rows(look, before) + (before == null ? ", " + fields(look) : changes(before, look)));
        first(look, before, out);
    }

    private void first(StepLook look, @Nullable StepLook before, PrintWriter out) {
        tables.render(look.first(), look.first().rows(), newFirst(look, before))
                .lines()
                .forEach(l -> out.println((INDENT + "  " + l).stripTrailing()));
        out.println();
    }

    private static String cut(String clause) {
        String plain = Texts.printable(clause);
        return plain.length() > LONGEST ? plain.substring(0, LONGEST - 1) + "…" : plain;
    }

    /** {@code 57,012 records of 60,041}; after a grouping {@code 40 groups of site, stall}. */
    private String rows(StepLook look, @Nullable StepLook before) {
        String count = locale.number(Long.toString(look.rows()));
        if (before == null || !Objects.equals(before.keys(), look.keys()) || before.rows() == look.rows()) {
            return count + " " + what(look, look.rows());
        }
        String of = locale.number(Long.toString(before.rows()));
        return look.rows() < before.rows()
                ? count + " of " + of + " " + what(look, before.rows())
                : count + " " + what(look, look.rows()) + ", "
                        + locale.number(Long.toString(look.rows() - before.rows())) + " more than before";
    }

    /** What rows are, for so many of them. */
    private static String what(StepLook look, long rows) {
        List<String> keys = look.keys();
        String several = rows == 1 ? "" : "s";
        return keys == null
                ? "record" + several
                : keys.isEmpty() ? "group of all records" : "group" + several + " of " + String.join(", ", keys);
    }

    /** The columns, those that came with the clause first, so that a narrow window shows them. */
    private static List<ViewColumn> newFirst(StepLook look, @Nullable StepLook before) {
        List<ViewColumn> columns = new ArrayList<>(look.first().view());
        if (before != null && Objects.equals(before.keys(), look.keys())) {
            List<String> had = before.first().schema().names();
            columns.sort(Comparator.comparing(c -> had.contains(c.field())));
        }
        return columns;
    }

    private static String fields(StepLook look) {
        int count = look.first().schema().size();
        return count + (count == 1 ? " field" : " fields");
    }

    private static String changes(StepLook before, StepLook look) {
        List<String> had = before.first().schema().names();
        List<String> has = look.first().schema().names();
        List<String> parts = new ArrayList<>();
        List<String> come = has.stream().filter(n -> !had.contains(n)).toList();
        List<String> gone = had.stream().filter(n -> !has.contains(n)).toList();
        if (!come.isEmpty()) {
            parts.add("new: " + String.join(", ", come));
        }
        if (!gone.isEmpty()) {
            parts.add("gone: " + String.join(", ", gone));
        }
        return parts.isEmpty() ? "" : "; " + String.join("; ", parts);
    }
}
