package dev.fiesta.cli.editor;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.eclipse.lsp4j.CodeAction;
import org.eclipse.lsp4j.CodeActionContext;
import org.eclipse.lsp4j.CodeActionParams;
import org.eclipse.lsp4j.CodeLens;
import org.eclipse.lsp4j.CodeLensParams;
import org.eclipse.lsp4j.CompletionItem;
import org.eclipse.lsp4j.CompletionItemKind;
import org.eclipse.lsp4j.CompletionParams;
import org.eclipse.lsp4j.DefinitionParams;
import org.eclipse.lsp4j.Diagnostic;
import org.eclipse.lsp4j.DidSaveTextDocumentParams;
import org.eclipse.lsp4j.DocumentFormattingParams;
import org.eclipse.lsp4j.DocumentHighlightParams;
import org.eclipse.lsp4j.DocumentSymbol;
import org.eclipse.lsp4j.DocumentSymbolParams;
import org.eclipse.lsp4j.ExecuteCommandParams;
import org.eclipse.lsp4j.FoldingRangeRequestParams;
import org.eclipse.lsp4j.FormattingOptions;
import org.eclipse.lsp4j.HoverParams;
import org.eclipse.lsp4j.Location;
import org.eclipse.lsp4j.Position;
import org.eclipse.lsp4j.Range;
import org.eclipse.lsp4j.ReferenceContext;
import org.eclipse.lsp4j.ReferenceParams;
import org.eclipse.lsp4j.RenameParams;
import org.eclipse.lsp4j.SemanticTokensParams;
import org.eclipse.lsp4j.SignatureHelpParams;
import org.eclipse.lsp4j.TextDocumentContentChangeEvent;
import org.eclipse.lsp4j.TextEdit;
import org.eclipse.lsp4j.WorkspaceEdit;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** An editor and the server, each a process, over the protocol. */
class LanguageServerTest {
    @TempDir
    private static Path errors;

    private static Editor editor;

    @TempDir
    private Path folder;

    private Path brief;
    private String text;
    private String uri;

    @BeforeAll
    static void start() throws Exception {
        editor = new Editor(errors.resolve("errors"));
    }

    @AfterAll
    static void end() throws Exception {
        editor.close();
        assertThat(editor.process.exitValue()).isZero();
        assertThat(errors.resolve("errors")).isEmptyFile();
    }

    @BeforeEach
    void open() throws Exception {
        Files.writeString(
                folder.resolve("sales.csv"),
                "sold_at,site,item,amount\n2026-05-01,Quay,Olives,3.10\n2026-05-01,Meadow,Bread,2.00\n2026-05-02,Quay,Bread,2.50\n");
        brief = folder.resolve("takings.brief");
        text = "# The week.\ninput sales from 'sales.csv'\ntable by_site from sales\n  only amount > 2\n"
                + "  per site\n    give total = sum(amount),\n      n = count()\n  sort total desc\nreport\n  table by_site\n";
        Files.writeString(brief, text);
        uri = editor.open(brief);
        editor.problems(uri, List::isEmpty);
    }

    @AfterEach
    void close() {
        editor.server
                .getTextDocumentService()
                .didClose(new org.eclipse.lsp4j.DidCloseTextDocumentParams(Editor.id(uri)));
    }

    private void type(String other) {
        text = other;
        editor.type(uri, other);
    }

    private Position at(String mark) {
        return Editor.at(text, mark);
    }

    private List<CompletionItem> completions(Position position) throws Exception {
        return Editor.get(editor.server
                        .getTextDocumentService()
                        .completion(new CompletionParams(Editor.id(uri), position)))
                .getLeft();
    }

    /** Asks until the inputs have been looked into. */
    private List<String> labels(Position position, String waitedFor) throws Exception {
        List<String> labels = List.of();
        for (int i = 0; i < 500 && !labels.contains(waitedFor); i++) {
            labels =
                    completions(position).stream().map(CompletionItem::getLabel).toList();
            Thread.sleep(10);
        }
        assertThat(labels).contains(waitedFor);
        return labels;
    }

