package dev.fiesta.cli;

import dev.fiesta.Behind;
import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Row;
import dev.fiesta.StepLook;
import dev.fiesta.Table;
import dev.fiesta.Tables;
import dev.fiesta.editing.Candidate;
import dev.fiesta.editing.KnownInput;
import dev.fiesta.editing.UnfinishedBrief;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Keywords;
import dev.fiesta.language.Parser;
import dev.fiesta.language.Printer;
import dev.fiesta.language.Span;
import dev.fiesta.output.OutputFile;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Problem;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.Reporting;
import dev.fiesta.value.Texts;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * A brief made clause by clause: what stands so far, what a clause would leave, one step back and one forward. Large inputs are looked at in a sample,
 * until all is asked for; what is saved is the brief, which runs over the whole.
 */
final class Session {
    /** Words that begin a line which is no clause, each with what it does. */
    static final Map<String, String> COMMANDS = new LinkedHashMap<>();

    static {
        COMMANDS.put("back", "take the last step away");
        COMMANDS.put("forward", "bring it back");
        COMMANDS.put("table", "table NAME: name what stands, and start on from it");
        COMMANDS.put("input", "a further input, as in a brief");
        COMMANDS.put("parameter", "a parameter, as in a brief");
        COMMANDS.put("behind", "behind N: the records behind row N");
        COMMANDS.put("show", "show N: the first N rows of what stands");
        COMMANDS.put("chart", "chart KIND x FIELD y FIELD: draw what stands, bars, columns, lines or points");
        COMMANDS.put("all", "work on all records, not on a sample");
        COMMANDS.put("brief", "print the brief so far");
        COMMANDS.put("save", "save FILE: write it");
        COMMANDS.put("help", "help WORD: a clause, a function, any word");
        COMMANDS.put("quit", "end");
    }

    private static final String RESULT = "result";
    private static final int FIRST_ROWS = 5;
    /** So many records of a large input are looked at. */
    static final int SAMPLED = 100_000;

    /** What a line came to. */
    sealed interface Answer {
        /** A step was taken: what it left, and what stood before it. */
        record Step(StepLook look, @Nullable StepLook before) implements Answer {}

        /** Records behind a row, or more rows of what stands. */
        record Rows(Result rows) implements Answer {}

        /** What stands, to be drawn. */
        record Drawn(BriefTree.Chart chart, Result rows) implements Answer {}

        /** Something to be said. */
        record Said(String text) implements Answer {}

        /** A word that help is asked for; empty for all. */
        record Help(String word) implements Answer {}

        /** The end. */
        record End() implements Answer {}
    }

    private final Fiesta fiesta;
    private final Path folder;
    private final Map<String, Table> samples = new HashMap<>();
    private final Map<String, KnownInput> known = new HashMap<>();
    private final Deque<SessionState> past = new ArrayDeque<>();
    private final Deque<SessionState> future = new ArrayDeque<>();
    private SessionState state;
    private boolean sampling;
    /** What was looked at, so that going back works nothing out. */
    private final Map<SessionState, StepLook> looks = new HashMap<>();

    /**
     * @param folder where paths start
     * @param name of the input
     * @param input as a brief has it
     * @param sampling whether a sample is looked at until all is asked for
     */
    Session(Fiesta fiesta, Path folder, String name, String input, boolean sampling) {
        this.fiesta = fiesta;
        this.folder = folder;
        this.sampling = sampling;
        this.state = new SessionState(List.of(input), List.of(), name, List.of());
    }

    boolean isSampling() {
        return sampling;
    }

    /** Whether a line goes on with the next: a bracket is open, or a comma stands at its end. */
    static boolean goesOn(String text) {
        int open = 0;
        char quote = 0;
        for (char c : text.toCharArray()) {
            if (quote != 0) {
                quote = c == quote || c == '\n' ? 0 : quote;
            } else if (c == '\'' || c == '"') {
                quote = c;
            } else {
                open += c == '(' ? 1 : c == ')' ? -1 : 0;
            }
        }
        return open > 0 || text.strip().endsWith(",");
    }

