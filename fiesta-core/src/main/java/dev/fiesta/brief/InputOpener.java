package dev.fiesta.brief;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.BriefTree.InputOptions;
import dev.fiesta.language.Span;
import dev.fiesta.plan.Parameters;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.Aside;
import dev.fiesta.source.Asked;
import dev.fiesta.source.Databases;
import dev.fiesta.source.DelimitedSource;
import dev.fiesta.source.InputFormat;
import dev.fiesta.source.PathFields;
import dev.fiesta.source.Source;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.Archives;
import dev.fiesta.source.files.FilesSeen;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Opens the inputs of a brief. */
public final class InputOpener {
    private final BriefText text;
    private final Path folder;
    private final Access access;
    private final List<InputFormat> formats;
    private final Parameters parameters;
    private final String language;
    private final ToldFields told;
    private boolean standardInputRead;

    /**
     * @param folder where relative paths start
     * @param access knows what can be read besides delimited text
     * @param language of the names of months and days in data
     * @param parameters what queries may ask by
     */
    public InputOpener(BriefText text, Path folder, Access access, String language, Parameters parameters) {
        this.access = access;
        this.parameters = parameters;
        this.language = language;
        this.text = text;
        this.folder = folder;
        this.formats = access.formats();
        this.told = new ToldFields(text, language);
    }

    /**
     * An input and where it was found.
     *
     * @param files none where there is a query
     * @param asked the query that was asked, or null where there is none, or it was asked for its fields only
     * @param ordered whether its records come in the same order again
     */
    public record Opened(
            Source source,
            List<Paths.Named> files,
            @Nullable Asked asked,
            boolean ordered) {}

    /** An input that is read from files which are told apart from its text. */
    public final class At {
        private final BriefTree.Input input;
        private final Supplier<List<Paths.Named>> found;
        private final Supplier<FilesSeen> seen;
        private final boolean onceOnly;

        private At(
                BriefTree.Input input, Supplier<List<Paths.Named>> found, Supplier<FilesSeen> seen, boolean onceOnly) {
            this.input = input;
            this.found = found;
            this.seen = seen;
            this.onceOnly = onceOnly;
        }

        /** From these very files. */
        public At of(List<Paths.Named> files) {
            Supplier<List<Paths.Named>> there =
                    () -> access.allowed(files).stream().map(Paths::file).toList();
            Supplier<FilesSeen> now = () -> FilesSeen.of(access.allowed(files).stream()
                    .filter(f -> !Paths.isPipe(f.path()))
                    .map(Paths::file)
                    .toList());
            return new At(input, there, now, files.stream().anyMatch(f -> Paths.isPipe(f.path())));
        }

        /** From the files that fit paths and patterns. */
        public At find(List<String> paths) {
            return new At(
                    input,
                    () -> paths.stream().flatMap(p -> found(p).stream()).toList(),
                    () -> now(paths),
                    paths.stream().anyMatch(p -> Paths.isOnceOnly(folder, p)));
        }

        public Opened open() {
            refuseUnreadable(input);
            return InputOpener.this.open(input, found.get(), onceOnly);
        }

        public FilesSeen seen() {
            return seen.get();
        }
    }

    public At at(BriefTree.Input input) {
        return new At(input, List::of, FilesSeen::none, false);
    }

    private List<Paths.Named> found(String path) {
        access.refuseOutside(folder, path);
        return access.allowed(Paths.find(folder, path));
    }

    private FilesSeen now(List<String> paths) {
        paths.forEach(p -> access.refuseOutside(folder, p));
        return FilesSeen.of(folder, paths);
    }

    /** The files of an input as they are now. */
    FilesSeen seen(BriefTree.Input input, java.util.function.UnaryOperator<String> path) {
        return now(input.paths().stream().map(p -> path.apply(p.text())).toList());
    }

