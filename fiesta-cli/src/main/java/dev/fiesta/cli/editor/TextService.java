package dev.fiesta.cli.editor;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.editing.Candidate;
import dev.fiesta.editing.Explanation;
import dev.fiesta.editing.OpenCall;
import dev.fiesta.editing.UnfinishedBrief;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Problem;
import dev.fiesta.problem.RequestException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import org.eclipse.lsp4j.ClientCapabilities;
import org.eclipse.lsp4j.CodeAction;
import org.eclipse.lsp4j.CodeActionParams;
import org.eclipse.lsp4j.CodeLens;
import org.eclipse.lsp4j.CodeLensParams;
import org.eclipse.lsp4j.Command;
import org.eclipse.lsp4j.CompletionItem;
import org.eclipse.lsp4j.CompletionItemKind;
import org.eclipse.lsp4j.CompletionList;
import org.eclipse.lsp4j.CompletionParams;
import org.eclipse.lsp4j.DefinitionParams;
import org.eclipse.lsp4j.Diagnostic;
import org.eclipse.lsp4j.DiagnosticSeverity;
import org.eclipse.lsp4j.DidChangeTextDocumentParams;
import org.eclipse.lsp4j.DidCloseTextDocumentParams;
import org.eclipse.lsp4j.DidOpenTextDocumentParams;
import org.eclipse.lsp4j.DidSaveTextDocumentParams;
import org.eclipse.lsp4j.DocumentFormattingParams;
import org.eclipse.lsp4j.DocumentHighlight;
import org.eclipse.lsp4j.DocumentHighlightParams;
import org.eclipse.lsp4j.DocumentSymbol;
import org.eclipse.lsp4j.DocumentSymbolParams;
import org.eclipse.lsp4j.FoldingRange;
import org.eclipse.lsp4j.FoldingRangeRequestParams;
import org.eclipse.lsp4j.Hover;
import org.eclipse.lsp4j.HoverParams;
import org.eclipse.lsp4j.InsertTextFormat;
import org.eclipse.lsp4j.Location;
import org.eclipse.lsp4j.LocationLink;
import org.eclipse.lsp4j.MarkupContent;
import org.eclipse.lsp4j.MarkupKind;
import org.eclipse.lsp4j.PrepareRenameDefaultBehavior;
import org.eclipse.lsp4j.PrepareRenameParams;
import org.eclipse.lsp4j.PrepareRenameResult;
import org.eclipse.lsp4j.PublishDiagnosticsParams;
import org.eclipse.lsp4j.Range;
import org.eclipse.lsp4j.ReferenceParams;
import org.eclipse.lsp4j.RenameParams;
import org.eclipse.lsp4j.SemanticTokens;
import org.eclipse.lsp4j.SemanticTokensParams;
import org.eclipse.lsp4j.SignatureHelp;
import org.eclipse.lsp4j.SignatureHelpParams;
import org.eclipse.lsp4j.SignatureInformation;
import org.eclipse.lsp4j.SymbolInformation;
import org.eclipse.lsp4j.TextDocumentContentChangeEvent;
import org.eclipse.lsp4j.TextDocumentIdentifier;
import org.eclipse.lsp4j.TextEdit;
import org.eclipse.lsp4j.WorkspaceEdit;
import org.eclipse.lsp4j.jsonrpc.ResponseErrorException;
import org.eclipse.lsp4j.jsonrpc.messages.Either;
import org.eclipse.lsp4j.jsonrpc.messages.Either3;
import org.eclipse.lsp4j.jsonrpc.messages.ResponseError;
import org.eclipse.lsp4j.jsonrpc.messages.ResponseErrorCode;
import org.eclipse.lsp4j.services.LanguageClient;
import org.eclipse.lsp4j.services.TextDocumentService;
import org.jspecify.annotations.Nullable;

/** Answers what an editor asks about a text: {@link UnfinishedBrief}, in the words of the protocol. */
final class TextService implements TextDocumentService {
    /** So long nothing is said after a change: somebody is typing. */
    private static final long PAUSE = 120;

    private final Documents documents;
    private final NameAnswers names;
    private final Offers offers;
    private final Map<String, ScheduledFuture<?>> waiting = new HashMap<>();
    private final ScheduledExecutorService later = Executors.newSingleThreadScheduledExecutor(run -> {
        Thread thread = new Thread(run, "fiesta-problems");
        thread.setDaemon(true);
        return thread;
    });
    /** What the editor shows, so that the same is not told again. */
    private final Map<String, List<Diagnostic>> told = new ConcurrentHashMap<>();

    private @Nullable LanguageClient client;
    private boolean snippets;

    TextService(Documents documents) {
        this.documents = documents;
        this.names = new NameAnswers(documents);
        this.offers = new Offers(documents);
    }

    void tells(LanguageClient editor) {
        client = editor;
    }