    @Test
    void problemsAreToldAsTheyAreTyped() throws Exception {
        type(text.replace("sum(amount)", "sum(amuont)"));
        List<Diagnostic> told = editor.problems(uri, p -> !p.isEmpty());
        assertThat(told).hasSize(1);
        assertThat(told.get(0).getMessage()).isEqualTo("There is no field 'amuont'.\nDid you mean 'amount'?");
        assertThat(told.get(0).getRange().getStart()).isEqualTo(at("amuont"));
        type(text.replace("amuont", "amount").replace("table by_site\n", "table by_sites\n"));
        assertThat(editor.problems(uri, p -> !p.isEmpty()).get(0).getMessage())
                .startsWith("There is no table 'by_sites'.");
    }

    @Test
    void aPieceOfTheTextIsChanged() throws Exception {
        Position start = at("sum(amount)");
        Position end = new Position(start.getLine(), start.getCharacter() + 3);
        editor.change(uri, new TextDocumentContentChangeEvent(new Range(start, end), "mean"));
        editor.problems(uri, List::isEmpty);
        assertThat(Editor.get(editor.server.getTextDocumentService().hover(new HoverParams(Editor.id(uri), start)))
                        .getContents()
                        .getRight()
                        .getValue())
                .startsWith("```fiesta\nmean(");
    }

    @Test
    void whatAnInputNamesIsLookedInto() throws Exception {
        type(text.replace("'sales.csv'", "'sale.csv'"));
        Diagnostic told = editor.problems(uri, p -> !p.isEmpty()).get(0);
        assertThat(told.getMessage()).contains("sale.csv");
        assertThat(told.getRange().getStart()).isEqualTo(at("sales from"));
        Files.copy(folder.resolve("sales.csv"), folder.resolve("sale.csv"));
        editor.server.getTextDocumentService().didSave(new DidSaveTextDocumentParams(Editor.id(uri)));
        editor.problems(uri, List::isEmpty);
    }

    @Test
    void wordsFieldsAndValuesAreCompleted() throws Exception {
        type(text.replace("only amount > 2", "only site = "));
        Position behind = at("site = \n");
        labels(new Position(behind.getLine(), behind.getCharacter() + 7), "'Quay'");
        type(text.replace("only site = ", "only amou > 2"));
        Position typed = at("amou >");
        CompletionItem item = completions(new Position(typed.getLine(), typed.getCharacter() + 4))
                .get(0);
        assertThat(item.getLabel()).isEqualTo("amount");
        assertThat(item.getDetail()).isEqualTo("decimal(2)");
        assertThat(item.getTextEdit().getLeft().getRange().getStart()).isEqualTo(typed);
    }

    @Test
    void wordsAreExplained() throws Exception {
        labels(at("amount > 2"), "amount");
        String told = Editor.get(
                        editor.server.getTextDocumentService().hover(new HoverParams(Editor.id(uri), at("amount > 2"))))
                .getContents()
                .getRight()
                .getValue();
        assertThat(told)
                .isEqualTo("```fiesta\namount decimal(2)\n```\n\nFrom input sales.\n\n"
                        + "None missing, from 2.00 to 3.10, in the first 3 records.\n");
        assertThat(Editor.get(editor.server
                                .getTextDocumentService()
                                .signatureHelp(new SignatureHelpParams(Editor.id(uri), at("amount),"))))
                        .getSignatures()
                        .get(0)
                        .getLabel())
                .startsWith("sum(");
    }

