package dev.fiesta.cli.editor;

import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Predicate;
import org.eclipse.lsp4j.ClientCapabilities;
import org.eclipse.lsp4j.CompletionCapabilities;
import org.eclipse.lsp4j.CompletionItemCapabilities;
import org.eclipse.lsp4j.Diagnostic;
import org.eclipse.lsp4j.DidChangeTextDocumentParams;
import org.eclipse.lsp4j.DidOpenTextDocumentParams;
import org.eclipse.lsp4j.InitializeParams;
import org.eclipse.lsp4j.InitializeResult;
import org.eclipse.lsp4j.InitializedParams;
import org.eclipse.lsp4j.MessageActionItem;
import org.eclipse.lsp4j.MessageParams;
import org.eclipse.lsp4j.Position;
import org.eclipse.lsp4j.PublishDiagnosticsParams;
import org.eclipse.lsp4j.ShowMessageRequestParams;
import org.eclipse.lsp4j.TextDocumentClientCapabilities;
import org.eclipse.lsp4j.TextDocumentContentChangeEvent;
import org.eclipse.lsp4j.TextDocumentIdentifier;
import org.eclipse.lsp4j.TextDocumentItem;
import org.eclipse.lsp4j.VersionedTextDocumentIdentifier;
import org.eclipse.lsp4j.jsonrpc.Launcher;
import org.eclipse.lsp4j.launch.LSPLauncher;
import org.eclipse.lsp4j.services.LanguageClient;
import org.eclipse.lsp4j.services.LanguageServer;

/** An editor: the client side of the protocol, with the command as a process of its own. */
final class Editor implements LanguageClient {
    private static final long LONGEST = 30;

    final Process process;
    final LanguageServer server;
    final InitializeResult capabilities;
    final List<String> logged = new ArrayList<>();
    private final Map<String, List<Diagnostic>> problems = new ConcurrentHashMap<>();
    private int version = 1;

    Editor(Path errors) throws Exception {
        String java = Path.of(System.getProperty("java.home"), "bin", "java").toString();
        process = new ProcessBuilder(
                        java,
                        "-cp",
                        System.getProperty("java.class.path"),
                        "dev.fiesta.cli.Main",
                        "language-server",
                        "--stdio")
                .redirectError(errors.toFile())
                .start();
        Launcher<LanguageServer> launcher =
                LSPLauncher.createClientLauncher(this, process.getInputStream(), process.getOutputStream());
        launcher.startListening();
        server = launcher.getRemoteProxy();
        InitializeParams params = new InitializeParams();
        CompletionCapabilities completion = new CompletionCapabilities(new CompletionItemCapabilities(true));
        TextDocumentClientCapabilities texts = new TextDocumentClientCapabilities();
        texts.setCompletion(completion);
        params.setCapabilities(new ClientCapabilities(null, texts, null));
        capabilities = get(server.initialize(params));
        server.initialized(new InitializedParams());
    }

    static <T> T get(CompletableFuture<T> answer) throws InterruptedException, TimeoutException, ExecutionException {
        return answer.get(LONGEST, TimeUnit.SECONDS);
    }

    /** Opens a brief as its file has it. */
    String open(Path brief) throws IOException {
        String uri = brief.toUri().toString();
        problems.remove(uri);
        server.getTextDocumentService()
                .didOpen(new DidOpenTextDocumentParams(
                        new TextDocumentItem(uri, "fiesta", version, Files.readString(brief))));
        return uri;
    }

    /** Types over the whole text. */
    void type(String uri, String text) {
        change(uri, new TextDocumentContentChangeEvent(text));
    }

    void change(String uri, TextDocumentContentChangeEvent change) {
        problems.remove(uri);
        server.getTextDocumentService()
                .didChange(new DidChangeTextDocumentParams(
                        new VersionedTextDocumentIdentifier(uri, ++version), List.of(change)));
    }

    /** What is told to be wrong, once it is what is waited for. */
    List<Diagnostic> problems(String uri, Predicate<List<Diagnostic>> wanted) throws InterruptedException {
        long end = System.nanoTime() + Duration.ofSeconds(LONGEST).toNanos();
        while (System.nanoTime() < end) {
            List<Diagnostic> told = problems.get(uri);
            if (told != null && wanted.test(told)) {
                return told;
            }
            Thread.sleep(10);
        }
        throw new AssertionError("told was " + problems.get(uri));
    }

    static TextDocumentIdentifier id(String uri) {
        return new TextDocumentIdentifier(uri);
    }

    /** Where a mark stands in a text. */
    static Position at(String text, String mark) {
        int offset = text.indexOf(mark);
        if (offset < 0) {
            throw new AssertionError("no " + mark);
        }
        return new TextPositions(text).of(offset);
    }

    static Path file(String uri) {
        return Path.of(URI.create(uri));
    }

    @Override
    public void publishDiagnostics(PublishDiagnosticsParams params) {
        problems.put(params.getUri(), params.getDiagnostics());
    }

    @Override
    public void telemetryEvent(Object object) {
        throw new AssertionError("nothing is gathered");
    }

    @Override
    public void showMessage(MessageParams params) {
        logMessage(params);
    }

    @Override
    public CompletableFuture<MessageActionItem> showMessageRequest(ShowMessageRequestParams params) {
        return new CompletableFuture<>();
    }

    @Override
    public synchronized void logMessage(MessageParams params) {
        logged.add(params.getMessage());
    }

    /** Ends the server as the protocol wants it. */
    void close() throws Exception {
        if (process.isAlive()) {
            get(server.shutdown());
            server.exit();
            if (!process.waitFor(LONGEST, TimeUnit.SECONDS)) {
                process.destroyForcibly();
                throw new AssertionError("the server did not end");
            }
        }
    }
}
