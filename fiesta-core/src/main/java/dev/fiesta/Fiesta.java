package dev.fiesta;

import dev.fiesta.brief.Access;
import dev.fiesta.brief.InputOpener;
import dev.fiesta.brief.Placed;
import dev.fiesta.catalogue.Entry;
import dev.fiesta.compute.RowFunction;
import dev.fiesta.crew.Crew;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Parser;
import dev.fiesta.plan.Catalogue;
import dev.fiesta.plan.Parameters;
import dev.fiesta.problem.RequestException;
import dev.fiesta.progress.Progress;
import dev.fiesta.progress.Watch;
import dev.fiesta.source.HandedRows;
import dev.fiesta.source.RecordSource;
import dev.fiesta.source.Source;
import dev.fiesta.source.files.FilesSeen;
import dev.fiesta.source.files.Paths;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Resources;
import dev.fiesta.store.Shares;
import dev.fiesta.value.Schema;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledThreadPoolExecutor;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * The door of the library. It is long because each kind of records has its call here.
 *
 * <pre>{@code
 * try (Fiesta fiesta = Fiesta.open()) {
 *     Result best = fiesta.read(Path.of("sales.csv"))
 *             .only("status = 'settled'")
 *             .add("net = amount - fee")
 *             .per("site", "stall").give("sales = count()", "takings = sum(net)")
 *             .add("place = rank(within site along takings desc)")
 *             .sort("site", "place")
 *             .run();
 * }
 * }</pre>
 *
 * <p>Thread-safe. Tables made from it are descriptions; nothing is worked out before {@link Table#run}.
 */
public final class Fiesta implements AutoCloseable {
    private static final Path HERE = Path.of("");

    private final int threads;
    private final long memory;
    private final Shares shares;
    private final Consumer<Progress> progress;
    private final Access access;
    private final Map<String, RowFunction> functions;
    private final @Nullable Crew crew;
    private @Nullable ScheduledExecutorService clock;
    private volatile boolean closed;

    Fiesta(FiestaBuilder settings) {
        this.threads = settings.threads();
        this.memory = settings.memory();
        this.shares = new Shares(threads, memory);
        this.progress = settings.progress();
        this.access = settings.access(version());
        this.functions = settings.functions();
        this.crew = settings.crew();
    }

    /** {@return one with the usual settings: as many threads as the machine has processors, a quarter of the memory} */
    public static Fiesta open() {
        return with().open();
    }

    /** {@return settings of one's own, each with a default} */
    public static FiestaBuilder with() {
        return new FiestaBuilder();
    }

    int threads() {
        return threads;
    }

    /** What looks at records without holding many. */
    Resources resources() {
        return new Resources(threads, new Memory(memory), new Watch(progress));
    }

    /** What is defined besides the language. */
    Map<String, RowFunction> functionsDefined() {
        return functions;
    }

    /** What may be read, and by whom. */
    Access access() {
        return access;
    }

    /** Who reads large files together with this, or null. */
    @Nullable
    Crew crew() {
        return crew;
    }

    /**
     * Does something that options may stop as a whole: several runs, or a run with all that is read before it.
     *
     * @param <T> what comes of it
     * @param options whose timeout and cancellation hold for all of it
     * @param work what is done, in this thread
     * @return what came of it
     * @throws dev.fiesta.problem.Interrupted when it was stopped
     */
    public <T> T stoppable(RunOptions options, Supplier<T> work) {
        if (closed) {
            throw new RequestException("this Fiesta is closed; open another");
        }
        return Stopping.run(Given.needed(options, "options"), this::clock, Given.needed(work, "work"));
    }

    private synchronized ScheduledExecutorService clock() {
        if (clock == null) {
            ScheduledThreadPoolExecutor made = new ScheduledThreadPoolExecutor(1, job -> {
                Thread thread = new Thread(job, "fiesta-clock");
                thread.setDaemon(true);
                return thread;
            });
            made.setRemoveOnCancelPolicy(true);
            clock = made;
        }
        return clock;
    }

    /**
     * Works something out within the memory of this Fiesta; where the virtual machine has no more, once again with little of it, so that
     * rows go to a file early.
     */
    <T> T within(RunOptions options, Function<Resources, T> work) {
        Consumer<Progress> told = options.progress() == null ? progress : options.progress();
        try (Shares.Share share = shares.begin()) {
            try {
                return work.apply(share.resources(memory, new Watch(told)));
            } catch (Memory.Exhausted first) {
                if (memory <= Memory.tight(memory)) {
                    throw first.asFailure();
                }
            }
            try {
                return work.apply(share.resources(Memory.tight(memory), new Watch(told)));
            } catch (Memory.Exhausted again) {
                throw again.asFailure();
            }
        }
    }

    /**
     * The records of a file of delimited text, or of another format by its ending; the delimiter and the types are worked out.
     *
     * @param file this very file, of whatever file system
     * @return a table of its records; nothing but the first of them is looked at yet
     * @throws dev.fiesta.problem.DataException when there is none, or its fields cannot be read
     */
    public Table read(Path file) {
        return read(List.of(Given.needed(file, "a path")));
    }

    /**
     * The records of several files as one, in the order given; all have the same columns.
     *
     * @param files at least one
     * @return the table that this leaves
     */
    public Table read(List<Path> files) {
        return read(files, "");
    }

    /**
     * As {@link #read(List)}, told how to read.
     *
     * @param files at least one
     * @param options of an input as a brief has them: {@code delimiter ';' skip 2 fields stall text}
     * @return the table that this leaves
     * @throws dev.fiesta.problem.BriefException when they cannot be right
     */
    public Table read(List<Path> files, String options) {
        List<Paths.Named> named = Given.needed(files, "a list of paths").stream()
                .map(f -> new Paths.Named(Given.needed(f, "a path").toString(), f))
                .toList();
        if (named.isEmpty()) {
            throw new RequestException("a file is needed, and the list has none");
        }
        return input("records", options, input -> input.of(named));
    }

    /**
     * The records of all files that fit a pattern, as one, by their names: {@code sales-*.csv}, {@code 2026/**}{@code /sales.csv};
     * {@code -} is standard input.
     *
     * @param pattern a path in which {@code *}, {@code ?} and {@code [abc]} stand for what may stand there; relative to the working folder
     * @return the table that this leaves
     * @throws dev.fiesta.problem.DataException when no file fits
     */
    public Table readAll(String pattern) {
        return readAll(List.of(Given.needed(pattern, "a pattern")), "");
    }

    /**
     * As {@link #readAll(String)}, of several patterns in their order, told how to read.
     *
     * @param patterns each a path or a pattern
     * @param options as for {@link #read(List, String)}; may be empty
     * @return the table that this leaves
     */
    public Table readAll(List<String> patterns, String options) {
        List<String> all = List.copyOf(Given.needed(patterns, "a list of patterns"));
        if (all.isEmpty()) {
            throw new RequestException("a pattern is needed, and the list has none");
        }
        return input("records", options, input -> input.find(all));
    }

    private Table input(String name, String options, UnaryOperator<InputOpener.At> where) {
        String text = "input " + name + " from 'records'\n" + Given.needed(options, "a text of options");
        BriefTree brief = Parser.brief(new BriefText("options", text));
        BriefTree.Input input = brief.inputs().get(0);
        boolean more = brief.inputs().size() != 1
                || !brief.tables().isEmpty()
                || !brief.parameters().isEmpty()
                || !brief.uses().isEmpty()
                || brief.report() != null;
        if (more || input.query() != null || input.paths().size() != 1) {
            throw new RequestException("Only options of an input can be told here, not '" + options + "'.");
        }
        InputOpener opener = new InputOpener(brief.source(), HERE, access, "en", Parameters.NONE);
        InputOpener.At at = where.apply(opener.at(input));
        return Table.of(this, name, () -> at.open().source(), at::seen);
    }

    /**
     * Records that are in memory already: components are fields.
     *
     * @param <T> the class of the records
     * @param type a record class whose components are whole numbers, {@code BigDecimal}, {@code double}, {@code String}, {@code boolean},
     *     enums, {@code UUID}, objects of {@code java.time}, or {@code Optional} of those; null is missing
     * @param records are copied when the table is first asked for
     * @return the table that this leaves
     * @throws RequestException when a component is of another class, or a value is one that no type holds
     */
    public <T extends Record> Table records(Class<T> type, List<T> records) {
        Given.needed(type, "a record class");
        List<T> held = Given.needed(records, "a list of records");
        return Table.of(this, "records", () -> RecordSource.of(type, held), FilesSeen::none);
    }

    /**
     * Records that come one after another; they go into a temporary file, so that memory does not grow with them.
     *
     * @param <T> the class of the records
     * @param type as for {@link #records(Class, List)}
     * @param records asked for once for every run; the stream is closed behind it
     * @return the table that this leaves
     */
    public <T extends Record> Table records(Class<T> type, Supplier<? extends Stream<? extends T>> records) {
        Given.needed(type, "a record class");
        Given.needed(records, "a supplier of records");
        return Table.ofRows(this, () -> HandedRows.of(type, records));
    }

    /**
     * Rows that come one after another; they go into a temporary file, so that memory does not grow with them.
     *
     * @param schema the fields
     * @param rows asked for once for every run; each row an array of the values of the fields, of the classes that
     *     {@link #records(Class, List)} names. The stream is closed behind it
     * @return the table that this leaves
     * @throws RequestException when run, where a row has more or fewer values, or a value is not of the type of its field
     */
    public Table rows(Schema schema, Supplier<? extends Stream<Object[]>> rows) {
        Given.needed(schema, "a schema");
        Given.needed(rows, "a supplier of rows");
        return Table.ofRows(this, () -> HandedRows.of(schema, rows));
    }

    /**
     * Records from a source of one's own, read once for every run.
     *
     * @param source what gives them
     * @return a table of them
     */
    public Table from(Source source) {
        Given.needed(source, "a source");
        return Table.of(this, "records", () -> source, FilesSeen::none);
    }

    /**
     * The rows of a result, to go on from; nothing is worked out again.
     *
     * @param rows stays open until the table is first asked for
     * @return a table of them; figures that are hidden are missing
     */
    public Table from(Result rows) {
        Given.needed(rows, "a result");
        return Table.of(this, rows.name(), rows::asSource, FilesSeen::none);
    }

    /**
     * Records from a source that is asked for anew by every run.
     *
     * @param source gives what gives them
     * @return a table of them
     */
    public Table from(Supplier<? extends Source> source) {
        Given.needed(source, "a source");
        return Table.ofRows(this, () -> Given.needed(source.get(), "a source"));
    }

    /**
     * As {@link Brief#read(Path)}, where no file is read that this Fiesta {@link FiestaBuilder#mayRead may not}.
     *
     * @param file the brief
     * @return the brief, read
     */
    public Brief brief(Path file) {
        return Brief.read(file, access::refuseOutside);
    }

    /**
     * As {@link Brief#of(String, String, Path)}, where no file is read that this Fiesta {@link FiestaBuilder#mayRead may not}.
     *
     * @param name what problems call it
     * @param text the brief
     * @param folder where its paths start
     * @return the brief, read
     */
    public Brief brief(String name, String text, Path folder) {
        return Brief.of(name, text, folder, access::refuseOutside);
    }

    /**
     * The tables of a brief.
     *
     * @param brief the brief
     * @param folder where relative paths start
     * @param parameters values by name: objects of the parameter's type, lists of them, or texts to be read as such
     * @return the tables, ready to run
     * @throws dev.fiesta.problem.BriefException when the brief cannot be right
     * @throws dev.fiesta.problem.DataException when an input is not there or not readable
     */
    public Tables tables(BriefTree brief, Path folder, Map<String, ?> parameters) {
        Placed placed = new Placed(Given.needed(brief, "a brief"), Given.needed(folder, "a folder"));
        return new Tables(this, List.of(placed), Given.needed(parameters, "a map of values"), Map.of());
    }

    /** {@return the version of this library, as it was built} */
    public static String version() {
        try (java.io.InputStream in = Fiesta.class.getResourceAsStream("version.txt")) {
            return new String(Objects.requireNonNull(in).readAllBytes(), java.nio.charset.StandardCharsets.UTF_8)
                    .strip();
        } catch (java.io.IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    /** {@return the functions of the language, family by family} */
    public static List<Entry> functions() {
        return Catalogue.entries();
    }

    /**
     * A name as texts of the language have it, for names of fields that come from outside: in double quotes, whatever stands in it.
     *
     * <pre>{@code
     * table.only(Fiesta.quote(field) + " = :value", Map.of("value", value))
     * }</pre>
     *
     * @param name its name
     * @return the name, quoted
     * @throws RequestException when it is empty, or holds a sign that no name may
     */
    public static String quote(String name) {
        return ClauseText.quoted(Given.needed(name, "a name"));
    }

    /** Lets no run begin any more; those that go on come to their end. Results stay what they are. */
    @Override
    public synchronized void close() {
        closed = true;
        if (clock != null) {
            clock.shutdown();
        }
    }
}
