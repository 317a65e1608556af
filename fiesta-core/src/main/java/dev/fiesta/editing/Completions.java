package dev.fiesta.editing;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.editing.Candidate.Kind;
import dev.fiesta.gather.GatherFunctions;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Expected;
import dev.fiesta.language.Expected.Sought;
import dev.fiesta.language.Expr;
import dev.fiesta.language.Keywords;
import dev.fiesta.language.Parser;
import dev.fiesta.language.Printer;
import dev.fiesta.language.Span;
import dev.fiesta.language.Token;
import dev.fiesta.step.TablePlan;
import dev.fiesta.survey.FieldSurvey;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** What may stand at a place: what the grammar looks for there, with the names that are known there. */
final class Completions {
    /** What a value may begin with besides names and calls. */
    private static final List<String> VALUES = List.of("if", "not", "missing", "true", "false");
    /** So many files of a folder are offered. */
    private static final int MOST_FILES = 200;

    private final UnfinishedBrief brief;
    private final List<Candidate> found = new ArrayList<>();
    private final Set<String> offered = new LinkedHashSet<>();
    private Span replaces = new Span(0, 0);

    Completions(UnfinishedBrief brief) {
        this.brief = brief;
    }

    List<Candidate> at(int offset) {
        if (inComment(offset)) {
            return List.of();
        }
        Parser.Place place = Parser.at(brief.text(), offset);
        replaces = place.word();
        Token typed = place.typed();
        if (typed != null && typed.is(Token.Kind.TEXT)) {
            if (place.expected().sought().contains(Sought.PATH)) {
                files(typed.text());
            } else {
                values(place);
            }
            return ordered(null);
        }
        Expected expected = place.expected();
        values(place);
        names(place);
        sought(place);
        words(expected);
        return ordered(typed);
    }

    private boolean inComment(int offset) {
        String text = brief.text().text();
        int line = text.lastIndexOf('\n', Math.max(0, Math.min(offset, text.length()) - 1)) + 1;
        int hash = text.indexOf('#', line);
        while (hash >= 0 && hash < offset) {
            int sign = hash;
            boolean inWord = brief.words().stream().anyMatch(w -> w.at().start() <= sign && sign < w.at().end());
            if (!inWord) {
                return true;
            }
            hash = text.indexOf('#', hash + 1);
        }
        return false;
    }

    /** What begins as what is typed comes first; the rest is left for whoever shows it to choose from. */
    private List<Candidate> ordered(@Nullable Token typed) {
        String begin = typed == null ? "" : typed.text().toLowerCase(Locale.ROOT);
        return found.stream()
                .filter(c ->
                        begin.isEmpty() || c.label().toLowerCase(Locale.ROOT).contains(begin))
                .sorted(Comparator.comparing((Candidate c) ->
                                !c.label().toLowerCase(Locale.ROOT).startsWith(begin))
                        .thenComparing(Candidate::kind))
                .toList();
    }

    private void offer(Kind kind, String label, String words, String detail, String about) {
        offer(kind, label, words, "", detail, about);
    }

    /** @param behind what stands behind the place where one goes on typing */
    private void offer(Kind kind, String label, String words, String behind, String detail, String about) {
        if (offered.add(words)) {
            found.add(new Candidate(kind, label, replaces, words + behind, words.length(), detail, about));
        }
    }

    /** Texts that a field is compared with. */
    private void values(Parser.Place place) {
        Expr compared = place.expected().compared();
        if (compared instanceof Expr.Name name) {
            BriefTree.TableDef table = last(place.before());
            if (table != null) {
                texts(name.name(), table.from().name(), place.before()).stream()
                        .filter(t -> t.indexOf('\n') < 0) // no text of a brief goes over a line
                        .forEach(t -> offer(Kind.VALUE, "'" + t + "'", Printer.text(t), "", ""));
            }
        }
    }

    /** The texts of a field where it comes from an input, by the name that it has there. */
    private List<String> texts(String field, String from, BriefTree tree) {
        KnownInput known = brief.around().inputs().get(from);
        if (known != null) {
            return known.texts(field);
        }
        return tree.tables().stream()
                .filter(t -> t.name().name().equals(from))
                .findFirst()
                .map(t -> texts(field, t.from().name(), tree))
                .orElse(List.of());
    }

