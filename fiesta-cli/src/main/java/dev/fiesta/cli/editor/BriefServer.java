package dev.fiesta.cli.editor;

import dev.fiesta.Fiesta;
import java.io.InputStream;
import java.io.OutputStream;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Future;
import java.util.function.Supplier;
import org.eclipse.lsp4j.CodeActionKind;
import org.eclipse.lsp4j.CodeActionOptions;
import org.eclipse.lsp4j.CodeLensOptions;
import org.eclipse.lsp4j.CompletionOptions;
import org.eclipse.lsp4j.ExecuteCommandOptions;
import org.eclipse.lsp4j.InitializeParams;
import org.eclipse.lsp4j.InitializeResult;
import org.eclipse.lsp4j.RenameOptions;
import org.eclipse.lsp4j.SemanticTokensWithRegistrationOptions;
import org.eclipse.lsp4j.ServerCapabilities;
import org.eclipse.lsp4j.ServerInfo;
import org.eclipse.lsp4j.SetTraceParams;
import org.eclipse.lsp4j.SignatureHelpOptions;
import org.eclipse.lsp4j.TextDocumentSyncKind;
import org.eclipse.lsp4j.jsonrpc.Launcher;
import org.eclipse.lsp4j.launch.LSPLauncher;
import org.eclipse.lsp4j.services.LanguageClient;
import org.eclipse.lsp4j.services.LanguageServer;
import org.eclipse.lsp4j.services.TextDocumentService;
import org.eclipse.lsp4j.services.WorkspaceService;

/** Answers an editor, over the open language server protocol. It works nothing out but what a command of the editor asks for. */
public final class BriefServer implements LanguageServer {
    private final Fiesta fiesta;
    private final Documents documents;
    private final TextService texts;
    private final CommandService commands;
    private boolean told;
    private final CompletableFuture<Boolean> ended = new CompletableFuture<>();

    private BriefServer(Fiesta fiesta) {
        this.fiesta = fiesta;
        this.documents = new Documents(fiesta, this::inputsKnown);
        this.texts = new TextService(documents);
        this.commands = new CommandService(fiesta, documents);
    }

    /**
     * Serves an editor until it says that it ends, or is gone.
     *
     * @param open makes what reads inputs
     * @param in what the editor says
     * @param out what it is told
     * @return whether it ended as the protocol wants it
     */
    public static boolean serve(Supplier<Fiesta> open, InputStream in, OutputStream out) throws InterruptedException {
        try (Fiesta fiesta = open.get()) {
            BriefServer server = new BriefServer(fiesta);
            Launcher<LanguageClient> launcher = LSPLauncher.createServerLauncher(server, in, out);
            server.texts.tells(launcher.getRemoteProxy());
            server.commands.tells(launcher.getRemoteProxy());
            Future<Void> listening = launcher.startListening();
            CompletableFuture<Boolean> gone = CompletableFuture.supplyAsync(() -> {
                try {
                    listening.get();
                } catch (InterruptedException | ExecutionException e) {
                    // gone, however that came
                }
                return false;
            });
            boolean well = (boolean) CompletableFuture.anyOf(server.ended, gone).get();
            server.documents.end();
            server.texts.end();
            server.commands.end();
            return well || server.told;
        } catch (ExecutionException e) {
            return false;
        }
    }

    private void inputsKnown() {
        texts.tellAll();
    }

    @Override
    public CompletableFuture<InitializeResult> initialize(InitializeParams params) {
        ServerCapabilities can = new ServerCapabilities();
        can.setTextDocumentSync(TextDocumentSyncKind.Incremental);
        can.setCompletionProvider(new CompletionOptions(false, List.of(":", "'", "/", ".", "=")));
        can.setHoverProvider(true);
        can.setSignatureHelpProvider(new SignatureHelpOptions(List.of("(", ",")));
        can.setDefinitionProvider(true);
        can.setReferencesProvider(true);
        can.setDocumentHighlightProvider(true);
        can.setRenameProvider(new RenameOptions(true));
        can.setDocumentSymbolProvider(true);
        can.setFoldingRangeProvider(true);
        can.setDocumentFormattingProvider(true);
        can.setCodeActionProvider(new CodeActionOptions(List.of(CodeActionKind.QuickFix)));
        can.setCodeLensProvider(new CodeLensOptions(false));
        can.setSemanticTokensProvider(new SemanticTokensWithRegistrationOptions(SemanticWords.LEGEND, true));
        can.setExecuteCommandProvider(new ExecuteCommandOptions(CommandService.COMMANDS));
        texts.knows(params.getCapabilities());
        return CompletableFuture.completedFuture(new InitializeResult(can, new ServerInfo("fiesta", Fiesta.version())));
    }

    @Override
    public CompletableFuture<Object> shutdown() {
        told = true;
        return CompletableFuture.completedFuture(null);
    }

    @Override
    public void exit() {
        ended.complete(told);
    }

    @Override
    public void setTrace(SetTraceParams params) {
        // nothing is traced
    }

    @Override
    public TextDocumentService getTextDocumentService() {
        return texts;
    }

    @Override
    public WorkspaceService getWorkspaceService() {
        return commands;
    }
}
