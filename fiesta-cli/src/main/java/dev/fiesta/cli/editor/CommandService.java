package dev.fiesta.cli.editor;

import com.google.gson.JsonElement;
import com.google.gson.JsonPrimitive;
import dev.fiesta.Behind;
import dev.fiesta.Brief;
import dev.fiesta.Cancellation;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Row;
import dev.fiesta.RunOptions;
import dev.fiesta.StepLook;
import dev.fiesta.Tables;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Clause;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.Reporting;
import dev.fiesta.report.Terminal;
import dev.fiesta.value.Texts;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.BiConsumer;
import org.eclipse.lsp4j.DidChangeConfigurationParams;
import org.eclipse.lsp4j.DidChangeWatchedFilesParams;
import org.eclipse.lsp4j.ExecuteCommandParams;
import org.eclipse.lsp4j.MessageParams;
import org.eclipse.lsp4j.MessageType;
import org.eclipse.lsp4j.services.LanguageClient;
import org.eclipse.lsp4j.services.WorkspaceService;
import org.jspecify.annotations.Nullable;

/** What an editor may ask to be worked out; each answer is a text, as on the terminal. */
final class CommandService implements WorkspaceService {
    /** Runs the brief: {@code [uri]}. */
    static final String RUN = "fiesta.run";
    /** Shows what a clause leaves: {@code [uri, offset]}. */
    static final String STEP = "fiesta.step";
    /** Shows the records behind the first row of a table: {@code [uri, table]}. */
    static final String BEHIND = "fiesta.behind";

    static final List<String> COMMANDS = List.of(RUN, STEP, BEHIND);

    private static final int WIDTH = 100;
    private static final int ROWS = 20;

    private final Fiesta fiesta;
    private final Documents documents;
    private @Nullable LanguageClient client;
    private final ExecutorService worker = Executors.newSingleThreadExecutor(run -> {
        Thread thread = new Thread(null, run, "fiesta-command", 64L << 20);
        thread.setDaemon(true);
        return thread;
    });

    CommandService(Fiesta fiesta, Documents documents) {
        this.fiesta = fiesta;
        this.documents = documents;
    }

    void tells(LanguageClient editor) {
        client = editor;
    }

    void end() {
        worker.shutdownNow();
    }

    @Override
    public CompletableFuture<Object> executeCommand(ExecuteCommandParams params) {
        Cancellation cancellation = new Cancellation();
        CompletableFuture<Object> answer = new CompletableFuture<>();
        answer.whenComplete((text, failure) -> {
            if (answer.isCancelled()) {
                cancellation.cancel();
            }
        });
        worker.execute(() -> {
            try {
                String text = told(params, cancellation);
                if (client != null) {
                    client.logMessage(new MessageParams(MessageType.Info, text));
                }
                answer.complete(text);
            } catch (RuntimeException | OutOfMemoryError e) {
                answer.completeExceptionally(e);
            }
        });
        return answer;
    }

    /** The answer, or why there is none. */
    private String told(ExecuteCommandParams params, Cancellation cancellation) {
        try {
            return fiesta.stoppable(RunOptions.usual().cancelledBy(cancellation), () -> worked(params));
        } catch (FiestaException e) {
            return e.getMessage();
        }
    }

    private String worked(ExecuteCommandParams params) {
        List<Object> arguments = params.getArguments() == null ? List.of() : params.getArguments();
        Documents.Document document = documents.get(text(arguments, 0));
        return switch (params.getCommand()) {
            case RUN -> run(document);
            case STEP -> step(document, (int) Double.parseDouble(text(arguments, 1)));
            case BEHIND -> behind(document, text(arguments, 1));
            default -> throw new RequestException("There is no command '" + params.getCommand() + "'.");
        };
    }

    private static String text(List<Object> arguments, int place) {
        if (arguments.size() <= place) {
            throw new RequestException("The command needs " + (place + 1) + " arguments.");
        }
        Object argument = arguments.get(place);
        return argument instanceof JsonElement json
                ? json instanceof JsonPrimitive primitive ? primitive.getAsString() : json.toString()
                : String.valueOf(argument);
    }

    private static Brief brief(Documents.Document document, String text) {
        Path folder = Documents.folder(document.path());
        return Brief.of(document.name(), text, folder == null ? Path.of("") : folder);
    }

    private String run(Documents.Document document) {
        Brief brief = brief(document, document.text());
        if (brief.tree().tables().isEmpty()) {
            throw new RequestException("There is nothing to run yet: the brief has no table.");
        }
        return printed(brief, (terminal, out) -> Reporting.of(brief).run(fiesta).print(terminal, out));
    }

    /** By the text alone: what inputs hold need not be known yet. */
    private String step(Documents.Document document, int offset) {
        for (BriefTree.TableDef table : document.brief().tree().tables()) {
            List<Clause> clauses = table.clauses().stream()
                    .filter(c ->
                            c.at().start() <= offset && offset <= table.at().end())
                    .toList();
            if (!clauses.isEmpty()) {
                return step(document, table.name().name(), clauses);
            }
        }
        throw new RequestException("Here stands no clause that can be worked out.");
    }

    /** What the last of some clauses leaves, beside what it was given. */
    private String step(Documents.Document document, String table, List<Clause> clauses) {
        int last = clauses.size() - 1;
        StepLook look = upTo(document, clauses.get(last)).trace().step(table, ROWS);
        StepLook before =
                last == 0 ? null : upTo(document, clauses.get(last - 1)).trace().step(table, ROWS);
        String written = document.brief().text().at(clauses.get(last).at());
        return written + "\n" + printed(brief(document, ""), (terminal, out) -> terminal.step(look, before, out));
    }

    /** The tables up to a clause, without what stands behind it. */
    private Tables upTo(Documents.Document document, Clause clause) {
        return brief(document, document.text().substring(0, clause.at().end())).tables(fiesta);
    }

    private String behind(Documents.Document document, String table) {
        Brief brief = brief(document, document.text());
        Tables tables = brief.tables(fiesta);
        StepLook look = tables.trace().step(table, 1);
        try (Result rows = look.first()) {
            List<String> keys = look.keys();
            if (keys == null) {
                throw new RequestException("The rows of '" + table + "' are records themselves.");
            }
            if (rows.rows() == 0) {
                throw new RequestException("'" + table + "' has no rows.");
            }
            Row first = rows.row(0);
            Map<String, String> told = new LinkedHashMap<>();
            keys.forEach(k -> told.put(k, Texts.key(first.get(k))));
            try (Result records =
                    tables.trace().behind(table, told, Behind.Part.ROW).records()) {
                return printed(brief, (terminal, out) -> terminal.table(records, told.toString(), ROWS, out));
            }
        }
    }

    private static String printed(Brief brief, BiConsumer<Terminal, PrintWriter> print) {
        StringWriter text = new StringWriter();
        try (PrintWriter out = new PrintWriter(text)) {
            print.accept(new Terminal(brief.locale(), WIDTH, ROWS, false), out);
        }
        return text.toString();
    }

    @Override
    public void didChangeConfiguration(DidChangeConfigurationParams params) {
        // there is nothing to be set
    }

    @Override
    public void didChangeWatchedFiles(DidChangeWatchedFilesParams params) {
        documents.again();
    }
}