    @Test
    void namesAreFoundAndChanged() throws Exception {
        labels(at("amount > 2"), "amount");
        List<? extends Location> definition = Editor.get(editor.server
                        .getTextDocumentService()
                        .definition(new DefinitionParams(Editor.id(uri), at("total desc"))))
                .getLeft();
        assertThat(definition.get(0).getRange().getStart()).isEqualTo(at("total = sum"));
        assertThat(Editor.get(editor.server
                        .getTextDocumentService()
                        .references(new ReferenceParams(Editor.id(uri), at("total desc"), new ReferenceContext(true)))))
                .hasSize(2);
        assertThat(Editor.get(editor.server
                        .getTextDocumentService()
                        .documentHighlight(new DocumentHighlightParams(Editor.id(uri), at("by_site from")))))
                .hasSize(2);
        WorkspaceEdit edit = Editor.get(editor.server
                .getTextDocumentService()
                .rename(new RenameParams(Editor.id(uri), at("total desc"), "takings")));
        assertThat(edit.getChanges().get(uri)).extracting(TextEdit::getNewText).containsExactly("takings", "takings");
        assertThatThrownBy(() -> Editor.get(editor.server
                        .getTextDocumentService()
                        .rename(new RenameParams(Editor.id(uri), at("amount > 2"), "price"))))
                .hasMessageContaining("rename amount as");
    }

    @Test
    void namesAreFollowedIntoTheBriefsUsed() throws Exception {
        Path other = folder.resolve("more.brief");
        String using = "use 'takings.brief'\ntable best from by_site first 1 along total desc\n";
        Files.writeString(other, using);
        String more = editor.open(other);
        editor.problems(more, List::isEmpty);
        List<? extends Location> definition = Editor.get(editor.server
                        .getTextDocumentService()
                        .definition(new DefinitionParams(Editor.id(more), Editor.at(using, "by_site"))))
                .getLeft();
        assertThat(definition.get(0).getUri()).isEqualTo(uri);
        assertThat(definition.get(0).getRange().getStart()).isEqualTo(at("by_site from"));
        assertThat(Editor.get(editor.server
                                .getTextDocumentService()
                                .references(new ReferenceParams(
                                        Editor.id(uri), at("by_site from"), new ReferenceContext(true))))
                        .stream()
                        .map(Location::getUri))
                .contains(uri, more);
        WorkspaceEdit edit = Editor.get(editor.server
                .getTextDocumentService()
                .rename(new RenameParams(Editor.id(uri), at("by_site from"), "sites")));
        assertThat(edit.getChanges()).containsOnlyKeys(uri, more);
        assertThatThrownBy(() -> Editor.get(editor.server
                        .getTextDocumentService()
                        .rename(new RenameParams(Editor.id(uri), at("by_site from"), "best"))))
                .hasMessageContaining("'more.brief' names something 'best' already.");
        Files.delete(other);
        editor.type(more, "use 'gone.brief'\n");
        assertThat(editor.problems(more, p -> !p.isEmpty()).get(0).getMessage())
                .startsWith("There is no brief 'gone.brief'.");
    }

    @Test
    void briefsThatUseEachOtherAreTold() throws Exception {
        Path other = folder.resolve("more.brief");
        Files.writeString(other, "use 'takings.brief'\ntable best from by_site first 1\n");
        type("use 'more.brief'\n" + text.replace("table by_site\n", "table nowhere\n"));
        assertThat(editor.problems(uri, p -> !p.isEmpty()))
                .extracting(Diagnostic::getMessage)
                .contains("'more.brief' uses this brief, so neither can come first.");
        assertThat(Editor.get(editor.server
                                .getTextDocumentService()
                                .definition(new DefinitionParams(Editor.id(uri), at("sales\n"))))
                        .getLeft())
                .hasSize(1);
    }