    void knows(@Nullable ClientCapabilities can) {
        snippets = can != null
                && can.getTextDocument() != null
                && can.getTextDocument().getCompletion() != null
                && can.getTextDocument().getCompletion().getCompletionItem() != null
                && Boolean.TRUE.equals(can.getTextDocument()
                        .getCompletion()
                        .getCompletionItem()
                        .getSnippetSupport());
    }

    void end() {
        later.shutdownNow();
    }

    @Override
    public void didOpen(DidOpenTextDocumentParams params) {
        String uri = params.getTextDocument().getUri();
        documents.put(uri, params.getTextDocument().getText());
        tellLater(uri, 0);
    }

    @Override
    public void didChange(DidChangeTextDocumentParams params) {
        String uri = params.getTextDocument().getUri();
        String text = documents.text(uri);
        for (TextDocumentContentChangeEvent change : params.getContentChanges()) {
            text = changed(text, change);
        }
        documents.put(uri, text);
        told.remove(uri);
        tellLater(uri, PAUSE);
    }

    private static String changed(String text, TextDocumentContentChangeEvent change) {
        if (change.getRange() == null) {
            return change.getText();
        }
        TextPositions positions = new TextPositions(text);
        int start = positions.offset(change.getRange().getStart());
        int end = Math.max(start, positions.offset(change.getRange().getEnd()));
        return text.substring(0, start) + change.getText() + text.substring(end);
    }

    @Override
    public void didClose(DidCloseTextDocumentParams params) {
        String uri = params.getTextDocument().getUri();
        documents.close(uri);
        told.remove(uri);
        if (client != null) {
            client.publishDiagnostics(new PublishDiagnosticsParams(uri, List.of()));
        }
    }

    @Override
    public void didSave(DidSaveTextDocumentParams params) {
        documents.again();
        tellAll();
    }

    /** Tells what is wrong with all that is open. */
    void tellAll() {
        documents.uris().forEach(uri -> tellLater(uri, 0));
    }

    private synchronized void tellLater(String uri, long pause) {
        ScheduledFuture<?> before = waiting.get(uri);
        if (before != null) {
            before.cancel(false);
        }
        try {
            waiting.put(uri, later.schedule(() -> tell(uri), pause, TimeUnit.MILLISECONDS));
        } catch (RejectedExecutionException ended) {
            waiting.clear();
        }
    }

    private void tell(String uri) {
        if (client == null || !documents.uris().contains(uri)) {
            return;
        }
        Documents.Document document = documents.get(uri);
        List<Diagnostic> all = new ArrayList<>();
        for (Documents.Wrong wrong : documents.wrong(document)) {
            Problem problem = wrong.problem();
            String way = problem.suggestion() == null ? "" : "\n" + problem.suggestion();
            all.add(new Diagnostic(
                    document.positions().of(problem), problem.message() + way, DiagnosticSeverity.Error, "fiesta"));
        }
        if (!all.equals(told.put(uri, all))) {
            client.publishDiagnostics(new PublishDiagnosticsParams(uri, all));
        }
    }

    private Documents.Document document(TextDocumentIdentifier id) {
        return documents.get(id.getUri());
    }

    private static <T> CompletableFuture<T> now(@Nullable T answer) {
        return CompletableFuture.completedFuture(answer);
    }

    @Override
    public CompletableFuture<Either<List<CompletionItem>, CompletionList>> completion(CompletionParams params) {
        Documents.Document document = document(params.getTextDocument());
        int offset = document.positions().offset(params.getPosition());
        List<Candidate> candidates = document.brief().candidates(offset);
        List<CompletionItem> items = new ArrayList<>();
        for (int i = 0; i < candidates.size(); i++) {
            items.add(item(candidates.get(i), i, document.positions()));
        }
        return now(Either.forLeft(items));
    }

    private CompletionItem item(Candidate candidate, int rank, TextPositions positions) {
        CompletionItem item = new CompletionItem(candidate.label());
        String words = candidate.begun();
        if (words.length() < candidate.words().length() && snippets) {
            String behind = candidate.words().substring(candidate.cursor());
            words = asInSnippet(words) + "$0" + asInSnippet(behind);
            item.setInsertTextFormat(InsertTextFormat.Snippet);
        }
        item.setTextEdit(Either.forLeft(new TextEdit(positions.of(candidate.replaces()), words)));
        item.setFilterText(
                candidate.kind() == Candidate.Kind.VALUE || candidate.kind() == Candidate.Kind.FILE
                        ? candidate.words()
                        : candidate.label());
        item.setSortText(String.format(Locale.ROOT, "%04d", rank));
        item.setDetail(candidate.detail());
        if (!candidate.about().isEmpty()) {
            item.setDocumentation(candidate.about());
        }
        item.setKind(
                switch (candidate.kind()) {
                    case VALUE -> CompletionItemKind.Value;
                    case FIELD -> CompletionItemKind.Field;
                    case TABLE -> CompletionItemKind.Class;
                    case PARAMETER -> CompletionItemKind.Variable;
                    case FILE -> CompletionItemKind.File;
                    case TYPE -> CompletionItemKind.TypeParameter;
                    case FORMAT -> CompletionItemKind.EnumMember;
                    case WORD, CLAUSE -> CompletionItemKind.Keyword;
                    case FUNCTION -> CompletionItemKind.Function;
                });
        return item;
    }