    /**
     * Takes a line: a clause or a command. What cannot be right leaves everything as it was.
     *
     * @throws dev.fiesta.problem.FiestaException when it cannot be right
     */
    Answer take(String written) {
        String line = written.strip();
        String word = line.replaceFirst("(?s)[^\\p{L}].*$", "");
        String rest = line.substring(word.length()).strip();
        return switch (word) {
            case "back" -> back();
            case "forward" -> forward();
            case "table" -> name(rest);
            case "input", "parameter" -> {
                SessionState next = state.head(line);
                tables(next);
                go(next);
                yield new Answer.Said("");
            }
            case "behind" -> new Answer.Rows(behind(rest));
            case "show" -> new Answer.Rows(shown(number(rest)));
            case "chart" -> chart(rest);
            case "all" -> all();
            case "brief" -> new Answer.Said(brief(state));
            case "save" -> save(rest);
            case "help" -> new Answer.Help(rest);
            case "quit", "exit" -> new Answer.End();
            case "give", "against" -> step(continued(line));
            default -> {
                if (!Keywords.CLAUSES.contains(word)) {
                    Parser.clauses(new BriefText("line", line)); // says what a clause begins with
                }
                yield step(added(line));
            }
        };
    }

    /** A chart as in a report, of what stands. */
    private Answer chart(String rest) {
        String kind = rest.replaceFirst("(?s)\\s.*$", "");
        String piece = "report\n  chart " + kind + " " + SessionState.CURRENT + rest.substring(kind.length());
        try {
            Brief brief = Brief.of("session", state.text(true) + piece, folder);
            Tables tables = tables(state);
            List<Problem> wrong = Reporting.of(brief).problems(tables);
            if (!wrong.isEmpty()) {
                throw new BriefException(wrong);
            }
            BriefTree.Chart chart = (BriefTree.Chart)
                    Objects.requireNonNull(brief.tree().report()).get(0);
            return new Answer.Drawn(
                    chart,
                    Objects.requireNonNull(
                            tables.run(List.of(SessionState.CURRENT)).get(SessionState.CURRENT)));
        } catch (BriefException e) {
            // The line that is shown with a problem is not the one that was typed.
            Problem first = e.problems().get(0);
            String said = first.message() + (first.suggestion() == null ? "" : " " + first.suggestion());
            throw new RequestException(said.replace("'" + SessionState.CURRENT + "'", "What stands"));
        }
    }

    /**
     * What may stand at the end of a line that is being typed.
     *
     * @param line the clause so far
     */
    List<Candidate> candidates(String line) {
        String before = state.text(true);
        String text = before + "  " + line;
        UnfinishedBrief.Around around = new UnfinishedBrief.Around(List.of(), known, List.of(), folder);
        return UnfinishedBrief.of(new BriefText("session", text), around).candidates(text.length()).stream()
                .map(c -> new Candidate(
                        c.kind(),
                        c.label(),
                        new Span(
                                c.replaces().start() - text.length() + line.length(),
                                c.replaces().end() - text.length() + line.length()),
                        c.words(),
                        c.cursor(),
                        c.detail(),
                        c.about()))
                .toList();
    }

    /** What was seen of an input, so that its fields and their values can be offered. */
    void knows(String input, KnownInput seen) {
        known.put(input, seen);
    }

    private List<String> added(String line) {
        List<String> clauses = new ArrayList<>(state.clauses());
        clauses.add(line);
        return clauses;
    }

    /** Figures and what is laid out as columns belong to the grouping before them. */
    private List<String> continued(String line) {
        List<String> clauses = new ArrayList<>(state.clauses());
        if (clauses.isEmpty()) {
            return added(line);
        }
        clauses.set(clauses.size() - 1, clauses.get(clauses.size() - 1) + "\n    " + line);
        return clauses;
    }

    private Answer step(List<String> clauses) {
        SessionState next = state.with(clauses);
        look(next);
        go(next);
        return last();
    }

    private Answer.Step last() {
        List<String> clauses = state.clauses();
        StepLook before = clauses.isEmpty() ? null : look(state.with(clauses.subList(0, clauses.size() - 1)));
        return new Answer.Step(look(state), before);
    }

    private StepLook look(SessionState of) {
        return looks.computeIfAbsent(of, s -> tables(s).trace().step(SessionState.CURRENT, FIRST_ROWS));
    }

    private void go(SessionState next) {
        past.push(state);
        future.clear();
        state = next;
    }

    private Answer back() {
        if (past.isEmpty()) {
            return new Answer.Said("There is no step to take away.");
        }
        future.push(state);
        state = past.pop();
        return last();
    }

    private Answer forward() {
        if (future.isEmpty()) {
            return new Answer.Said("There is no step to bring back.");
        }
        past.push(state);
        state = future.pop();
        return last();
    }

