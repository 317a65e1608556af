package dev.fiesta.cli;

import static dev.fiesta.editing.Candidate.Kind.FUNCTION;

import dev.fiesta.Fiesta;
import dev.fiesta.StepLook;
import dev.fiesta.Table;
import dev.fiesta.cli.options.Common;
import dev.fiesta.cli.options.Failures;
import dev.fiesta.cli.options.Reading;
import dev.fiesta.cli.options.Window;
import dev.fiesta.editing.KnownInput;
import dev.fiesta.language.Keywords;
import dev.fiesta.language.Printer;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.SurveyView;
import dev.fiesta.report.Terminal;
import dev.fiesta.source.files.Paths;
import dev.fiesta.survey.Survey;
import dev.fiesta.value.Texts;
import java.io.BufferedReader;
import java.io.IOError;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.function.Supplier;
import java.util.logging.Level;
import java.util.logging.Logger;
import org.jline.reader.Candidate;
import org.jline.reader.EOFError;
import org.jline.reader.EndOfFileException;
import org.jline.reader.LineReader;
import org.jline.reader.LineReaderBuilder;
import org.jline.reader.ParsedLine;
import org.jline.reader.Parser;
import org.jline.reader.UserInterruptException;
import org.jline.reader.impl.DefaultParser;
import org.jline.terminal.TerminalBuilder;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code fiesta try}: a session in which a brief is made clause by clause. */
@Command(
        name = "try",
        description =
                "A session: try clause after clause, see what each leaves, go back, and save what is good as a brief.",
        mixinStandardHelpOptions = true,
        footer = {
            "",
            "Example:",
            "  fiesta try 'sales-*.csv'",
            "  only status = 'settled'",
            "  per site",
            "  give takings = sum(amount)",
            "  save takings.brief",
            "",
            "Without a terminal, clauses are read from standard input, a line each."
        })
final class TryCommand implements Callable<Integer> {
    private static final Logger READER_LOG = Logger.getLogger("org.jline");

    /** Files of more bytes are looked at in a sample. */
    private static final long LARGE = 64L << 20;

    private static final int MOST_FAILURES = 5;
    private static final int MOST_ROWS = 40;

    @Spec
    private CommandSpec spec;

    @Mixin
    private Common common;

    @Mixin
    private Reading reading;

    @Option(names = "--all", description = "Work on all records from the start, however large the files are.")
    private boolean all;

    @Parameters(arity = "1..*", paramLabel = "FILE", description = "Files or globs, as the brief is to name them.")
    private List<String> files = new ArrayList<>();

    /** Gives line after line; null at the end. */
    private interface Lines {
        @Nullable
        String next(Session session) throws IOException;
    }

    @Override
    public Integer call() throws IOException {
        if (files.contains("-")) {
            throw new RequestException("A session reads its files again and again; standard input comes but once.");
        }
        PrintWriter err = spec.commandLine().getErr();
        try (Fiesta fiesta = common.open(err)) {
            String name = DraftCommand.name(files.get(0));
            StringBuilder input = new StringBuilder("input " + Printer.name(name) + " from");
            files.forEach(f -> input.append(' ').append(Printer.text(f)));
            if (!reading.options().isBlank()) {
                input.append("\n  ").append(reading.options().strip());
            }
            boolean sampling = !all && bytes() > LARGE;
            Session session = new Session(fiesta, Path.of(""), name, input.toString(), sampling);
            boolean typed = Window.isTerminal("in") && Window.isTerminal("out");
            return typed ? atTerminal(session, fiesta) : scripted(session);
        }
    }

    private long bytes() {
        long sum = 0;
        for (String file : files) {
            for (Paths.Named found : Paths.find(Path.of(""), file)) {
                sum += found.path().toFile().length();
            }
        }
        return sum;
    }

    private int scripted(Session session) throws IOException {
        BufferedReader in = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
        PrintWriter out = spec.commandLine().getOut();
        boolean[] failed = {false};
        Lines lines = s -> {
            String line = in.readLine();
            if (line != null) {
                out.println("> " + Texts.printable(line));
            }
            return line;
        };
        run(session, lines, Window.terminal("en-IE", common.colour, MOST_ROWS), out, failed);
        return failed[0] ? Failures.BRIEF : 0;
    }