    /** Words in which nothing is a place to go on typing, whatever signs data put into them. */
    private static String asInSnippet(String words) {
        return words.replaceAll("([\\\\$}])", "\\\\$1");
    }

    @Override
    public CompletableFuture<Hover> hover(HoverParams params) {
        Documents.Document document = document(params.getTextDocument());
        Explanation told = document.brief().explanation(document.positions().offset(params.getPosition()));
        if (told == null) {
            return now(null);
        }
        StringBuilder text =
                new StringBuilder("```fiesta\n").append(told.head()).append("\n```\n");
        told.lines().forEach(l -> text.append('\n').append(escaped(l)).append('\n'));
        MarkupContent content = new MarkupContent(MarkupKind.MARKDOWN, text.toString());
        return now(new Hover(content, document.positions().of(told.at())));
    }

    /** What means something in Markdown, as it is written. */
    private static String escaped(String text) {
        return text.replaceAll("([\\\\`*_{}\\[\\]<>#|])", "\\\\$1");
    }

    @Override
    public CompletableFuture<SignatureHelp> signatureHelp(SignatureHelpParams params) {
        Documents.Document document = document(params.getTextDocument());
        OpenCall call = document.brief().call(document.positions().offset(params.getPosition()));
        if (call == null) {
            return now(null);
        }
        Entry function = call.function();
        SignatureInformation signature = new SignatureInformation(function.usage(), function.about(), List.of());
        return now(new SignatureHelp(List.of(signature), 0, call.argument()));
    }

    @Override
    public CompletableFuture<List<Either<SymbolInformation, DocumentSymbol>>> documentSymbol(
            DocumentSymbolParams params) {
        List<Either<SymbolInformation, DocumentSymbol>> symbols = new ArrayList<>();
        Outline.symbols(document(params.getTextDocument())).forEach(s -> symbols.add(Either.forRight(s)));
        return now(symbols);
    }

    @Override
    public CompletableFuture<List<FoldingRange>> foldingRange(FoldingRangeRequestParams params) {
        return now(Outline.folds(document(params.getTextDocument())));
    }

    @Override
    public CompletableFuture<List<? extends TextEdit>> formatting(DocumentFormattingParams params) {
        Documents.Document document = document(params.getTextDocument());
        try {
            String laidOut = Parser.layOut(new BriefText(document.name(), document.text()));
            boolean same = laidOut.equals(document.text());
            Range all = document.positions().of(0, document.text().length());
            return now(same ? List.of() : List.of(new TextEdit(all, laidOut)));
        } catch (BriefException unfinished) {
            return now(List.of()); // what cannot be read is left as it is
        }
    }

    @Override
    public CompletableFuture<SemanticTokens> semanticTokensFull(SemanticTokensParams params) {
        return now(SemanticWords.of(document(params.getTextDocument())));
    }

    @Override
    public CompletableFuture<Either<List<? extends Location>, List<? extends LocationLink>>> definition(
            DefinitionParams params) {
        return now(Either.forLeft(names.definition(document(params.getTextDocument()), params.getPosition())));
    }

    @Override
    public CompletableFuture<List<? extends Location>> references(ReferenceParams params) {
        boolean definitions = params.getContext() == null || params.getContext().isIncludeDeclaration();
        return now(names.references(document(params.getTextDocument()), params.getPosition(), definitions));
    }

    @Override
    public CompletableFuture<List<? extends DocumentHighlight>> documentHighlight(DocumentHighlightParams params) {
        return now(names.highlights(document(params.getTextDocument()), params.getPosition()));
    }

    @Override
    public CompletableFuture<Either3<Range, PrepareRenameResult, PrepareRenameDefaultBehavior>> prepareRename(
            PrepareRenameParams params) {
        PrepareRenameResult name = names.renamable(document(params.getTextDocument()), params.getPosition());
        return now(name == null ? null : Either3.forSecond(name));
    }

    @Override
    public CompletableFuture<WorkspaceEdit> rename(RenameParams params) {
        try {
            return now(names.rename(document(params.getTextDocument()), params.getPosition(), params.getNewName()));
        } catch (RequestException e) {
            throw new ResponseErrorException(new ResponseError(ResponseErrorCode.RequestFailed, e.getMessage(), null));
        }
    }

    @Override
    public CompletableFuture<List<Either<Command, CodeAction>>> codeAction(CodeActionParams params) {
        return now(offers.fixes(document(params.getTextDocument()), params.getRange()));
    }

    @Override
    public CompletableFuture<List<? extends CodeLens>> codeLens(CodeLensParams params) {
        return now(Offers.lenses(document(params.getTextDocument())));
    }
}
