package dev.fiesta;

import dev.fiesta.brief.Placed;
import dev.fiesta.brief.RecordedTypes;
import dev.fiesta.brief.UsedBriefs;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Parser;
import dev.fiesta.language.Printer;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Remedy;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Texts;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.BiConsumer;
import org.jspecify.annotations.Nullable;

/**
 * A brief, read, with values for its parameters and perhaps inputs from a program. Immutable.
 *
 * <pre>{@code
 * Brief brief = Brief.read(Path.of("takings.brief")).set("from_day", LocalDate.of(2026, 5, 1));
 * Map<String, Result> results = brief.run(fiesta);
 * }</pre>
 *
 * <p>What a brief reports as a page or on paper is the matter of {@code dev.fiesta.report}: {@code Report.of(brief, fiesta)}.
 */
public final class Brief {
    private final List<Placed> parts;
    private final Map<String, Object> parameters;
    private final Map<String, Table> inputs;

    /** @param parts the briefs used, those used by others before them, the brief itself last */
    private Brief(List<Placed> parts, Map<String, Object> parameters, Map<String, Table> inputs) {
        this.parts = List.copyOf(parts);
        this.parameters = parameters;
        this.inputs = inputs;
    }

    /**
     * Reads a brief and those that it uses; its paths start in its folder.
     *
     * @param file the file
     * @return the brief
     * @throws BriefException when it cannot be right
     * @throws RequestException when there is no such file
     * @throws dev.fiesta.problem.MachineException when it cannot be read
     */
    public static Brief read(Path file) {
        return read(file, (folder, path) -> {});
    }

    /** @param refuse is told of each file that would be read, with the folder where its path starts */
    static Brief read(Path file, BiConsumer<Path, String> refuse) {
        Path whole = Given.needed(file, "a path").toAbsolutePath();
        Path folder = Objects.requireNonNullElse(whole.getParent(), whole);
        refuse.accept(folder, whole.toString());
        return of(BriefText.read(file), folder, refuse);
    }

    /**
     * {@return a brief from a text, whose paths start in the working folder}
     *
     * @param text the brief
     */
    public static Brief of(String text) {
        return of("brief", text, Path.of(""));
    }

    /**
     * A brief from a text.
     *
     * @param name what problems call it
     * @param text the brief
     * @param folder where its paths start
     * @return the brief
     * @throws BriefException when it cannot be right
     */
    public static Brief of(String name, String text, Path folder) {
        return of(name, text, folder, (from, path) -> {});
    }

    static Brief of(String name, String text, Path folder, BiConsumer<Path, String> refuse) {
        BriefText named = new BriefText(Given.needed(name, "a name"), Given.needed(text, "the text of a brief"));
        return of(named, Given.needed(folder, "a folder"), refuse);
    }

    private static Brief of(BriefText text, Path folder, BiConsumer<Path, String> refuse) {
        return new Brief(UsedBriefs.with(text, folder, refuse), Map.of(), Map.of());
    }

    /**
     * This brief with a value for a parameter.
     *
     * @param name its name
     * @param value an object of its type as {@link Table#set} takes it, a list, set or array of them where it is a list, or a text to be
     *     read as such; null where it is optional and has none. Whether it fits is said when the brief is checked
     * @return the brief
     */
    public Brief set(String name, @Nullable Object value) {
        Map<String, Object> all = new LinkedHashMap<>(parameters);
        all.put(Given.needed(name, "the name of a parameter"), value);
        return new Brief(parts, all, inputs);
    }

    /**
     * This brief with an input from the program instead of its files or its query: what it says of those is passed over.
     *
     * @param name of the input, as the brief has it
     * @param rows its records; a table of which nothing was asked is read by the run itself, others are worked out before, for every run
     * @return the brief
     */
    public Brief input(String name, Table rows) {
        Map<String, Table> all = new LinkedHashMap<>(inputs);
        all.put(Given.needed(name, "the name of an input"), Given.needed(rows, "a table"));
        return new Brief(parts, parameters, all);
    }

    /** {@return the title, or the name of the file without its ending} */
    public String title() {
        return tree().title() != null ? tree().title() : tree().source().name().replaceFirst("\\.brief$", "");
    }

    /** {@return what problems call it, the name of its file} */
    public String name() {
        return tree().source().name();
    }

    /** {@return the folder where its paths start} */
    public Path folder() {
        return last().folder();
    }

    /** {@return the text, as it is written} */
    public String text() {
        return tree().source().text();
    }

    /** {@return the locale of printed numbers} */
    public String locale() {
        return tree().settings().locale();
    }

    private Placed last() {
        return parts.get(parts.size() - 1);
    }

    /** {@return what is written, as other parts of Fiesta need it} */
    public BriefTree tree() {
        return last().brief();
    }

    /** {@return the texts of the briefs that it uses, by the paths under which they were first used} */
    public Map<String, String> used() {
        Map<String, String> texts = new LinkedHashMap<>();
        parts.subList(0, parts.size() - 1)
                .forEach(p ->
                        texts.put(p.brief().source().name(), p.brief().source().text()));
        return texts;
    }

