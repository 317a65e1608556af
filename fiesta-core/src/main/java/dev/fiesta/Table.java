package dev.fiesta;

import dev.fiesta.brief.Inputs;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.Source;
import dev.fiesta.source.files.FilesSeen;
import dev.fiesta.step.TablePlan;
import dev.fiesta.store.Resources;
import dev.fiesta.survey.Survey;
import dev.fiesta.total.Worked;
import dev.fiesta.trace.Question;
import dev.fiesta.value.Schema;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * A description of a table: where records come from and what is done to them. Immutable; every method returns a new table. A
 * text that cannot be right fails at that call, with the same message as in a brief. It is long because each clause has its method.
 */
public final class Table {
    private final Fiesta fiesta;
    private final Chain chain;

    private Table(Fiesta fiesta, Chain chain) {
        this.fiesta = fiesta;
        this.chain = chain;
    }

    /** @param files looks at the files of the source, none where it has none */
    static Table of(Fiesta fiesta, String name, Supplier<Source> opener, Supplier<FilesSeen> files) {
        return of(fiesta, new Root(name, opener, files, false));
    }

    /** @param opener asked again for every run */
    static Table ofRows(Fiesta fiesta, Supplier<Source> opener) {
        return of(fiesta, new Root("records", opener, FilesSeen::none, true));
    }

    private static Table of(Fiesta fiesta, Root root) {
        return new Table(fiesta, new Chain(root, fiesta.functionsDefined()));
    }

    /**
     * Any clauses of the language, as a brief has them.
     *
     * @param text one clause or several; unlike those of the other methods it is taken as it is, so it is no place for texts from outside
     * @return the table that they leave
     * @throws BriefException when they cannot be right
     */
    public Table then(String text) {
        return then(text, Map.of());
    }

    /**
     * Any clauses, with values for the parameters ({@code :name}) in them.
     *
     * @param text one clause or several
     * @param values as for {@link #set}; they are known in this text only
     * @return the table that this leaves
     */
    public Table then(String text, Map<String, ?> values) {
        Chain next = chain.next(Given.needed(text, "a text of clauses"), Given.values(values), Map.of());
        return new Table(fiesta, next);
    }

    /**
     * Gives a parameter a value, which clauses that follow may name as {@code :name}. A value never becomes a text of the language, so it
     * may come from anywhere.
     *
     * @param name without the colon
     * @param value a whole number, {@code BigDecimal}, {@code double}, {@code String}, {@code boolean}, an enum, a {@code UUID}, an object of
     *     {@code java.time}, an {@code Optional} of one, null for a missing one, or a list, set or array of them, which stands behind {@code in}
     * @return the table that this leaves
     * @throws RequestException when it is of another class
     */
    public Table set(String name, @Nullable Object value) {
        String named = Given.needed(name, "the name of a parameter");
        return new Table(fiesta, chain.set(named, Given.value(named, value)));
    }

    private Table withOther(Table other, java.util.function.UnaryOperator<String> text) {
        String name = "other" + (chain.others().size() + 1);
        Chain below = Given.needed(other, "another table").chain;
        return new Table(fiesta, chain.next(text.apply(name), Map.of(), Map.of(name, below)));
    }

    /**
     * Keeps the rows, records or groups, for which a condition is true.
     *
     * @param condition one condition, such as {@code amount > 0 and site = 'Quay'}
     * @return the table of these rows
     * @throws BriefException when it cannot be right, or goes on into another clause
     */
    public Table only(String condition) {
        return then(ClauseText.whole("only", condition));
    }

    /**
     * As {@link #only(String)}, with values for the parameters in it.
     *
     * @param condition one condition
     * @param values as for {@link #set}
     * @return the table that this leaves
     */
    public Table only(String condition, Map<String, ?> values) {
        return then(ClauseText.whole("only", condition), values);
    }

    /**
     * Further fields.
     *
     * @param fields each {@code name = expression}
     * @return the table that this leaves
     */
    public Table add(String... fields) {
        return then(ClauseText.of("add", fields));
    }

    /**
     * As {@link #add(String...)}, with values for the parameters in them.
     *
     * @param values as for {@link #set}
     * @param fields each {@code name = expression}
     * @return the table that this leaves
     */
    public Table add(Map<String, ?> values, String... fields) {
        return then(ClauseText.of("add", fields), values);
    }

    /**
     * Groups by keys.
     *
     * @param keys each a field or {@code name = expression}; {@code "all"} alone makes one group
     * @return the groups, which still have to be told what they give
     */
    public Groups per(String... keys) {
        return new Groups(this, ClauseText.of("per", keys));
    }