    /**
     * @param path turns a path as written into one to be opened
     * @param ask whether a query is asked for its rows, or for its fields only where that is enough to plan
     */
    Opened open(BriefTree.Input input, java.util.function.UnaryOperator<String> path, boolean ask) {
        refuseUnreadable(input);
        if (input.query() != null) {
            return asked(input, input.query(), fields(input), ask);
        }
        List<Paths.Named> files = new ArrayList<>();
        for (BriefTree.Path written : input.paths()) {
            String text = path.apply(written.text());
            if (text.equals("-") && standardInputRead) {
                throw problem(input, "Standard input can be read once only.", "Let other tables take it from here.");
            }
            standardInputRead |= text.equals("-");
            files.addAll(found(text));
        }
        return open(input, files, input.paths().stream().anyMatch(p -> Paths.isOnceOnly(folder, path.apply(p.text()))));
    }

    private List<FieldSpec> fields(BriefTree.Input input) {
        return input.fields().stream().map(told::spec).toList();
    }

    private Opened open(BriefTree.Input input, List<Paths.Named> files, boolean onlyOnce) {
        InputOptions options = input.options();
        List<FieldSpec> fields = fields(input);
        List<Paths.Named> listed = Archives.listed(files);
        refuseForeign(input, format(options.as(), listed));
        boolean onceOnly = onlyOnce || options.aside() != null;
        if (!options.inside().fromPath()) {
            return new Opened(copied(input, files, fields, onceOnly), files, null, true);
        }
        List<String> inPath = PathFields.names(listed);
        List<FieldSpec> told =
                fields.stream().filter(f -> !inPath.contains(f.column())).toList();
        Source inFiles = copied(input, files, told, onceOnly);
        return new Opened(
                PathFields.of(inFiles, listed, inPath, fields, ToldOptions.dialect(options)), files, null, true);
    }

    /** Asks a query, once, with the values of the parameters that it names. */
    private Opened asked(BriefTree.Input input, BriefTree.Query query, List<FieldSpec> fields, boolean ask) {
        List<String> foreign = new ArrayList<>(ToldOptions.of(input.options()));
        if (input.options().as() != null) {
            foreign.add("as");
        }
        if (!foreign.isEmpty()) {
            throw problem(
                    input,
                    "This input is a query, to which '" + String.join("', '", foreign) + "' means nothing.",
                    "Take it away.");
        }
        Map<String, Databases.Parameter> values = new LinkedHashMap<>();
        parameters
                .values()
                .forEach((name, value) -> values.put(
                        name,
                        new Databases.Parameter(value.list(), value.items() == null ? List.of() : value.items())));
        String sql = query.file() == null ? query.text() : queryIn(query.file());
        Databases.Query told = new Databases.Query(
                input.name().name(),
                query.database().text(),
                Objects.requireNonNull(sql),
                values,
                query.partedBy() == null ? null : query.partedBy().name(),
                query.parts(),
                access.isConfined() ? null : folder);
        try {
            Optional<Source> peeked = ask
                    ? Optional.empty()
                    : access.databases().fields(told, ToldOptions.dialect(input.options()), fields);
            if (peeked.isPresent()) {
                return new Opened(peeked.get(), List.of(), null, true);
            }
            Databases.Answer answer = access.databases().ask(told, ToldOptions.dialect(input.options()), fields);
            return new Opened(
                    answer.source(),
                    List.of(),
                    new Asked(told.database(), sql, answer.rows(), answer.fingerprint()),
                    answer.ordered());
        } catch (RequestException e) {
            throw problem(query.at(), e.getMessage(), null);
        }
    }

    private String queryIn(BriefTree.Path file) {
        access.refuseOutside(folder, file.text());
        try {
            return Files.readString(folder.resolve(file.text()));
        } catch (NoSuchFileException e) {
            throw problem(
                    file.at(), "There is no file '" + file.text() + "' with a query.", "Paths start in this folder.");
        } catch (IOException | InvalidPathException e) {
            throw problem(file.at(), "'" + file.text() + "' cannot be read.", "A query is plain UTF-8 text.");
        }
    }

    /** @param onceOnly whether the files themselves are needed */
    private Source copied(BriefTree.Input input, List<Paths.Named> files, List<FieldSpec> fields, boolean onceOnly) {
        InputOptions options = input.options();
        Supplier<String> how = () -> String.join(
                "\n",
                "as " + options.as() + " " + options.delimiter() + " " + options.fieldsByName(),
                language,
                ToldOptions.dialect(options).toString(),
                ToldOptions.inside(options).toString(),
                fields.toString());
        return access.copied(
                input.name().name(), how, files, onceOnly, () -> source(options, Archives.unpacked(files), fields));
    }

