package dev.fiesta.cli.help;

import dev.fiesta.Fiesta;
import dev.fiesta.catalogue.ClauseEntry;
import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.ForeignWord;
import dev.fiesta.catalogue.WordEntry;
import dev.fiesta.problem.Names;
import dev.fiesta.problem.RequestException;
import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.Callable;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code fiesta help}: commands, and every word of the language from the catalogue that the parser reads. */
@Command(
        name = "help",
        description = "Explains a command or any word of a brief: fiesta help rank, fiesta help within.",
        customSynopsis = {"fiesta help [WORD]", "fiesta help clauses | functions | words"})
public final class HelpCommand implements Callable<Integer> {
    private static final int USAGE_WIDTH = 34;
    private static final int WIDTH = 100;

    @Spec
    private CommandSpec spec;

    @Parameters(
            arity = "0..*",
            paramLabel = "WORD",
            description =
                    "A command, or a word of the language. 'clauses', 'functions' and 'words' list them; 'reference' and"
                            + " 'reference-clauses' are the pages of the documentation, 'reference-grammar' is what editors colour briefs by.")
    private List<String> words = new ArrayList<>();

    private boolean begun;

    @Override
    public Integer call() {
        PrintWriter out = spec.commandLine().getOut();
        String name = String.join(" ", words);
        switch (name) {
            case "" -> commands().usage(out);
            case "functions" -> functions(out);
            case "clauses" -> ClauseEntry.all().forEach(c -> clause(c, out));
            case "words" -> words(out);
            case "reference" -> out.print(Reference.markdown(Fiesta.functions()));
            case "reference-grammar" -> out.print(Grammar.json(Fiesta.functions()));
            case "reference-clauses" -> out.print(Reference.clauses(ClauseEntry.all()));
            default -> {
                if (!explain(name, out)) {
                    foreign(name, out);
                }
            }
        }
        return 0;
    }

    private CommandLine commands() {
        return spec.parent().commandLine();
    }

    private static void functions(PrintWriter out) {
        Entry.Family family = null;
        for (Entry entry : Fiesta.functions()) {
            if (entry.family() != family) {
                out.println((family == null ? "" : "\n") + entry.family().title());
                family = entry.family();
            }
            listed(entry.usage(), entry.about(), out);
        }
    }

    private static void words(PrintWriter out) {
        WordEntry.Place place = null;
        for (WordEntry entry : WordEntry.all()) {
            if (entry.place() != place) {
                out.println((place == null ? "" : "\n") + entry.place().title());
                place = entry.place();
            }
            listed(term(entry), entry.about(), out);
        }
    }

    /** Words that are written one after the other stand so. */
    private static String term(WordEntry entry) {
        String together = String.join(" ", entry.words());
        return entry.form().contains(together) ? together : String.join(", ", entry.words());
    }

    private static void listed(String term, String about, PrintWriter out) {
        String gap = term.length() <= USAGE_WIDTH ? "" : "\n" + " ".repeat(USAGE_WIDTH + 2);
        out.printf("  %-" + USAGE_WIDTH + "s%s %s%n", term, gap, about);
    }

    private static void clause(ClauseEntry clause, PrintWriter out) {
        out.println(clause.form());
        wrapped(clause.about(), out);
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

    /** Explains all that a name is: a command, a clause, a function, another word. Whether it is any. */
    private boolean explain(String name, PrintWriter out) {
        begun = false;
        CommandLine command = commands().getSubcommands().get(name);
        if (command != null) {
            begin(out);
            command.usage(out);
        }
        for (ClauseEntry clause : ClauseEntry.all()) {
            if (clause.name().equals(name)) {
                begin(out);
                clause(clause, out);
                example(clause.example(), out);
            }
        }
        for (Entry entry : Fiesta.functions()) {
            if (entry.name().equals(name)) {
                begin(out);
                out.println(entry.usage());
                wrapped(entry.about(), out);
                example(entry.example() + " gives " + (entry.result().isEmpty() ? "missing" : entry.result()), out);
            }
        }
        for (WordEntry entry : WordEntry.all()) {
            if (isMeant(entry, name)) {
                begin(out);
                out.println(entry.form() + "    (" + entry.place().title().toLowerCase(java.util.Locale.ROOT) + ")");
                wrapped(entry.about(), out);
                example(entry.example(), out);
            }
        }
        return begun;
    }

    private static boolean isMeant(WordEntry entry, String name) {
        return entry.words().contains(name)
                || name.contains(" ") && entry.form().contains(name)
                || entry.words().containsAll(List.of(name.split(" ")));
    }

    private void begin(PrintWriter out) {
        if (begun) {
            out.println();
        }
        begun = true;
    }

    private static void example(String example, PrintWriter out) {
        if (!example.isEmpty()) {
            out.println("    For instance: " + example);
        }
    }

    private void foreign(String name, PrintWriter out) {
        Optional<String> ours = ForeignWord.ours(name.split(" ")[0]);
        if (ours.isPresent()) {
            out.println("'" + name + "' is not a word of briefs; here it is '" + ours.get() + "':\n");
            if (explain(ours.get(), out)) {
                return;
            }
        }
        Set<String> known = new TreeSet<>(commands().getSubcommands().keySet());
        ClauseEntry.all().forEach(c -> known.add(c.name()));
        Fiesta.functions().forEach(e -> known.add(e.name()));
        WordEntry.all().forEach(e -> known.addAll(e.words()));
        List<String> near = Names.nearest(name, known);
        throw new RequestException("There is no command and no word '" + name + "'."
                + (near.isEmpty()
                        ? " See 'fiesta help', 'fiesta help clauses', 'fiesta help functions' and 'fiesta help words'."
                        : " Did you mean " + String.join(" or ", near) + "?"));
    }
}