    private int atTerminal(Session session, Fiesta fiesta) throws IOException {
        READER_LOG.setLevel(Level.OFF); // lines that cannot be kept, on a full disk, are no matter of the session
        try (org.jline.terminal.Terminal terminal =
                TerminalBuilder.builder().provider("exec").system(true).build()) {
            LineReader reader = LineReaderBuilder.builder()
                    .terminal(terminal)
                    .appName("fiesta")
                    .parser(new Clauses())
                    .completer((line, word, found) -> complete(session, word, found))
                    .variable(LineReader.HISTORY_FILE, History.file())
                    .variable(LineReader.SECONDARY_PROMPT_PATTERN, "      ")
                    .option(LineReader.Option.DISABLE_EVENT_EXPANSION, true)
                    .build();
            PrintWriter out = terminal.writer();
            begin(fiesta, session, out);
            Thread main = Thread.currentThread();
            terminal.handle(org.jline.terminal.Terminal.Signal.INT, s -> main.interrupt());
            Lines lines = s -> line(reader, s);
            run(session, lines, Window.terminal("en-IE", common.colour, MOST_ROWS), out, new boolean[1]);
        }
        return 0;
    }

    private static @Nullable String line(LineReader reader, Session session) {
        return typed(() -> reader.readLine(session.isSampling() ? "(sample) > " : "> "));
    }

    /**
     * A line as it is typed; an interrupt throws it away, an end ends the session. An interrupt may also reach the program that sets the
     * terminal before and behind a line, which is no end of the session either.
     *
     * @param read reads a line
     * @return null at the end
     * @throws IOError when the terminal cannot be set however often it is tried
     */
    static @Nullable String typed(Supplier<String> read) {
        int failed = 0;
        while (true) {
            try {
                return read.get();
            } catch (UserInterruptException e) {
                Thread.interrupted();
            } catch (EndOfFileException e) {
                return null;
            } catch (IOError e) {
                Thread.interrupted();
                if (++failed == MOST_FAILURES) {
                    throw e;
                }
            }
        }
    }

    /** What may stand where somebody types; each begins with what stands before it up to a blank, as the reader of lines wants it. */
    private static void complete(Session session, ParsedLine line, List<Candidate> found) {
        String typed = line.line().substring(0, line.cursor());
        int from = typed.length() - line.wordCursor();
        boolean begun = !typed.isEmpty() && Character.isLetter(typed.charAt(typed.length() - 1));
        for (var candidate : session.candidates(typed)) {
            int start = candidate.replaces().start();
            boolean tooMany = !begun && candidate.kind() == FUNCTION;
            if (start >= from && !tooMany) {
                String words = candidate.begun().stripTrailing();
                boolean whole = !words.endsWith("(") && !words.endsWith("/");
                found.add(new Candidate(
                        typed.substring(from, start) + words,
                        candidate.label(),
                        null,
                        null,
                        null,
                        null,
                        whole,
                        found.size()));
            }
        }
        if (typed.isBlank() || typed.matches("\\p{L}+")) {
            Session.COMMANDS.keySet().forEach(c -> found.add(new Candidate(c)));
        }
    }

    /** What came in, a line for each field. */
    private void begin(Fiesta fiesta, Session session, PrintWriter out) {
        boolean sampling = session.isSampling();
        Table table = reading.table(fiesta, files);
        Survey survey = (sampling ? table.sample(Session.SAMPLED + " seed 1") : table).survey();
        common.endProgress();
        session.knows(DraftCommand.name(files.get(0)), KnownInput.of(survey));
        StringWriter whole = new StringWriter();
        PrintWriter view = new PrintWriter(whole);
        new SurveyView(String.join(" ", files) + (sampling ? ", a sample" : ""), survey)
                .print(Window.size(common.colour).width(), false, view);
        view.flush();
        whole.toString()
                .lines()
                .takeWhile(l -> !l.equals(SurveyView.WORTH_A_LOOK))
                .filter(l -> !l.isBlank() && !l.startsWith(" "))
                .forEach(out::println);
        out.println();
        out.println("Clauses are tried as they are typed. help tells more, Ctrl-D ends.");
        out.flush();
    }