    private Source source(InputOptions options, List<Paths.Named> files, List<FieldSpec> fields) {
        InputFormat format = format(options.as(), files);
        return format != null
                ? format.open(files, ToldOptions.dialect(options), ToldOptions.inside(options), fields)
                : DelimitedSource.open(
                        files,
                        ToldOptions.dialect(options),
                        options.delimiter() != null || options.as() != null,
                        fields,
                        options.fieldsByName());
    }

    /** The format that was told, or that the endings of all files tell; null for delimited text. */
    private @Nullable InputFormat format(@Nullable String as, List<Paths.Named> files) {
        return formats.stream()
                .filter(f -> as == null
                        ? files.stream().allMatch(file -> f.fits(file.name()))
                        : f.name().equals(as))
                .findFirst()
                .orElse(null);
    }

    /** A field that is used and whose type nobody told: what would be bad in it cannot be said. */
    void refuseUndeclared(BriefTree.Input input, Source source, int field) {
        Type type = source.schema().type(field);
        if (!source.isDeclared(field) && type.kind() != Kind.TEXT && type.kind() != Kind.EMPTY) {
            String name = source.schema().field(field).name();
            throw problem(
                    input,
                    "Records of '" + input.name().name() + "' are set aside where '" + name
                            + "' cannot be read, but what it should be is not told.",
                    "Add it to the fields of the input: fields " + name + " " + type);
        }
    }

    Source settingAside(BriefTree.Input input, Source source, BitSet fields, Aside aside) {
        try {
            return source.settingAside(fields, aside);
        } catch (UnsupportedOperationException e) {
            throw problem(
                    input,
                    "Records of '" + input.name().name()
                            + "' cannot be set aside: that is known for delimited text only.",
                    "Take 'unreadable aside' away.");
        }
    }

    /** Options that say nothing to a format are refused rather than passed over. */
    private void refuseForeign(BriefTree.Input input, @Nullable InputFormat format) {
        Set<String> known = format == null ? ToldOptions.DELIMITED : format.options();
        List<String> foreign = ToldOptions.of(input.options()).stream()
                .filter(o -> !known.contains(o))
                .toList();
        if (!foreign.isEmpty()) {
            String all = "'" + String.join("', '", foreign) + "'";
            throw problem(
                    input,
                    "This input is read as " + (format == null ? "delimited text" : format.name()) + ", to which " + all
                            + (foreign.size() == 1 ? " means" : " mean") + " nothing.",
                    "Take " + (foreign.size() == 1 ? "it" : "them") + " away, or say what it is: as "
                            + String.join(", as ", names()) + ".");
        }
    }

    private List<String> names() {
        List<String> known = new ArrayList<>(List.of("csv", "tsv"));
        formats.forEach(f -> known.add(f.name()));
        return known;
    }

    private void refuseUnreadable(BriefTree.Input input) {
        String as = input.options().as();
        List<String> known = names();
        if (as != null && !known.contains(as)) {
            throw problem(
                    input,
                    "'" + as + "' is no format that can be read.",
                    "The formats are " + String.join(", ", known) + ".");
        }
        String encoding = input.options().encoding();
        if (encoding != null && !isKnown(encoding)) {
            throw problem(
                    input,
                    "There is no encoding '" + encoding + "'.",
                    "Encodings are named like 'utf-8', 'windows-1252', 'utf-16'.");
        }
    }

    private static boolean isKnown(String encoding) {
        try {
            return Charset.isSupported(encoding);
        } catch (IllegalArgumentException e) {
            return false;
        }
    }

    private BriefException problem(BriefTree.Input input, String message, String suggestion) {
        return problem(input.at(), message, suggestion);
    }

    private BriefException problem(Span at, String message, @Nullable String suggestion) {
        return new BriefException(List.of(text.problem(at, message, suggestion)));
    }
}