    private Answer name(String name) {
        if (state.clauses().isEmpty()) {
            throw new RequestException("Nothing stands yet that could have a name: first a clause, then table NAME.");
        }
        if (!name.matches("[\\p{L}_][\\p{L}\\p{Nd}_]*") || name.equals(SessionState.CURRENT)) {
            throw new RequestException("'" + name + "' is no name for a table: write table NAME, one word.");
        }
        SessionState next = state.named(name);
        tables(next);
        go(next);
        return new Answer.Said("What stood is the table " + name + "; clauses go on from it.");
    }

    private Answer all() {
        boolean was = sampling;
        sampling = false;
        looks.clear();
        return was ? last() : new Answer.Said("All records are worked on already.");
    }

    private Tables tables(SessionState of) {
        Brief brief = Brief.of("session", of.text(true), folder);
        if (sampling) {
            for (BriefTree.Input input : brief.tree().inputs()) {
                brief = brief.input(
                        input.name().name(), sample(brief, input.name().name()));
            }
        }
        return brief.tables(fiesta);
    }

    /** Some records of an input, the same ones for the whole session. */
    private Table sample(Brief brief, String input) {
        return samples.computeIfAbsent(input, name -> {
            BriefTree tree = brief.tree();
            String heads = Stream.concat(
                            tree.parameters().stream().map(BriefTree.ParameterDef::at),
                            tree.inputs().stream()
                                    .filter(i -> i.name().name().equals(name))
                                    .map(BriefTree.Input::at))
                    .map(tree.source()::at)
                    .collect(Collectors.joining("\n"));
            String text = heads + "\ntable sampled from " + Printer.name(name) + " sample " + SAMPLED + " seed 1";
            Result some = Objects.requireNonNull(
                    Brief.of("sample", text, folder).run(fiesta).get("sampled"));
            return fiesta.from(some);
        });
    }

    private Result shown(int rows) {
        SessionState first = state.with(plus(state.clauses(), "first " + rows));
        return Objects.requireNonNull(
                tables(first).run(List.of(SessionState.CURRENT)).get(SessionState.CURRENT));
    }

    private static List<String> plus(List<String> clauses, String more) {
        List<String> all = new ArrayList<>(clauses);
        all.add(more);
        return all;
    }

    private static int number(String text) {
        if (!text.matches("[1-9][0-9]{0,6}")) {
            throw new RequestException("A number of rows is needed, not '" + text + "'.");
        }
        return Integer.parseInt(text);
    }

    private Result behind(String number) {
        int wanted = number(number);
        List<String> keys = look(state).keys();
        if (keys == null) {
            throw new RequestException("The rows that stand are records themselves.");
        }
        Result rows = shown(wanted);
        if (rows.rows() < wanted) {
            throw new RequestException("There are only " + rows.rows() + " rows.");
        }
        Row row = rows.row(wanted - 1);
        Map<String, String> told = new LinkedHashMap<>();
        keys.forEach(k -> told.put(k, Texts.key(row.get(k))));
        return tables(state)
                .trace()
                .behind(SessionState.CURRENT, told, Behind.Part.ROW)
                .records();
    }

    /** The brief so far, laid out; what has no name yet is called result. */
    private static String brief(SessionState of) {
        SessionState whole = of.clauses().isEmpty() ? of : of.named(RESULT);
        return Parser.layOut(new BriefText("session", whole.text(false)));
    }

    private Answer save(String file) {
        if (file.isEmpty()) {
            throw new RequestException("A file is needed: save takings.brief");
        }
        if (state.made().isEmpty() && state.clauses().isEmpty()) {
            throw new RequestException("Nothing stands yet that could be saved: first a clause.");
        }
        Path to = folder.resolve(file);
        if (Files.exists(to)) {
            throw new RequestException("'" + file + "' is there already; save under another name.");
        }
        String text = brief(state);
        Tables tables = Brief.of(file, text, folder).tables(fiesta);
        Map<String, Result> results = tables.run(tables.names());
        for (Map.Entry<String, Result> table : results.entrySet()) {
            int rows = table.getValue().rows();
            String head = "table " + Printer.name(table.getKey()) + " from";
            text = text.replace(head, "# " + rows + (rows == 1 ? " row" : " rows") + " when this was written\n" + head);
            table.getValue().close();
        }
        String commented = Parser.layOut(new BriefText(file, text));
        OutputFile.write(to, out -> out.append(commented));
        return new Answer.Said("Written: " + to + ". Run it: fiesta run " + to);
    }
}