    /**
     * This brief with types for fields that it does not declare itself.
     *
     * @param types by input and field, as a brief writes them
     * @return the brief
     */
    public Brief typed(Map<String, Map<String, String>> types) {
        List<Placed> typed = new ArrayList<>();
        for (Placed part : parts) {
            typed.add(new Placed(RecordedTypes.declared(part.brief(), types), part.folder()));
        }
        return new Brief(typed, parameters, inputs);
    }

    /**
     * Its tables, checked and ready to run: headers and types of its inputs are read, nothing is worked out.
     *
     * @param fiesta where it runs
     * @return the tables, ready to run
     * @throws BriefException with all problems
     * @throws dev.fiesta.problem.DataException when an input is not there
     */
    public Tables tables(Fiesta fiesta) {
        return new Tables(Given.needed(fiesta, "a Fiesta"), parts, parameters, inputs);
    }

    /**
     * Its tables over the inputs of others, which are then read once for all; see {@link Tables#with}.
     *
     * @param others tables of a brief that differs in parameters only
     * @param number tells them apart from others made so
     * @return its tables, checked and ready to run
     */
    public Tables tables(Tables others, int number) {
        return others.with(parameters, number);
    }

    /**
     * Works its tables out, those that no other table of it uses.
     *
     * @param fiesta where it runs
     * @return the results by the names of the tables, in the order of the brief
     */
    public Map<String, Result> run(Fiesta fiesta) {
        return run(fiesta, RunOptions.usual());
    }

    /**
     * As {@link #run(Fiesta)}, with a timeout, a cancellation or a listener of its own.
     *
     * @param fiesta where it runs
     * @param options of this run
     * @return the results by the names of the tables, in the order of the brief
     * @throws dev.fiesta.problem.Interrupted when it was stopped
     */
    public Map<String, Result> run(Fiesta fiesta, RunOptions options) {
        return Given.needed(fiesta, "a Fiesta").stoppable(options, () -> {
            Tables tables = tables(fiesta);
            return tables.runCounted(tables.unused(), options).results();
        });
    }

    /**
     * The different values, as texts, that a field has in the first input that has it; missing ones left out.
     *
     * @param field the name of the field
     * @param fiesta where it runs
     * @return these, in their order
     * @throws RequestException when there is no such parameter, or no input has such a field
     */
    public List<String> valuesOf(String field, Fiesta fiesta) {
        boolean known = parts.stream()
                .flatMap(p -> p.brief().parameters().stream())
                .anyMatch(p -> p.name().name().equals(field));
        if (!known) {
            throw new RequestException("The brief has no parameter '" + field + "'.");
        }
        Map<String, Object> others = new LinkedHashMap<>(parameters);
        others.remove(field);
        StringBuilder asked = new StringBuilder();
        for (Placed part : parts) {
            for (BriefTree.ParameterDef parameter : part.brief().parameters()) {
                if (!parameter.name().name().equals(field)) {
                    asked.append(part.brief().source().at(parameter.at())).append('\n');
                }
            }
            for (BriefTree.Input input : part.brief().inputs()) {
                String text = asked + part.brief().source().at(input.at()) + "\ntable values from "
                        + Printer.name(input.name().name()) + " per " + Printer.name(field);
                List<String> values = values(text, field, part.folder(), others, fiesta);
                if (values != null) {
                    return values;
                }
            }
        }
        throw Remedy.offered(
                new RequestException("No input has a field '" + field + "' whose values could be taken; name them."),
                Remedy.Kind.PARAMETER_VALUES,
                field);
    }

    /** The values of a field in an input, or null where it has no such field. */
    private @Nullable List<String> values(
            String text, String field, Path folder, Map<String, Object> given, Fiesta fiesta) {
        BriefTree asked = Parser.brief(new BriefText("values", text));
        Map<String, Object> others = new LinkedHashMap<>(given);
        others.keySet()
                .retainAll(asked.parameters().stream().map(p -> p.name().name()).toList());
        Map<String, Table> own = new LinkedHashMap<>(inputs);
        own.keySet().retainAll(asked.inputs().stream().map(i -> i.name().name()).toList());
        try (Result values = new Brief(List.of(new Placed(asked, folder)), others, own)
                .run(fiesta)
                .get("values")) {
            return Objects.requireNonNull(values).stream()
                    .map(r -> r.get(field))
                    .filter(Objects::nonNull)
                    .map(Texts::of)
                    .toList();
        } catch (BriefException noSuchField) {
            return null;
        }
    }

    /**
     * {@return whether a parameter stands in the path of an input, or may in a query, so that other values read other records}
     *
     * @param parameter the name of the parameter
     */
    public boolean choosesFiles(String parameter) {
        return parts.stream()
                .flatMap(p -> p.brief().inputs().stream())
                .anyMatch(i -> i.query() != null
                        || i.paths().stream().anyMatch(p -> p.text().contains("{:" + parameter + "}")));
    }
}
