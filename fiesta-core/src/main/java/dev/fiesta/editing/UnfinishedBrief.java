package dev.fiesta.editing;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Clause;
import dev.fiesta.language.Parser;
import dev.fiesta.language.Token;
import dev.fiesta.plan.ParameterValues;
import dev.fiesta.plan.Parameters;
import dev.fiesta.plan.Planner;
import dev.fiesta.problem.Problem;
import dev.fiesta.step.InputTexts;
import dev.fiesta.step.TablePlan;
import dev.fiesta.value.Schema;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * A brief while it is written: it may be unfinished or wrong anywhere, and what can be known of it is known. Nothing is thrown and no
 * record is read. Immutable.
 *
 * <pre>{@code
 * UnfinishedBrief brief = UnfinishedBrief.of(text, around);
 * List<Candidate> candidates = brief.candidates(offset);
 * }</pre>
 *
 * <p>All offsets are UTF-16 units from the beginning of the text.
 */
public final class UnfinishedBrief {
    /**
     * What stands around a brief.
     *
     * @param used the briefs that it uses, those used by others first
     * @param inputs what is known of inputs, its own and theirs, by name; nothing is said of what stands on one that is not in it
     * @param formats the names of the formats that are read
     * @param folder where its paths start, or null where no files are to be offered
     */
    public record Around(
            List<BriefTree> used,
            Map<String, KnownInput> inputs,
            List<String> formats,
            @Nullable Path folder) {
        /** Nothing is known. */
        public static final Around NOTHING = new Around(List.of(), Map.of(), List.of(), null);
    }

    private final BriefText text;
    private final Around around;
    private final Parser.Loose loose;
    private final Map<String, TablePlan> plans;
    private final List<Problem> problems;
    private @Nullable List<Occurrence> occurrences;

    private UnfinishedBrief(BriefText text, Around around) {
        this.text = text;
        this.around = around;
        this.loose = Parser.loosely(text);
        List<Problem> wrong = new ArrayList<>();
        this.plans = plans(loose.tree(), wrong);
        this.problems = told(wrong);
    }

    /** {@return a brief as it stands} */
    public static UnfinishedBrief of(BriefText text, Around around) {
        return new UnfinishedBrief(text, around);
    }

    /** What is known of the tables and inputs of a brief, its own and those it uses. */
    private Map<String, TablePlan> plans(BriefTree tree, List<Problem> wrong) {
        List<BriefTree> all = new ArrayList<>(around.used());
        all.add(tree);
        Map<String, TablePlan> inputs = new LinkedHashMap<>();
        Set<String> unknown = new HashSet<>();
        for (BriefTree brief : all) {
            for (BriefTree.Input input : brief.inputs()) {
                String name = input.name().name();
                KnownInput known = around.inputs().get(name);
                if (known == null) {
                    unknown.add(name);
                } else {
                    InputTexts.Samples texts =
                            place -> known.texts(known.schema().field(place).name());
                    inputs.put(name, TablePlan.input(name, known.schema(), texts));
                }
            }
        }
        Parameters parameters = ParameterValues.named(all, wrong);
        Planner.Draft draft = Planner.draft(all, parameters, inputs, unknown, "");
        draft.problems().stream()
                .filter(p -> p.source().equals(tree.source().name()))
                .forEach(wrong::add);
        return draft.plans();
    }

    /**
     * What is known where this brief is cut: its last table is settled anew, those before it stand as they do in the whole.
     *
     * @param cut the brief up to some place
     */
    Map<String, TablePlan> plansUpTo(BriefTree cut) {
        List<BriefTree.TableDef> tables = cut.tables();
        Map<String, TablePlan> before = new LinkedHashMap<>();
        Set<String> unknown = new HashSet<>();
        Set<String> declared = new LinkedHashSet<>(declared(cut));
        BriefTree.TableDef last = tables.isEmpty() ? null : tables.get(tables.size() - 1);
        if (last != null) {
            declared.remove(last.name().name());
        }
        for (String name : declared) {
            TablePlan plan = plans.get(name);
            if (plan == null) {
                unknown.add(name);
            } else {
                before.put(name, plan);
            }
        }
        BriefTree one = new BriefTree(
                cut.source(),
                cut.title(),
                cut.settings(),
                cut.uses(),
                cut.parameters(),
                List.of(),
                last == null ? List.of() : List.of(last),
                null);
        List<BriefTree> all = new ArrayList<>(around.used());
        all.add(cut);
        return Planner.draft(List.of(one), ParameterValues.named(all, new ArrayList<>()), before, unknown, "")
                .plans();
    }

    private List<String> declared(BriefTree cut) {
        List<BriefTree> all = new ArrayList<>(around.used());
        all.add(cut);
        return all.stream()
                .flatMap(b -> Stream.concat(
                        b.inputs().stream().map(i -> i.name().name()),
                        b.tables().stream().map(t -> t.name().name())))
                .toList();
    }

    /** Behind the first thing that cannot be read, what looks wrong may only look so. */
    private List<Problem> told(List<Problem> wrong) {
        List<Problem> all = new ArrayList<>(loose.problems());
        Comparator<Problem> order = Comparator.comparingInt(Problem::line).thenComparingInt(Problem::column);
        int first = all.isEmpty() ? Integer.MAX_VALUE : all.get(0).line();
        wrong.stream().filter(p -> p.line() < first).forEach(all::add);
        return all.stream().sorted(order).toList();
    }