    private static BriefTree.@Nullable TableDef last(BriefTree tree) {
        List<BriefTree.TableDef> tables = tree.tables();
        return tables.isEmpty() ? null : tables.get(tables.size() - 1);
    }

    /** Fields, parameters and calls where a value or a field may stand. */
    private void names(Parser.Place place) {
        Expected expected = place.expected();
        boolean value = expected.isValue();
        if (value || expected.sought().contains(Sought.FIELD)) {
            fields(place);
        }
        if (value) {
            String start = start(expected);
            boolean inTable = !start.equals("parameter") && !start.equals("fields");
            parameters(place.before());
            if (inTable) {
                boolean figures = start.equals("give");
                WordLookup.FUNCTIONS.stream()
                        .sorted(Comparator.comparing(e -> figures && GatherFunctions.find(e.name()) == null))
                        .forEach(this::function);
            }
            VALUES.forEach(w -> word(w, expected));
        }
    }

    private static String start(Expected expected) {
        return expected.start() == null ? "" : expected.start().text();
    }

    private void fields(Parser.Place place) {
        Schema schema = schema(place);
        if (schema == null) {
            return;
        }
        BriefTree.TableDef table = Objects.requireNonNull(last(place.before()));
        for (Field field : schema.fields()) {
            field(field, table.from().name());
        }
    }

    private void field(Field field, String from) {
        KnownInput known = brief.around().inputs().get(from);
        FieldSurvey looked = known == null ? null : known.field(field.name());
        String about = known == null || looked == null || !looked.type().equals(field.type())
                ? ""
                : Facts.sentence(looked, known);
        offer(Kind.FIELD, field.name(), Printer.name(field.name()), field.type().toString(), about);
    }

    /** The fields that can be named at a place: those that stand there, and what the same clause has made so far. */
    private @Nullable Schema schema(Parser.Place place) {
        BriefTree tree = place.before();
        BriefTree.TableDef table = last(tree);
        String start = start(place.expected());
        if (table == null) {
            return null;
        }
        boolean figures = start.equals("give") && !gathers(place.expected(), replaces.start());
        int cut = figures || start.equals("add") ? lastComma(place.expected(), replaces.start()) : -1;
        if (cut >= 0) {
            String before = brief.text().text().substring(0, cut);
            tree = Parser.loosely(new BriefText(brief.text().name(), before)).tree();
        }
        TablePlan plan = brief.plansUpTo(tree).get(table.name().name());
        if (plan == null) {
            return null;
        }
        List<String> keys = plan.levels().keys();
        boolean noFigureYet =
                cut >= 0 && start.equals("give") && brief.text().text().startsWith("give", cut);
        return noFigureYet && keys != null
                ? new Schema(plan.schema().fields().stream()
                        .filter(f -> keys.contains(f.name()))
                        .toList())
                : plan.schema();
    }

    private boolean gathers(Expected expected, int offset) {
        Token start = expected.start();
        return start != null && OpenCall.gathers(brief.words(), start.at().start(), offset);
    }

    /** The last comma of a clause outside of brackets, else the keyword itself; -1 where neither helps. */
    private int lastComma(Expected expected, int offset) {
        int cut = -1;
        int depth = 0;
        Token start = Objects.requireNonNull(expected.start());
        for (Token word : brief.words()) {
            if (word.at().start() < start.at().start()) {
                continue;
            }
            if (word.at().start() >= offset) {
                break;
            }
            if (word == start || (word.at().equals(start.at()) && start.text().equals("give"))) {
                cut = word.at().start();
            }
            depth += word.is(Token.Kind.SIGN) && word.text().equals("(") ? 1 : 0;
            depth -= word.is(Token.Kind.SIGN) && word.text().equals(")") ? 1 : 0;
            if (depth == 0 && word.is(Token.Kind.SIGN) && word.text().equals(",")) {
                cut = word.at().start();
            }
        }
        return cut;
    }

    private void parameters(BriefTree tree) {
        for (BriefTree.ParameterDef parameter : tree.parameters()) {
            String name = ":" + parameter.name().name();
            String about = parameter.about() == null ? "" : parameter.about();
            offer(Kind.PARAMETER, name, name, parameter.type() + (parameter.list() ? " list" : ""), about);
        }
    }

