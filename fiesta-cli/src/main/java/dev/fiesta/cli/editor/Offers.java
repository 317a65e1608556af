package dev.fiesta.cli.editor;

import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Span;
import dev.fiesta.problem.Problem;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.eclipse.lsp4j.CodeAction;
import org.eclipse.lsp4j.CodeActionKind;
import org.eclipse.lsp4j.CodeLens;
import org.eclipse.lsp4j.Command;
import org.eclipse.lsp4j.Diagnostic;
import org.eclipse.lsp4j.DiagnosticSeverity;
import org.eclipse.lsp4j.Range;
import org.eclipse.lsp4j.WorkspaceEdit;
import org.eclipse.lsp4j.jsonrpc.messages.Either;

/** What an editor offers to do: ways out of problems, and what can be worked out. */
final class Offers {
    /** So much of a way out stands in its title. */
    private static final int LONGEST = 80;

    private final Documents documents;

    Offers(Documents documents) {
        this.documents = documents;
    }

    /** Ways out of what is wrong in a range. */
    List<Either<Command, CodeAction>> fixes(Documents.Document document, Range range) {
        List<Either<Command, CodeAction>> actions = new ArrayList<>();
        for (Documents.Wrong wrong : documents.wrong(document)) {
            Range at = document.positions().of(wrong.problem());
            if (meets(at, range)) {
                List<Problem.Fix> fixes = wrong.problem().fixes();
                for (int i = 0; i < fixes.size(); i++) {
                    actions.add(Either.forRight(action(document, wrong.problem(), fixes.get(i), i == 0)));
                }
            }
        }
        return actions;
    }

    private static boolean meets(Range one, Range other) {
        return one.getStart().getLine() <= other.getEnd().getLine()
                && other.getStart().getLine() <= one.getEnd().getLine();
    }

    private static CodeAction action(Documents.Document document, Problem problem, Problem.Fix fix, boolean best) {
        CodeAction action = new CodeAction(title(document, fix));
        action.setKind(CodeActionKind.QuickFix);
        action.setIsPreferred(best);
        action.setEdit(new WorkspaceEdit(Map.of(document.uri(), NameAnswers.edits(document, List.of(fix)))));
        Range at = document.positions().of(problem);
        action.setDiagnostics(List.of(new Diagnostic(at, problem.message(), DiagnosticSeverity.Error, "fiesta")));
        return action;
    }

    private static String title(Documents.Document document, Problem.Fix fix) {
        String words = fix.words().strip().replaceAll("\\s+", " ");
        String before = document.text().substring(fix.start(), fix.end()).strip();
        if (words.isEmpty()) {
            return "Take '" + before + "' away";
        }
        if (sorted(before).equals(sorted(words))) {
            return "Move it behind the figures it looks at";
        }
        return "Write " + (words.length() > LONGEST ? words.substring(0, LONGEST) + " …" : words);
    }

    private static List<String> sorted(String words) {
        return Stream.of(words.split("\\s+")).sorted().toList();
    }

    /** What can be worked out, above the lines that say it. */
    static List<CodeLens> lenses(Documents.Document document) {
        List<CodeLens> lenses = new ArrayList<>();
        BriefTree tree = document.brief().tree();
        if (!tree.tables().isEmpty()) {
            lenses.add(lens(document, new Span(0, 0), "Run", CommandService.RUN, List.of(document.uri())));
        }
        for (BriefTree.TableDef table : tree.tables()) {
            for (Clause clause : table.clauses()) {
                lenses.add(lens(
                        document,
                        clause.at(),
                        "Show this step",
                        CommandService.STEP,
                        List.of(document.uri(), clause.at().start())));
            }
            boolean grouped = table.clauses().stream().anyMatch(Clause.Per.class::isInstance);
            if (grouped) {
                List<Object> arguments = List.of(document.uri(), table.name().name());
                lenses.add(lens(
                        document, table.name().at(), "Records behind its first row", CommandService.BEHIND, arguments));
            }
        }
        return lenses;
    }

    private static CodeLens lens(
            Documents.Document document, Span at, String title, String command, List<Object> arguments) {
        return new CodeLens(document.positions().of(at), new Command(title, command, arguments), null);
    }
}
