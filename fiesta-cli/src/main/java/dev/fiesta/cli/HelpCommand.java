package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.catalogue.ClauseEntry;
import dev.fiesta.catalogue.Entry;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.RequestException;
import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code fiesta help}: commands, and the language at hand from the catalogue that the parser reads. */
@Command(
        name = "help",
        description =
                "Explains a command, a clause or a function: fiesta help rank, fiesta help clauses, fiesta help functions.")
final class HelpCommand implements Callable<Integer> {
    private static final int USAGE_WIDTH = 34;
    private static final int WIDTH = 100;

    @Spec
    private CommandSpec spec;

    @Parameters(
            arity = "0..1",
            paramLabel = "NAME",
            description =
                    "A command, a clause, a function, 'clauses', 'functions', or 'reference' for all functions as Markdown.")
    private String name = "";

    @Override
    public Integer call() {
        CommandLine main = spec.parent().commandLine();
        PrintWriter out = spec.commandLine().getOut();
        if (name.isEmpty()) {
            main.usage(out);
        } else if (name.equals("functions")) {
            functions(out);
        } else if (name.equals("clauses")) {
            clauses(out);
        } else if (name.equals("reference")) {
            out.print(Reference.markdown(Fiesta.functions()));
        } else if (name.equals("reference-clauses")) {
            out.print(Reference.clauses(ClauseEntry.all()));
        } else if (main.getSubcommands().containsKey(name)) {
            main.getSubcommands().get(name).usage(out);
        } else {
            return function(out);
        }
        return 0;
    }

    private static void functions(PrintWriter out) {
        Entry.Family family = null;
        for (Entry entry : Fiesta.functions()) {
            if (entry.family() != family) {
                out.println((family == null ? "" : "\n") + entry.family().title());
                family = entry.family();
            }
            String gap = entry.usage().length() <= USAGE_WIDTH ? "" : "\n" + " ".repeat(USAGE_WIDTH + 2);
            out.printf("  %-" + USAGE_WIDTH + "s%s %s%n", entry.usage(), gap, entry.about());
        }
    }

    private static void clauses(PrintWriter out) {
        for (ClauseEntry clause : ClauseEntry.all()) {
            out.println(clause.form());
            wrapped(clause.about(), out);
        }
    }

    private static void wrapped(String text, PrintWriter out) {
        StringBuilder line = new StringBuilder("   ");
        for (String word : text.split(" ")) {
            if (line.length() + word.length() > WIDTH) {
                out.println(line);
                line.setLength(0);
                line.append("   ");
            }
            line.append(' ').append(word);
        }
        out.println(line);
    }

    private int function(PrintWriter out) {
        for (ClauseEntry clause : ClauseEntry.all()) {
            if (clause.name().equals(name)) {
                out.println(clause.form());
                wrapped(clause.about(), out);
                if (!clause.example().isEmpty()) {
                    out.println("    For instance: " + clause.example());
                }
                return 0;
            }
        }
        for (Entry entry : Fiesta.functions()) {
            if (entry.name().equals(name)) {
                out.println(entry.usage());
                out.println("  " + entry.about());
                out.println("  For instance: " + entry.example() + " gives "
                        + (entry.result().isEmpty() ? "missing" : entry.result()));
                return 0;
            }
        }
        List<String> known =
                new ArrayList<>(spec.parent().commandLine().getSubcommands().keySet());
        ClauseEntry.all().forEach(c -> known.add(c.name()));
        Fiesta.functions().forEach(e -> known.add(e.name()));
        List<String> near = Names.nearest(name, known);
        throw new RequestException("There is no command, clause or function '" + name + "'."
                + (near.isEmpty()
                        ? " See 'fiesta help', 'fiesta help clauses' and 'fiesta help functions'."
                        : " Did you mean " + String.join(" or ", near) + "?"));
    }
}