    /** What a file holds means nothing to an editor but itself. */
    @Test
    void valuesAreCompletedWhateverSignsTheyHold() throws Exception {
        Files.writeString(
                folder.resolve("sales.csv"),
                "site,amount\n" + "Quay $0 } \\,1\n\"North\nQuay\",2\nO'Brian's,3\n".repeat(3));
        type("input sales from 'sales.csv' fields amount decimal(2)\ntable t from sales only site = ");
        labels(Editor.at(text + "|", "|"), "'Quay $0 } \\'");
        List<CompletionItem> values = completions(Editor.at(text + "|", "|")).stream()
                .filter(i -> i.getKind() == CompletionItemKind.Value)
                .toList();
        assertThat(values)
                .extracting(i -> i.getTextEdit().getLeft().getNewText())
                .containsExactlyInAnyOrder("'Quay $0 } \\'", "'O''Brian''s'");
        assertThat(values).extracting(CompletionItem::getInsertTextFormat).containsOnlyNulls();
    }

    @Test
    void waysOutAreQuickFixes() throws Exception {
        type(text.replace("sum(amount)", "sum(amuont)"));
        Diagnostic told = editor.problems(uri, p -> !p.isEmpty()).get(0);
        CodeAction action = Editor.get(editor.server
                        .getTextDocumentService()
                        .codeAction(new CodeActionParams(
                                Editor.id(uri), told.getRange(), new CodeActionContext(List.of(told)))))
                .get(0)
                .getRight();
        assertThat(action.getTitle()).isEqualTo("Write amount");
        TextEdit edit = action.getEdit().getChanges().get(uri).get(0);
        assertThat(edit.getRange()).isEqualTo(told.getRange());
        assertThat(edit.getNewText()).isEqualTo("amount");
    }

    @Test
    void theOutlineAndItsFoldsAreTold() throws Exception {
        List<DocumentSymbol> symbols = Editor.get(
                        editor.server.getTextDocumentService().documentSymbol(new DocumentSymbolParams(Editor.id(uri))))
                .stream()
                .map(s -> s.getRight())
                .toList();
        assertThat(symbols).extracting(DocumentSymbol::getName).containsExactly("sales", "by_site", "table by_site");
        assertThat(symbols.get(1).getChildren())
                .extracting(DocumentSymbol::getName)
                .containsExactly("only amount > 2", "per site", "sort total desc");
        assertThat(Editor.get(editor.server
                        .getTextDocumentService()
                        .foldingRange(new FoldingRangeRequestParams(Editor.id(uri)))))
                .hasSize(2);
    }

    @Test
    void aBriefIsLaidOut() throws Exception {
        type("input   sales from 'sales.csv'\ntable t from sales only amount>2\n");
        List<? extends TextEdit> edits = Editor.get(editor.server
                .getTextDocumentService()
                .formatting(new DocumentFormattingParams(Editor.id(uri), new FormattingOptions(2, true))));
        assertThat(edits.get(0).getNewText()).contains("input sales from", "\n  only   amount > 2\n");
        type("table t from");
        assertThat(Editor.get(editor.server
                        .getTextDocumentService()
                        .formatting(new DocumentFormattingParams(Editor.id(uri), new FormattingOptions(2, true)))))
                .isEmpty();
    }

    @Test
    void everyWordHasItsSort() throws Exception {
        List<String> sorts = editor.capabilities
                .getCapabilities()
                .getSemanticTokensProvider()
                .getLegend()
                .getTokenTypes();
        List<Integer> data = Editor.get(editor.server
                        .getTextDocumentService()
                        .semanticTokensFull(new SemanticTokensParams(Editor.id(uri))))
                .getData();
        String told = IntStream.range(0, data.size() / 5)
                .mapToObj(i -> sorts.get(data.get(i * 5 + 3)))
                .limit(12)
                .collect(Collectors.joining(" "));
        assertThat(told)
                .isEqualTo(
                        "comment keyword class keyword string keyword class keyword class keyword property operator");
    }

