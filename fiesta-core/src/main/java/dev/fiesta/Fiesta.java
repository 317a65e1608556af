package dev.fiesta;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.copy.Copies;
import dev.fiesta.engine.Memory;
import dev.fiesta.engine.Resources;
import dev.fiesta.language.BriefTree;
import dev.fiesta.plan.Catalogue;
import dev.fiesta.plan.Parameters;
import dev.fiesta.problem.RequestException;
import dev.fiesta.progress.Progress;
import dev.fiesta.progress.Watch;
import dev.fiesta.source.Archives;
import dev.fiesta.source.Databases;
import dev.fiesta.source.DelimitedSource;
import dev.fiesta.source.Dialect;
import dev.fiesta.source.FilesSeen;
import dev.fiesta.source.InputFormat;
import dev.fiesta.source.Inside;
import dev.fiesta.source.Paths;
import dev.fiesta.source.RecordSource;
import dev.fiesta.source.Source;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import java.util.function.Supplier;
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
    private final Consumer<Progress> progress;
    private final List<InputFormat> formats;
    private final Databases databases;
    private final @Nullable Copies copies;

    private Fiesta(
            int threads,
            long memory,
            Consumer<Progress> progress,
            List<InputFormat> formats,
            Databases databases,
            @Nullable Copies copies) {
        this.copies = copies;
        this.databases = databases;
        this.progress = progress;
        this.threads = threads;
        this.memory = memory;
        this.formats = List.copyOf(formats);
    }

    /** With as many threads as the machine has processors. */
    public static Fiesta open() {
        return with().open();
    }

    /** Starts with settings of one's own. */
    public static Builder with() {
        return new Builder();
    }

    /** Settings, each with a default. */
    public static final class Builder {
        private int threads = Runtime.getRuntime().availableProcessors();
        private long memory = Memory.usual();
        private Consumer<Progress> progress = p -> {};
        private final List<InputFormat> formats = new ArrayList<>(List.of(InputFormat.FIXED_WIDTH));

        private Databases databases = Databases.NONE;
        private @Nullable Copies copies;

        private Builder() {}

        /**
         * The number of threads that read and calculate; the results do not depend on it.
         *
         * @param count at least 1
         */
        public Builder threads(int count) {
            if (count < 1) {
                throw new RequestException("threads: " + count + ", at least 1 is needed");
            }
            threads = count;
            return this;
        }

        /**
         * About the memory that a run may hold for rows and groups; what is beyond goes to a temporary file. The results do not
         * depend on it. A quarter of what the virtual machine may take, when not told.
         *
         * @param bytes at least 1
         */
        public Builder memory(long bytes) {
            if (bytes < 1) {
                throw new RequestException("memory: " + bytes + " bytes, at least 1 is needed");
            }
            memory = bytes;
            return this;
        }

        /** Who is told where runs stand, some times a second at most, from any thread. */
        public Builder progress(Consumer<Progress> listener) {
            progress = listener;
            return this;
        }

        /** A format of inputs besides delimited text, which is always read. */
        public Builder reads(InputFormat format) {
            formats.add(format);
            return this;
        }

        /** Who asks the queries of inputs; without one, no database is known. */
        public Builder asks(Databases known) {
            databases = known;
            return this;
        }

        /** Keeps copies of inputs that are files, and reads them instead while the files are what they were. */
        public Builder copies(Copies kept) {
            copies = kept;
            return this;
        }

        public Fiesta open() {
            return new Fiesta(threads, memory, progress, formats, databases, copies);
        }
    }

    int threads() {
        return threads;
    }

    Resources resources() {
        return resources(memory);
    }

    private Resources resources(long most) {
        return new Resources(threads, new Memory(most), new Watch(progress));
    }

    /**
     * Works something out within the memory of this Fiesta; where the virtual machine has no more, once again with little of it, so that
     * rows go to a file early.
     */
    <T> T within(java.util.function.Function<Resources, T> work) {
        try {
            return work.apply(resources());
        } catch (Memory.Exhausted first) {
            if (memory <= TIGHT) {
                throw first.asFailure();
            }
        }
        try {
            return work.apply(resources(TIGHT));
        } catch (Memory.Exhausted again) {
            throw again.asFailure();
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

    /** The records of a file of delimited text, or of another format by its ending; the delimiter and the types are worked out. */
    public Table read(Path file) {
        return read(List.of(file));
    }

    /**
     * The records of several files as one, in the order given; all have the same columns. The path {@code -} is standard input,
     * and a path may be a glob.
     */
    public Table read(List<Path> files) {
        List<String> paths = files.stream().map(Path::toString).toList();
        boolean onceOnly = paths.stream().anyMatch(p -> Paths.isOnceOnly(HERE, p));
        return Table.of(
                this,
                "records",
                () -> {
                    List<Paths.Named> found = found(paths);
                    return copied("records", "as they are", found, onceOnly, () -> open(found));
                },
                () -> FilesSeen.of(HERE, paths));
    }

    private static List<Paths.Named> found(List<String> paths) {
        return paths.stream().flatMap(p -> Paths.find(HERE, p).stream()).toList();
    }

    /**
     * As {@link #read(List)}, told how to read.
     *
     * @param options of an input as a brief has them: {@code delimiter ';' skip 2 fields stall text}
     * @throws dev.fiesta.problem.BriefException when they cannot be right
     */
    public Table read(List<Path> files, String options) {
        if (options.isBlank()) {
            return read(files);
        }
        StringBuilder text = new StringBuilder("input records from");
        files.forEach(f -> text.append(' ').append(dev.fiesta.language.Printer.text(f.toString())));
        BriefTree brief =
                dev.fiesta.language.Parser.brief(new dev.fiesta.language.BriefText("options", text + "\n" + options));
        if (brief.inputs().size() != 1
                || brief.inputs().get(0).query() != null
                || !brief.tables().isEmpty()
                || brief.report() != null) {
            throw new RequestException("Only options of an input can be told here, not '" + options + "'.");
        }
        InputOpener opener = new InputOpener(brief.source(), HERE, this, "en", Parameters.NONE);
        return Table.of(
                this,
                "records",
                () -> opener.open(brief.inputs().get(0), path -> path, true).source(),
                () -> opener.seen(brief.inputs().get(0), path -> path));
    }

    private Source open(List<Paths.Named> found) {
        List<Paths.Named> files = Archives.unpacked(found);
        for (InputFormat format : formats) {
            if (files.stream().allMatch(f -> format.fits(f.name()))) {
                return format.open(files, Dialect.STANDARD, Inside.WHOLE, List.of());
            }
        }
        return DelimitedSource.open(files, Dialect.STANDARD, false, List.of(), false);
    }

    /** Records that are in memory already: components are fields. */
    public <T extends Record> Table records(Class<T> type, List<T> records) {
        return Table.of(this, "records", () -> RecordSource.of(type, records), () -> FilesSeen.of(HERE, List.of()));
    }

    /** Records from a source of one's own, read once for every run. */
    public Table from(Source source) {
        return Table.of(this, "records", () -> source, () -> FilesSeen.of(HERE, List.of()));
    }

    /**
     * The tables of a brief.
     *
     * @param folder where relative paths start
     * @param parameters values by name: objects of the parameter's type, lists of them, or texts to be read as such
     * @throws dev.fiesta.problem.BriefException when the brief cannot be right
     * @throws dev.fiesta.problem.DataException when an input is not there or not readable
     */
    public Tables tables(BriefTree brief, Path folder, Map<String, ?> parameters) {
        return tables(List.of(new Tables.Placed(brief, folder)), parameters);
    }

    /**
     * The tables of a brief and of those it uses.
     *
     * @param briefs those used by others before them, the brief itself last
     * @param parameters as for {@link #tables(Brief, Path, Map)}
     */
    public Tables tables(List<Tables.Placed> briefs, Map<String, ?> parameters) {
        return new Tables(this, briefs, parameters);
    }

    /** The version of this library, as it was built. */
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

    /** The functions of the language, family by family. */
    public static List<Entry> functions() {
        return Catalogue.entries();
    }

    /** Nothing is held open between runs; closing is for symmetry and for what may come to be held. */
    @Override
    public void close() {}
}