    private void function(Entry function) {
        boolean none = function.usage().startsWith(function.name() + "()");
        String words = function.name() + (none ? "()" : "(");
        offer(Kind.FUNCTION, function.name(), words, none ? "" : ")", function.usage(), function.about());
    }

    private void sought(Parser.Place place) {
        Expected expected = place.expected();
        for (Sought sought : expected.sought()) {
            switch (sought) {
                case TABLE -> tables(place.before());
                case FIELD_OF_TABLE -> theirs(expected, place.before());
                case FUNCTION ->
                    WordLookup.FUNCTIONS.stream()
                            .filter(e -> GatherFunctions.find(e.name()) != null)
                            .forEach(e -> offer(Kind.FUNCTION, e.name(), e.name(), e.usage(), e.about()));
                case TYPE -> Keywords.TYPES.forEach(t -> said(Kind.TYPE, t, "parameter"));
                case FORMAT -> brief.around().formats().forEach(f -> offer(Kind.FORMAT, f, f, "", ""));
                case CHART -> Keywords.CHARTS.forEach(c -> said(Kind.WORD, c, "chart"));
                case WEEKDAY -> Keywords.WEEK.forEach(d -> offer(Kind.WORD, d, d, "", ""));
                case PATH -> offer(Kind.FILE, "'…'", "'", "'", "a path", "");
                case PARAMETER -> parameters(place.before());
                default -> {}
            }
        }
    }

    private void tables(BriefTree tree) {
        Map<String, TablePlan> plans = brief.plansUpTo(tree);
        Stream.concat(
                        tree.inputs().stream().map(i -> i.name().name()),
                        tree.tables().stream().map(t -> t.name().name()))
                .forEach(name -> table(name, plans.get(name)));
        plans.forEach(this::table);
    }

    private void table(String name, @Nullable TablePlan plan) {
        String detail = plan == null ? "" : plan.isInput() ? "input" : "table";
        String fields = plan == null ? "" : String.join(", ", plan.schema().names());
        offer(Kind.TABLE, name, Printer.name(name), detail, fields);
    }

    private void theirs(Expected expected, BriefTree tree) {
        String name = expected.table() == null ? "" : expected.table().name();
        TablePlan plan = brief.plansUpTo(tree).get(name);
        if (plan != null) {
            plan.schema().fields().forEach(f -> field(f, name));
        }
    }

    private void said(Kind kind, String word, String start) {
        WordLookup.Said said = WordLookup.word(word, start);
        offer(kind, word, word, said == null ? "" : said.form(), said == null ? "" : said.about());
    }

    private void words(Expected expected) {
        for (String word : expected.words()) {
            if (Keywords.CLAUSES.contains(word) && expected.words().containsAll(Keywords.CLAUSES)) {
                WordLookup.Said said = Objects.requireNonNull(WordLookup.clause(word));
                offer(Kind.CLAUSE, word, word + (word.equals("shuffle") ? "" : " "), said.form(), said.about());
            } else {
                word(word, expected);
            }
        }
    }

    private void word(String word, Expected expected) {
        WordLookup.Said said = WordLookup.word(word, start(expected));
        offer(Kind.WORD, word, word, said == null ? "" : said.form(), said == null ? "" : said.about());
    }

    /** Files and folders beside the brief. */
    private void files(String typed) {
        Path folder = brief.around().folder();
        if (folder == null) {
            return;
        }
        int slash = typed.lastIndexOf('/');
        String in = typed.substring(0, slash + 1);
        try (Stream<Path> files = Files.list(folder.resolve(in))) {
            files.filter(f -> !f.getFileName().toString().startsWith("."))
                    .sorted()
                    .limit(MOST_FILES)
                    .forEach(f -> {
                        boolean goesOn = Files.isDirectory(f);
                        String name = in + f.getFileName() + (goesOn ? "/" : "");
                        String words = Printer.text(name);
                        String open = goesOn ? words.substring(0, words.length() - 1) : words;
                        offer(Kind.FILE, "'" + name + "'", open, goesOn ? "'" : "", goesOn ? "folder" : "file", "");
                    });
        } catch (IOException | UncheckedIOException | InvalidPathException | SecurityException e) {
            return; // what cannot be looked into offers nothing
        }
    }
}
