package dev.fiesta;

import dev.fiesta.brief.Access;
import dev.fiesta.compute.RowFunction;
import dev.fiesta.copy.Copies;
import dev.fiesta.crew.Crew;
import dev.fiesta.member.Member;
import dev.fiesta.problem.RequestException;
import dev.fiesta.progress.Progress;
import dev.fiesta.source.Databases;
import dev.fiesta.source.InputFormat;
import dev.fiesta.store.Memory;
import dev.fiesta.value.Type;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.BiFunction;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Settings of a {@link Fiesta}, each with a default.
 *
 * <pre>{@code
 * Fiesta fiesta = Fiesta.with().threads(2).memory(512 << 20).open();
 * }</pre>
 */
public final class FiestaBuilder {
    private static final int MOST_THREADS = 1024;

    private int threads = Runtime.getRuntime().availableProcessors();
    private long memory = Memory.usual();
    private Consumer<Progress> progress = p -> {};
    private final List<InputFormat> formats = new ArrayList<>(List.of(InputFormat.FIXED_WIDTH));
    private final Map<String, RowFunction> functions = new LinkedHashMap<>();
    private final List<Path> reach = new ArrayList<>();

    private Databases databases = Databases.NONE;
    private @Nullable Copies copies;
    private @Nullable Crew crew;

    FiestaBuilder() {}

    /**
     * The number of threads that read and calculate, for all runs together; each run has one at least. The results do not depend on
     * it. As many as the machine has processors, when not told.
     *
     * @param count 1 to 1,024
     * @return these settings
     * @throws RequestException when it is less or more
     */
    public FiestaBuilder threads(int count) {
        if (count < 1) {
            throw new RequestException("threads: " + count + ", at least 1 is needed");
        }
        if (count > MOST_THREADS) {
            throw new RequestException("threads: " + count + ", at most " + MOST_THREADS + " are possible");
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
    public FiestaBuilder memory(long bytes) {
        if (bytes < 1) {
            throw new RequestException("memory: " + bytes + " bytes, at least 1 is needed");
        }
        memory = bytes;
        return this;
    }

    /**
     * Tells somebody each phase of runs and where they stand, some times a second at most, from any thread.
     *
     * @param listener who is told
     * @return these settings
     */
    public FiestaBuilder progress(Consumer<Progress> listener) {
        progress = Given.needed(listener, "a listener");
        return this;
    }

    /**
     * Reads a format of inputs besides delimited text, which is always read.
     *
     * @param format such as those of {@code dev.fiesta.formats}, or one of one's own
     * @return these settings
     */
    public FiestaBuilder reads(InputFormat format) {
        formats.add(Given.needed(format, "a format"));
        return this;
    }

    /**
     * Asks the queries of inputs; without it, no database is known.
     *
     * @param known who asks them
     * @return these settings
     */
    public FiestaBuilder asks(Databases known) {
        databases = Given.needed(known, "who asks queries");
        return this;
    }

    /**
     * Keeps copies of inputs that are files, and reads them instead while the files are what they were.
     *
     * @param kept where they are kept
     * @return these settings
     */
    public FiestaBuilder copies(Copies kept) {
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
    public FiestaBuilder mayRead(Path... folders) {
        for (Path folder : Given.needed(folders, "a folder")) {
            reach.add(Access.folder(Given.needed(folder, "a folder")));
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
    public <A> FiestaBuilder define(String name, Class<A> takes, Type gives, Function<? super A, ?> body) {
        Given.needed(body, "a body");
        return define(name, List.of(Given.needed(takes, "a class")), gives, args -> body.apply(takes.cast(args[0])));
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
    public <A, B> FiestaBuilder define(
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
    public FiestaBuilder define(String name, List<Class<?>> takes, Type gives, Function<Object[], ?> body) {
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

    /**
     * Lets others read large inputs of runs together. What comes of a run is the same as without them, to the byte.
     *
     * @param together the crew, which stays open when the Fiesta is closed
     * @return these settings
     */
    public FiestaBuilder crew(Crew together) {
        crew = Given.needed(together, "a crew");
        return this;
    }

    /**
     * {@return one who reads parts of inputs for runs that others have begun, with the threads, the memory and the folders told so
     * far}
     */
    public Member member() {
        Access allowed = access(Fiesta.version());
        Path root = Path.of("").toAbsolutePath().getRoot();
        return new Member(
                Fiesta.version(), threads, memory, file -> allowed.refuseOutside(root, file.toString()), formats);
    }

    /** {@return one with the settings told so far; may be called again} */
    public Fiesta open() {
        return new Fiesta(this);
    }

    int threads() {
        return threads;
    }

    long memory() {
        return memory;
    }

    Consumer<Progress> progress() {
        return progress;
    }

    @Nullable
    Crew crew() {
        return crew;
    }

    Map<String, RowFunction> functions() {
        return Map.copyOf(functions);
    }

    /** @param version of this library */
    Access access(String version) {
        return new Access(formats, databases, copies, reach, version, threads, progress);
    }
}