    /**
     * Puts rows in order.
     *
     * @param keys each a field or an expression, with {@code desc} behind it if wanted
     * @return the table that this leaves
     */
    public Table sort(String... keys) {
        return then(ClauseText.of("sort", keys));
    }

    /**
     * Keeps the first rows as they stand.
     *
     * @param rows at least 1
     * @return the table that this leaves
     */
    public Table first(int rows) {
        return then("first " + rows);
    }

    /**
     * Keeps the first rows along an order.
     *
     * @param rows at least 1
     * @param how what stands behind the number in a brief: {@code within site along takings desc rest as 'Rest'}
     * @return the table that this leaves
     */
    public Table first(int rows, String how) {
        return then(ClauseText.whole("first " + rows, how));
    }

    /**
     * Adds a total row to groups.
     *
     * @param by the first keys, for subtotals
     * @return the table that this leaves
     */
    public Table totals(String... by) {
        return then(by != null && by.length == 0 ? "totals" : ClauseText.of("totals by", by));
    }

    /**
     * Keeps the first row of each combination of some fields.
     *
     * @param fields all, where none is named
     * @return the table that this leaves
     */
    public Table distinct(String... fields) {
        return then(ClauseText.of("distinct", fields));
    }

    /**
     * Adds rows for the periods that have none.
     *
     * @param field the field that has gaps
     * @param how what stands behind the field in a brief: {@code every 1 week within site with 0}; may be empty
     * @return the table that this leaves
     */
    public Table gapless(String field, String how) {
        return then(ClauseText.whole("gapless " + ClauseText.fields(field), how));
    }

    /**
     * Fills missing values of a field with those known before or after.
     *
     * @param field the field that has gaps
     * @param how what stands behind the field in a brief: {@code within item along day from before at most 2}
     * @return the table that this leaves
     */
    public Table fill(String field, String how) {
        return then(ClauseText.whole("fill " + ClauseText.fields(field), how));
    }

    /**
     * Makes a row of each of some fields.
     *
     * @param fields their names
     * @param name the field that gets their names
     * @param value the field that gets their values
     * @return the table that this leaves
     */
    public Table turn(List<String> fields, String name, String value) {
        String turned =
                ClauseText.fields(Given.needed(fields, "a list of fields").toArray(String[]::new));
        return then("turn " + turned + " into " + ClauseText.fields(name) + ", " + ClauseText.fields(value));
    }

    /**
     * Gives fields other names.
     *
     * @param names each {@code old as new}
     * @return the table that this leaves
     */
    public Table rename(String... names) {
        return then(ClauseText.of("rename", names));
    }

    /**
     * {@return takes fields away}
     *
     * @param fields their names
     */
    public Table drop(String... fields) {
        return then(ClauseText.of("drop", fields));
    }

    /**
     * Keeps rows by chance, the same ones each time.
     *
     * @param how many and which, as in a brief: {@code 100}, {@code 5 percent within site seed 3}
     * @return the table that this leaves
     */
    public Table sample(String how) {
        return then(ClauseText.whole("sample", how));
    }

    /**
     * {@return puts rows in an order by chance, the same each time for the same seed}
     *
     * @param seed tells one order from another
     */
    public Table shuffle(int seed) {
        return then("shuffle seed " + seed);
    }

    /**
     * Says what must hold; {@link #run} fails where it does not.
     *
     * @param what as in a brief: {@code takings > 0 'a day without takings' or warn}, {@code unique site}, {@code rows >= 1}
     * @return the table that this leaves
     * @throws dev.fiesta.problem.CheckException when run, with the first rows for which it does not hold
     */
    public Table check(String what) {
        return then(ClauseText.whole("check", what));
    }

    /**
     * Keeps figures of groups from being shown where a condition is true.
     *
     * @param where the condition
     * @param figures their names
     * @return the table that this leaves
     */
    public Table hide(String where, String... figures) {
        return then(ClauseText.whole("hide " + ClauseText.fields(figures) + " where", where));
    }

    /**
     * Shows only these columns.
     *
     * @param columns each a field, with title and format if wanted: {@code takings 'Takings' money}
     * @return the table that this leaves
     */
    public Table columns(String... columns) {
        return then(ClauseText.of("columns", columns));
    }

    /**
     * Looks fields up in another table.
     *
     * @param other the other table
     * @param how what stands behind the table in a brief: {@code on stall bring kind, pitch required}
     * @return the table that this leaves
     */
    public Table match(Table other, String how) {
        return withOther(other, name -> ClauseText.whole("match " + name, how));
    }

    /**
     * As {@link #match}, but with a row for every match: the explicit form that multiplies rows.
     *
     * @param other the other table
     * @param how as for {@link #match}
     * @return the table that this leaves
     */
    public Table matchEach(Table other, String how) {
        return withOther(other, name -> ClauseText.whole("match each " + name, how));
    }

