package dev.fiesta;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.compute.RowFunction;
import dev.fiesta.copy.Copies;
import dev.fiesta.engine.Memory;
import dev.fiesta.engine.Resources;
import dev.fiesta.engine.Shares;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Parser;
import dev.fiesta.plan.Catalogue;
import dev.fiesta.plan.Parameters;
import dev.fiesta.problem.RequestException;
import dev.fiesta.progress.Progress;
import dev.fiesta.progress.Watch;
import dev.fiesta.source.Databases;
import dev.fiesta.source.FilesSeen;
import dev.fiesta.source.HandedRows;
import dev.fiesta.source.InputFormat;
import dev.fiesta.source.Paths;
import dev.fiesta.source.RecordSource;
import dev.fiesta.source.Source;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledThreadPoolExecutor;
import java.util.function.BiFunction;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * The door of the library.
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
    /** What a run holds that is made again because memory ended. */
    private static final long TIGHT = 1 << 20;

    private static final Path HERE = Path.of("");

    private final int threads;
    private final long memory;
    private final Shares shares;
    private final Consumer<Progress> progress;
    private final List<InputFormat> formats;
    private final Databases databases;
    private final @Nullable Copies copies;
    private final Map<String, RowFunction> functions;
    private final @Nullable Reach reach;
    private @Nullable ScheduledExecutorService clock;
    private volatile boolean closed;

    private Fiesta(Builder settings) {
        this.threads = settings.threads;
        this.memory = settings.memory;
        this.shares = new Shares(threads, memory);
        this.progress = settings.progress;
        this.formats = List.copyOf(settings.formats);
        this.databases = settings.databases;
        this.copies = settings.copies;
        this.functions = Map.copyOf(settings.functions);
        this.reach = settings.reach.isEmpty() ? null : new Reach(settings.reach);
    }

    /** {@return one with the usual settings: as many threads as the machine has processors, a quarter of the memory} */
    public static Fiesta open() {
        return with().open();
    }

    /** {@return settings of one's own, each with a default} */
    public static Builder with() {
        return new Builder();
    }

    /** Settings, each with a default. */
    public static final class Builder {
        private int threads = Runtime.getRuntime().availableProcessors();
        private long memory = Memory.usual();
        private Consumer<Progress> progress = p -> {};
        private final List<InputFormat> formats = new ArrayList<>(List.of(InputFormat.FIXED_WIDTH));
        private final Map<String, RowFunction> functions = new LinkedHashMap<>();
        private final List<Path> reach = new ArrayList<>();

        private Databases databases = Databases.NONE;
        private @Nullable Copies copies;

        private Builder() {}

        /**
         * The number of threads that read and calculate, for all runs together; each run has one at least. The results do not depend on
         * it. As many as the machine has processors, when not told.
         *
         * @param count at least 1
         * @return these settings
         * @throws RequestException when it is less
         */
        public Builder threads(int count) {
            if (count < 1) {
                throw new RequestException("threads: " + count + ", at least 1 is needed");
            }
            threads = count;
            return this;
        }

        /**
         * About the memory that all runs together may hold for rows and groups; what is beyond goes to a temporary file. The results do
         * not depend on it. A quarter of what the virtual machine may take, when not told.
         *
         * @param bytes at least 1
         * @return these settings
         * @throws RequestException when it is less
         */
        public Builder memory(long bytes) {
            if (bytes < 1) {
                throw new RequestException("memory: " + bytes + " bytes, at least 1 is needed");
            }
            memory = bytes;
            return this;
        }

        /**
         * Tells somebody where runs stand, some times a second at most, from any thread.
         *
         * @param listener who is told
         * @return these settings
         */
        public Builder progress(Consumer<Progress> listener) {
            progress = Given.needed(listener, "a listener");
            return this;
        }

        /**
         * Reads a format of inputs besides delimited text, which is always read.
         *
         * @param format such as those of {@code dev.fiesta.formats}, or one of one's own
         * @return these settings
         */
        public Builder reads(InputFormat format) {
            formats.add(Given.needed(format, "a format"));
            return this;
        }

        /**
         * Asks the queries of inputs; without it, no database is known.
         *
         * @param known who asks them
         * @return these settings
         */
        public Builder asks(Databases known) {
            databases = Given.needed(known, "who asks queries");
            return this;
        }

        /**
         * Keeps copies of inputs that are files, and reads them instead while the files are what they were.
         *
         * @param kept where they are kept
         * @return these settings
         */
        public Builder copies(Copies kept) {
            copies = Given.needed(kept, "a place for copies");
            return this;
        }

        /**
         * Refuses every file outside some folders, whatever a brief or a call names: inputs, archives, queries in files, briefs that are
         * used, wherever links lead. May be called several times; without it, every file may be read.
         *
         * @param folders where files may be read
         * @return these settings
         * @throws RequestException when one is no folder
         */
        public Builder mayRead(Path... folders) {
            for (Path folder : Given.needed(folders, "a folder")) {
                reach.add(Reach.folder(Given.needed(folder, "a folder")));
            }
            return this;
        }

        /**
         * A function of one's own, which texts of the language may call by its name.
         *
         * <pre>{@code
         * Fiesta.with().define("vat", BigDecimal.class, Type.decimal(2), net -> net.multiply(RATE).setScale(2, RoundingMode.HALF_EVEN))
         * }</pre>
         *
         * @param <A> the class of its argument
         * @param name a name that nothing in the language has
         * @param takes the class of its argument: {@code Long}, {@code BigDecimal}, {@code Double}, {@code String}, {@code Boolean},
         *     {@code LocalDate}, {@code LocalDateTime} or {@code Instant}
         * @param gives the type of its results, which is settled before the first row; a decimal with its digits
         * @param body is called with values that are there, by several threads at once, and gives the same for the same; null is missing
         * @return these settings
         * @throws RequestException when the name is taken or can be none, or no type is of such a class
         */
        public <A> Builder define(String name, Class<A> takes, Type gives, Function<? super A, ?> body) {
            Given.needed(body, "a body");
            return define(
                    name, List.of(Given.needed(takes, "a class")), gives, args -> body.apply(takes.cast(args[0])));
        }

        /**
         * As {@link #define(String, Class, Type, Function)}, with two arguments.
         *
         * @param <A> the class of the first
         * @param <B> the class of the second
         * @param name a name that nothing in the language has
         * @param first the class of the first argument
         * @param second the class of the second
         * @param gives the type of its results
         * @param body is called with values that are there
         * @return these settings
         */
        public <A, B> Builder define(
                String name, Class<A> first, Class<B> second, Type gives, BiFunction<? super A, ? super B, ?> body) {
            Given.needed(body, "a body");
            List<Class<?>> takes = List.of(Given.needed(first, "a class"), Given.needed(second, "a class"));
            return define(name, takes, gives, args -> body.apply(first.cast(args[0]), second.cast(args[1])));
        }

        /**
         * As {@link #define(String, Class, Type, Function)}, with any number of arguments.
         *
         * @param name a name that nothing in the language has
         * @param takes the classes of its arguments
         * @param gives the type of its results
         * @param body is called with values that are there, in the order of their classes
         * @return these settings
         */
        public Builder define(String name, List<Class<?>> takes, Type gives, Function<Object[], ?> body) {
            RowFunction function = OwnFunctions.of(
                    Given.needed(name, "a name"),
                    Given.needed(takes, "classes"),
                    Given.needed(gives, "a type"),
                    Given.needed(body, "a body"));
            if (functions.put(name, function) != null) {
                throw new RequestException("there are two functions '" + name + "'; give the second another name");
            }
            return this;
        }

        /** {@return one with the settings told so far; may be called again} */
        public Fiesta open() {
            return new Fiesta(this);
        }
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

    /** Whether only some folders may be read. */
    boolean isConfined() {
        return reach != null;
    }

    /** Refuses a path that may not be read, before anything of it is looked at. */
    void refuseOutside(Path folder, String path) {
        if (reach != null) {
            reach.refuse(folder, path);
        }
    }

    /** The same files, none of which lies where it may not be read. */
    List<Paths.Named> allowed(List<Paths.Named> files) {
        if (reach != null) {
            files.forEach(reach::refuse);
        }
        return files;
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
                if (memory <= TIGHT) {
                    throw first.asFailure();
                }
            }
            try {
                return work.apply(share.resources(TIGHT, new Watch(told)));
            } catch (Memory.Exhausted again) {
                throw again.asFailure();
            }
        }
    }

    List<InputFormat> formats() {
        return formats;
    }

    Databases databases() {
        return databases;
    }

    /** The files of an input, or a copy of them where copies are kept and the files can be read more than once. */
    Source copied(String input, String how, List<Paths.Named> files, boolean onceOnly, Supplier<Source> open) {
        return copies == null || onceOnly
                ? open.get()
                : copies.of(
                        input,
                        version() + "\n" + how,
                        files,
                        open,
                        threads,
                        resources().watch());
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
     * /**
     *      * The records of all files that fit a pattern, as one, by their names: {@code sales-*.csv}, {@code 2026/**}{@code /sales.csv};
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
        InputOpener opener = new InputOpener(brief.source(), HERE, this, "en", Parameters.NONE);
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
     * As {@link Brief#read(Path)}, where no file is read that this Fiesta {@link Builder#mayRead may not}.
     *
     * @param file the brief
     * @return the brief, read
     */
    public Brief brief(Path file) {
        return Brief.read(file, this::refuseOutside);
    }

    /**
     * As {@link Brief#of(String, String, Path)}, where no file is read that this Fiesta {@link Builder#mayRead may not}.
     *
     * @param name what problems call it
     * @param text the brief
     * @param folder where its paths start
     * @return the brief, read
     */
    public Brief brief(String name, String text, Path folder) {
        return Brief.of(name, text, folder, this::refuseOutside);
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
        Tables.Placed placed = new Tables.Placed(Given.needed(brief, "a brief"), Given.needed(folder, "a folder"));
        return tables(List.of(placed), parameters);
    }

    /**
     * The tables of a brief and of those it uses.
     *
     * @param briefs those used by others before them, the brief itself last
     * @param parameters as for {@link #tables(BriefTree, Path, Map)}
     * @return the tables, ready to run
     */
    public Tables tables(List<Tables.Placed> briefs, Map<String, ?> parameters) {
        Given.needed(parameters, "a map of values");
        return new Tables(this, Given.needed(briefs, "a list of briefs"), parameters, Map.of());
    }

    /** {@return the version of this library, as it was built} */
    public static String version() {
        try (java.io.InputStream in = Fiesta.class.getResourceAsStream("version.txt")) {
            return new String(
                            java.util.Objects.requireNonNull(in).readAllBytes(),
                            java.nio.charset.StandardCharsets.UTF_8)
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