    private void run(Session session, Lines lines, Terminal terminal, PrintWriter out, boolean[] failed)
            throws IOException {
        StringBuilder text = new StringBuilder();
        String line;
        while ((line = lines.next(session)) != null) {
            text.append(text.isEmpty() ? "" : "\n").append(line);
            if (Session.goesOn(text.toString())) {
                continue;
            }
            String whole = text.toString();
            text.setLength(0);
            for (String one : parted(whole)) {
                if (!one.isBlank() && !one.strip().startsWith("#") && !taken(session, one, terminal, out, failed)) {
                    return;
                }
            }
        }
    }

    /** Several lines that were pasted at once, parted where one does not go on with the next. */
    private static List<String> parted(String text) {
        List<String> all = new ArrayList<>();
        StringBuilder one = new StringBuilder();
        for (String line : text.split("\n")) {
            one.append(one.isEmpty() ? "" : "\n").append(line);
            if (!Session.goesOn(one.toString())) {
                all.add(one.toString());
                one.setLength(0);
            }
        }
        if (!one.isEmpty()) {
            all.add(one.toString());
        }
        return all;
    }

    /** Takes one line; false at the end. */
    private boolean taken(Session session, String line, Terminal terminal, PrintWriter out, boolean[] failed) {
        try {
            Session.Answer answer = session.take(line);
            common.endProgress();
            if (answer instanceof Session.Answer.End) {
                return false;
            }
            show(answer, terminal, out);
        } catch (FiestaException e) {
            common.endProgress();
            Thread.interrupted(); // what was stopped is stopped; the session goes on
            failed[0] = true;
            out.println(Texts.printable(e.getMessage()));
            out.println();
        }
        out.flush();
        return true;
    }

    private static void show(Session.Answer answer, Terminal terminal, PrintWriter out) {
        if (answer instanceof Session.Answer.Step step) {
            terminal.step(step.look(), step.before(), out);
            List<String> known = step.before() == null ? List.of() : notes(step.before());
            notes(step.look()).stream().filter(n -> !known.contains(n)).forEach(out::println);
        } else if (answer instanceof Session.Answer.Rows rows) {
            terminal.table(rows.rows(), "", 0, out);
            out.println();
        } else if (answer instanceof Session.Answer.Drawn drawn) {
            terminal.chart(drawn.chart(), drawn.rows(), out);
            out.println();
        } else if (answer instanceof Session.Answer.Said said) {
            out.print(said.text().isEmpty() || said.text().endsWith("\n") ? said.text() : said.text() + "\n");
        } else if (answer instanceof Session.Answer.Help help) {
            if (help.word().isEmpty()) {
                out.println("A line is a clause, tried at once, or one of these:");
                Session.COMMANDS.forEach((word, does) -> out.printf("  %-10s %s%n", word, does));
                out.println("Clauses: " + String.join(", ", Keywords.CLAUSES));
            } else {
                Main.run(out, out, "help", help.word());
            }
        }
    }

    /** What was counted on the way to what stands; what the step before has told is told once. */
    private static List<String> notes(StepLook look) {
        return look.first().notices().list().stream()
                .map(n -> Texts.printable("Note: " + n.text() + "."))
                .toList();
    }

    /** Lets a line be typed on where it is not at its end. */
    private static final class Clauses extends DefaultParser {
        Clauses() {
            setEscapeChars(new char[0]);
            setQuoteChars(new char[0]);
        }

        @Override
        public ParsedLine parse(String line, int cursor, Parser.ParseContext context) {
            if (context == Parser.ParseContext.ACCEPT_LINE && Session.goesOn(line)) {
                throw new EOFError(-1, -1, "the line goes on");
            }
            return super.parse(line, cursor, context);
        }
    }
}