    /** {@return what is wrong, in the order of the text: what {@code fiesta check} would say of it, as far as it can be known} */
    public List<Problem> problems() {
        return problems;
    }

    /** {@return what could be read of it} */
    public BriefTree tree() {
        return loose.tree();
    }

    /** {@return its words, comments apart} */
    public List<Token> words() {
        return loose.words();
    }

    /** {@return its text} */
    public BriefText text() {
        return text;
    }

    Around around() {
        return around;
    }

    /** What is known of its tables and inputs, by name. */
    Map<String, TablePlan> plans() {
        return plans;
    }

    /** {@return the fields of its tables by name, those of the briefs it uses among them; empty unless all are known} */
    public Map<String, Schema> tables() {
        Map<String, Schema> tables = new LinkedHashMap<>();
        plans.forEach((name, plan) -> {
            if (!plan.isInput()) {
                tables.put(name, plan.schema());
            }
        });
        boolean whole = loose.problems().isEmpty()
                && tree().tables().stream()
                        .allMatch(t -> tables.containsKey(t.name().name()))
                && around.used().stream()
                        .flatMap(u -> u.tables().stream())
                        .allMatch(t -> tables.containsKey(t.name().name()));
        return whole ? tables : Map.of();
    }

    /** {@return the names of its parameters, those of the briefs it uses among them} */
    public Set<String> parameters() {
        Set<String> names = new LinkedHashSet<>();
        around.used()
                .forEach(u -> u.parameters().forEach(p -> names.add(p.name().name())));
        tree().parameters().forEach(p -> names.add(p.name().name()));
        return names;
    }

    /** {@return all names in it and what they mean, in the order of the text} */
    public synchronized List<Occurrence> occurrences() {
        if (occurrences == null) {
            occurrences = Meanings.of(loose, around.used(), plans);
        }
        return occurrences;
    }

    /**
     * {@return whether it names something of a sort so; tables and inputs are of one sort}
     *
     * @param kind the sort
     * @param name the name
     */
    public boolean names(Meaning.Kind kind, String name) {
        return occurrences().stream()
                .map(Occurrence::meaning)
                .anyMatch(m -> m.name().equals(name) && sort(m.kind()) == sort(kind));
    }

    private static Meaning.Kind sort(Meaning.Kind kind) {
        return kind == Meaning.Kind.INPUT ? Meaning.Kind.TABLE : kind;
    }

    /**
     * {@return the name at a place, or null where none stands there}
     *
     * @param offset of the place
     */
    public @Nullable Occurrence occurrence(int offset) {
        return occurrences().stream()
                .filter(o -> o.at().start() <= offset && offset <= o.at().end())
                .findFirst()
                .orElse(null);
    }

    /**
     * {@return all places where the same is named, in the order of the text}
     *
     * @param meaning what is named there
     */
    public List<Occurrence> uses(Meaning meaning) {
        return occurrences().stream()
                .filter(o -> o.meaning().root() == meaning.root())
                .toList();
    }

    /**
     * {@return what may stand at a place, best first}
     *
     * @param offset of the place
     */
    public List<Candidate> candidates(int offset) {
        return new Completions(this).at(offset);
    }

    /**
     * {@return what is to be said of the word at a place, or null}
     *
     * @param offset of the place
     */
    public @Nullable Explanation explanation(int offset) {
        return new Explanations(this).at(offset);
    }

    /**
     * {@return the call whose brackets a place stands in, or null}
     *
     * @param offset of the place
     */
    public @Nullable OpenCall call(int offset) {
        return OpenCall.at(this, offset);
    }

    /**
     * Another name for what is named at a place.
     *
     * @param offset of the place
     * @param name the other name
     * @return the changes of the text, in its order
     * @throws dev.fiesta.problem.RequestException when it cannot have it
     */
    public List<Problem.Fix> renamed(int offset, String name) {
        return new Renaming(this).changes(offset, name);
    }

    /**
     * {@return what a table holds behind the clause that stands at a place, or before its first clause; null where nothing is known}
     *
     * @param offset of the place
     */
    public @Nullable Stand standing(int offset) {
        for (BriefTree.TableDef table : tree().tables()) {
            TablePlan plan = plans.get(table.name().name());
            if (table.at().start() <= offset && offset <= table.at().end() && plan != null && plan.from() != null) {
                Stand before = new Stand(
                        table, -1, plan.from().schema(), plan.from().levels().keys());
                for (int i = 0; i < table.clauses().size() && i < plan.written().size(); i++) {
                    Clause clause = table.clauses().get(i);
                    if (clause.at().start() > offset) {
                        break;
                    }
                    TablePlan.Written left = plan.written().get(i);
                    before = new Stand(table, i, left.schema(), left.levels().keys());
                }
                return before;
            }
        }
        return null;
    }

    /**
     * What stands behind a clause.
     *
     * @param table the table
     * @param clause the place of the clause, -1 before the first
     * @param schema the fields
     * @param keys of the groups, or null for records
     */
    public record Stand(
            BriefTree.TableDef table,
            int clause,
            Schema schema,
            @Nullable List<String> keys) {}
}