    /**
     * The rows of another table below, columns met by name.
     *
     * @param other the other table
     * @return the table that this leaves
     */
    public Table append(Table other) {
        return withOther(other, name -> "append " + name);
    }

    /**
     * Adds rows for the values of a field that another table has and this one lacks.
     *
     * @param other the table that has the values, in a field of the same name
     * @param field the name of the field
     * @param how what stands behind the table in a brief, for instance {@code within site with 0}; may be empty
     * @return the table that this leaves
     */
    public Table gapless(Table other, String field, String how) {
        return withOther(other, name -> ClauseText.whole("gapless " + ClauseText.fields(field) + " from " + name, how));
    }

    /**
     * A look at what came in: every field's type, gaps, values and oddities; of a table with clauses, at what they leave.
     *
     * @return what was seen
     * @throws dev.fiesta.problem.DataException when the records cannot be read
     */
    public Survey survey() {
        return Crewed.survey(fiesta, asSource());
    }

    /** {@return the fields} */
    public Schema schema() {
        return chain.plan().schema();
    }

    /**
     * Works the table out.
     *
     * @return its rows, which do not change any more
     * @throws dev.fiesta.problem.DataException when the data is wrong
     * @throws dev.fiesta.problem.CheckException when a check does not hold
     * @throws dev.fiesta.problem.MachineException when the machine fails: a full disk, no memory left
     * @throws Interrupted when the thread is interrupted
     */
    public Result run() {
        return run(RunOptions.usual());
    }

    /**
     * As {@link #run()}, with a timeout, a cancellation or a listener of its own.
     *
     * @param options of this run
     * @return the rows
     * @throws Interrupted also when the options stop it
     */
    public Result run(RunOptions options) {
        return run(Wanted.ALL, options);
    }

    /** {@return the rows with what {@code columns} shows of the table only; other fields are not read for them} */
    public Result runShown() {
        return run(Wanted.SHOWN, RunOptions.usual());
    }

    /** Which fields of a table are wanted. */
    private enum Wanted {
        ALL,
        SHOWN
    }

    private Result run(Wanted fields, RunOptions options) {
        return widening(options, (sources, notices, resources, planned) -> {
            TablePlan target = fields == Wanted.SHOWN ? planned.shownOnly() : planned;
            Crewed crewed = Crewed.of(fiesta, sources, notices, resources);
            return crewed.work(() -> chain.text(fields == Wanted.SHOWN, -1), engine -> {
                Worked worked =
                        Objects.requireNonNull(engine.run(List.of(target)).get(target));
                return Result.of(target, worked, notices, engine.timings());
            });
        });
    }

    /**
     * Looks at the table as each of its clauses leaves it.
     *
     * @param rows the number of first rows
     * @return these, in their order
     */
    public List<StepLook> steps(int rows) {
        if (chain.root() != null) {
            throw new RequestException("a table without clauses has no steps");
        }
        return widening(
                RunOptions.usual(),
                (sources, notices, resources, planned) -> Crewed.of(fiesta, sources, notices, resources)
                        .work(
                                () -> chain.text(false, rows),
                                engine -> StepLooks.of(
                                                planned,
                                                Question.Steps.upTo(planned, 0, rows, chain::upTo),
                                                engine,
                                                new Notices())
                                        .stream()
                                        .map(StepLook::withoutLine)
                                        .toList()));
    }

    /** Works something out; where an input turns out to need wider types, again with those. */
    private <T> T widening(RunOptions options, Work<T> work) {
        return Run.of(fiesta, options, chain.ground(), (notices, resources) -> {
            Map<String, Source> sources = new HashMap<>();
            TablePlan planned = chain.planned(sources);
            return work.with(sources, notices, resources, planned);
        });
    }

    private interface Work<T> {
        T with(Map<String, Source> sources, Notices notices, Resources resources, TablePlan planned);
    }

    /** Its records as those of an input: of a table without clauses they are its own, others are worked out. */
    Source asSource() {
        Root root = chain.root();
        if (root != null) {
            chain.refresh();
            return root.source();
        }
        try (Result result = run()) {
            return result.asSource();
        }
    }

    /** Its records in the stead of an input's. */
    Inputs.Handed handed() {
        Root root = chain.root();
        return new Inputs.Handed() {
            @Override
            public Source source() {
                return asSource();
            }

            @Override
            public FilesSeen seen() {
                return root == null ? FilesSeen.none() : root.filesSeen();
            }

            @Override
            public boolean isAskedAgain() {
                return root == null || root.isAskedAgain();
            }
        };
    }
}
