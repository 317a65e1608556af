package dev.fiesta.editing;

import dev.fiesta.editing.Meaning.Kind;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Printer;
import dev.fiesta.language.Token;
import dev.fiesta.problem.Problem;
import dev.fiesta.problem.RequestException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Gives what a brief names another name, wherever it is named; what would not mean the same then is refused. */
final class Renaming {
    private final UnfinishedBrief brief;

    Renaming(UnfinishedBrief brief) {
        this.brief = brief;
    }

    List<Problem.Fix> changes(int offset, String name) {
        Occurrence here = brief.occurrence(offset);
        if (here == null) {
            throw new RequestException("Here stands no field, table or parameter.");
        }
        if (name.isBlank() || name.contains("\n") || name.contains("\"")) {
            throw new RequestException("'" + name + "' is no name.");
        }
        Meaning meaning = here.meaning();
        List<Occurrence> uses = brief.uses(meaning);
        refuse(meaning, uses, name);
        List<Problem.Fix> changes = new ArrayList<>();
        String written = meaning.kind() == Kind.PARAMETER ? name : Printer.name(name);
        for (Occurrence use : uses) {
            changes.add(new Problem.Fix(use.at().start(), use.at().end(), written));
            Problem.Fix column = use.defines() ? column(use, meaning) : null;
            if (column != null) {
                changes.add(column);
            }
        }
        changes.sort(Comparator.comparingInt(Problem.Fix::start));
        refuseNewProblems(changes, meaning, name);
        return changes;
    }

    private void refuse(Meaning meaning, List<Occurrence> uses, String name) {
        String old = "'" + meaning.name() + "'";
        boolean made = uses.stream().anyMatch(o -> o.defines() && o.meaning().isWritten());
        boolean elsewhere = uses.stream().map(Occurrence::meaning).anyMatch(m -> !m.isWritten());
        if (!made || elsewhere) {
            throw new RequestException(
                    meaning.kind() != Kind.FIELD
                            ? old + " is made in another brief: give it another name there."
                            : old + " is a name that this brief does not write, of a column or made from another name:"
                                    + " give it another with 'rename " + Printer.name(meaning.name()) + " as …'.");
        }
        boolean taken = brief.names(meaning.kind(), name)
                || (meaning.kind() == Kind.FIELD
                        && brief.plans().values().stream()
                                .anyMatch(p -> p.schema().indexOf(name) >= 0));
        if (taken) {
            throw new RequestException("The brief names something '" + name + "' already.");
        }
    }

    /** A field of a file keeps the name of its column. */
    private Problem.@Nullable Fix column(Occurrence use, Meaning meaning) {
        for (BriefTree.Input input : brief.tree().inputs()) {
            for (BriefTree.FieldDef field : input.fields()) {
                if (field.name().at().equals(use.at()) && field.from() == null) {
                    int behind = behindType(use.at().end());
                    return new Problem.Fix(
                            behind, behind, " from \"" + meaning.name().replace("\"", "\"\"") + "\"");
                }
            }
        }
        return null;
    }

    /** Where the type of a field ends, with its digits and its patterns. */
    private int behindType(int name) {
        List<Token> words = brief.words();
        int i = 0;
        while (words.get(i).at().start() < name) {
            i++;
        }
        i++; // the type
        if (words.get(i).is(Token.Kind.SIGN) && words.get(i).text().equals("(")) {
            i += 3;
        }
        while (words.get(i).is(Token.Kind.TEXT)
                || (words.get(i).text().equals("or") && words.get(i + 1).is(Token.Kind.TEXT))) {
            i++;
        }
        return words.get(i - 1).at().end();
    }

    /** The renamed brief says the same: whatever was right is right still. */
    private void refuseNewProblems(List<Problem.Fix> changes, Meaning meaning, String name) {
        BriefText text = new BriefText(brief.text().name(), changed(brief.text().text(), changes));
        UnfinishedBrief after = UnfinishedBrief.of(text, around(meaning, name));
        if (after.problems().size() > brief.problems().size()) {
            throw new RequestException("With the name '" + name + "' the brief would not be right: "
                    + after.problems().get(0).message());
        }
    }

    /** What is known of the input whose field gets another name, as it will be then. */
    private UnfinishedBrief.Around around(Meaning meaning, String name) {
        Map<String, KnownInput> inputs = new HashMap<>(brief.around().inputs());
        inputs.replaceAll(
                (input, known) -> meaning.origin().equals("input " + input) ? known.with(meaning.name(), name) : known);
        UnfinishedBrief.Around around = brief.around();
        return new UnfinishedBrief.Around(around.used(), inputs, around.formats(), around.folder());
    }

    /** A text with changes made; they do not overlap. */
    static String changed(String text, List<Problem.Fix> changes) {
        StringBuilder changed = new StringBuilder(text);
        for (int i = changes.size() - 1; i >= 0; i--) {
            Problem.Fix change = changes.get(i);
            changed.replace(change.start(), change.end(), change.words());
        }
        return changed.toString();
    }
}