    @Test
    void whatIsAskedForIsWorkedOut() throws Exception {
        List<? extends CodeLens> lenses =
                Editor.get(editor.server.getTextDocumentService().codeLens(new CodeLensParams(Editor.id(uri))));
        assertThat(lenses.stream().map(l -> l.getCommand().getTitle()))
                .containsExactlyInAnyOrder(
                        "Run", "Show this step", "Show this step", "Show this step", "Records behind its first row");
        assertThat(asked(lenses.get(0))).contains("Quay", "5.60");
        CodeLens step = lenses.stream()
                .filter(l -> l.getRange().getStart().equals(at("per site")))
                .findFirst()
                .orElseThrow();
        assertThat(asked(step)).contains("per site", "Quay").doesNotContain("sort");
        assertThat(asked(lenses.get(lenses.size() - 1))).contains("Olives", "3.10");
        type(text.replace("sum(amount)", "sum(amuont)"));
        assertThat(asked(lenses.get(0))).contains("There is no field 'amuont'.");
        type("parameter least integer = 1\n");
        assertThat(asked(lenses.get(0))).isEqualTo("There is nothing to run yet: the brief has no table.");
        assertThat(editor.logged).isNotEmpty();
    }

    /** What can be worked out is offered for the text alone, before anybody knows what its inputs hold. */
    @Test
    void aStepIsShownBeforeItsInputWasLookedInto() throws Exception {
        for (int i = 0; i < 5; i++) {
            Files.copy(folder.resolve("sales.csv"), folder.resolve("sales" + i + ".csv"));
            type(text.replaceFirst("sales\\d?\\.csv", "sales" + i + ".csv"));
            int offset = text.indexOf("per site");
            assertThat(asked("fiesta.step", uri, offset)).contains("per site", "Quay");
            assertThat(asked("fiesta.step", uri, offset + 30)).contains("per site", "Quay");
        }
        assertThat(asked("fiesta.step", uri, text.indexOf("table by_site") + 3)).contains("no clause");
        assertThat(asked("fiesta.step", uri, text.indexOf("report"))).contains("no clause");
    }

    /** An editor may ask for what stood there a moment ago. */
    @Test
    void whatCannotBeWorkedOutIsSaid() throws Exception {
        List<? extends CodeLens> lenses =
                Editor.get(editor.server.getTextDocumentService().codeLens(new CodeLensParams(Editor.id(uri))));
        String step = lenses.get(1).getCommand().getCommand();
        String behind = lenses.get(lenses.size() - 1).getCommand().getCommand();
        assertThat(asked(step, uri, 0)).isEqualTo("Here stands no clause that can be worked out.");
        assertThat(asked(step, uri)).isEqualTo("The command needs 2 arguments.");
        assertThat(asked("fiesta.nothing", uri)).isEqualTo("There is no command 'fiesta.nothing'.");
        type("input sales from 'sales.csv'\ntable none from sales\n  only amount > 1000\n  per site\n");
        assertThat(asked(behind, uri, "none")).isEqualTo("'none' has no rows.");
        type("input sales from 'sales.csv'\ntable none from sales\n  only amount > 1\n");
        assertThat(asked(behind, uri, "none")).isEqualTo("The rows of 'none' are records themselves.");
    }

    private static String asked(CodeLens lens) throws Exception {
        return asked(
                lens.getCommand().getCommand(), lens.getCommand().getArguments().toArray());
    }

    private static String asked(String command, Object... arguments) throws Exception {
        return Editor.get(editor.server
                        .getWorkspaceService()
                        .executeCommand(new ExecuteCommandParams(command, List.of(arguments))))
                .toString();
    }

    @Test
    void queriesAndPipesAreNotRead() throws Exception {
        type(
                "input a from database 'shop' query 'select 1'\ninput b from '-'\ntable t from a only x > 1\ntable u from b only y > 1\n");
        assertThat(editor.problems(uri, p -> true)).isEmpty();
        assertThat(completions(new Position(2, 0))).isNotEmpty();
    }

    @Test
    void anEditorThatIsGoneEndsTheServer() throws Exception {
        Editor other = new Editor(folder.resolve("errors"));
        other.process.getOutputStream().close();
        assertThat(other.process.waitFor(60, TimeUnit.SECONDS)).isTrue();
    }
}
