package dev.fiesta.cli.editor;

import dev.fiesta.Fiesta;
import dev.fiesta.editing.KnownInput;
import dev.fiesta.editing.UnfinishedBrief;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Parser;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.Problem;
import dev.fiesta.report.ReportCheck;
import dev.fiesta.value.Schema;
import java.io.IOException;
import java.net.URI;
import java.nio.file.FileSystemNotFoundException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** The briefs that are open in the editor, as they stand there, with what is known of them. */
final class Documents {
    private static final List<String> FORMATS =
            List.of("csv", "tsv", "jsonl", "json", "xlsx", "ods", "parquet", "fixed");
    /** So many briefs of a folder are looked through for those that use one. */
    private static final int MOST_NEIGHBOURS = 200;
    /** No brief is as large: what is used is data by mistake. */
    private static final int MOST_BYTES = 1 << 20;

    /**
     * A brief as it stands.
     *
     * @param uri as the editor calls it
     * @param path of its file, or null where it has none yet
     */
    record Document(String uri, @Nullable Path path, String text, TextPositions positions, UnfinishedBrief brief) {
        String name() {
            return brief.text().name();
        }
    }

    /**
     * Something wrong at a place.
     *
     * @param problem what
     * @param inInput whether it is in what an input names
     */
    record Wrong(Problem problem, boolean inInput) {}

    private final InputLooks looks;
    private final Map<String, String> texts = new ConcurrentHashMap<>();
    private final Map<String, Document> known = new HashMap<>();

    Documents(Fiesta fiesta, Runnable changed) {
        this.looks = new InputLooks(fiesta, () -> {
            forget();
            changed.run();
        });
    }

    void put(String uri, String text) {
        texts.put(uri, text);
        forget(); // others may use it
    }

    void close(String uri) {
        texts.remove(uri);
        forget();
    }

    /** What files hold may be other than before. */
    void again() {
        looks.again();
        forget();
    }

    private synchronized void forget() {
        known.clear();
    }

    void end() {
        looks.close();
    }

    Set<String> uris() {
        return texts.keySet();
    }

    String text(String uri) {
        return texts.getOrDefault(uri, "");
    }

    /** While one is made of what is known, nothing is forgotten: otherwise it could outlive what it was made of. */
    synchronized Document get(String uri) {
        return known.computeIfAbsent(uri, u -> of(u, text(u)));
    }

    private Document of(String uri, String text) {
        Path path = path(uri);
        String name = path == null || path.getFileName() == null
                ? "brief"
                : path.getFileName().toString();
        BriefText brief = new BriefText(name, text);
        return new Document(uri, path, text, new TextPositions(text), UnfinishedBrief.of(brief, around(brief, path)));
    }

    /** The path of a file, or null for what is no file. */
    static @Nullable Path path(String uri) {
        try {
            return Path.of(URI.create(uri));
        } catch (IllegalArgumentException | FileSystemNotFoundException | SecurityException e) {
            return null;
        }
    }

    /** Where paths of a brief start; null where it stands nowhere yet. */
    static @Nullable Path folder(@Nullable Path file) {
        return file == null ? null : file.getParent();
    }

    private UnfinishedBrief.Around around(BriefText text, @Nullable Path path) {
        Path folder = folder(path);
        if (path == null || folder == null) {
            return UnfinishedBrief.Around.NOTHING;
        }
        BriefTree tree = Parser.loosely(text).tree();
        Map<Path, BriefTree> used = new LinkedHashMap<>();
        used(tree, folder, new HashSet<>(List.of(path)), used);
        Map<String, KnownInput> inputs = new LinkedHashMap<>();
        used.forEach((file, other) -> inputs(other, Objects.requireNonNull(file.getParent()), inputs));
        inputs(tree, folder, inputs);
        return new UnfinishedBrief.Around(List.copyOf(used.values()), inputs, FORMATS, folder);
    }

    private void inputs(BriefTree tree, Path folder, Map<String, KnownInput> inputs) {
        for (BriefTree.Input input : tree.inputs()) {
            KnownInput found = looks.of(tree, input, folder).known();
            if (found != null) {
                inputs.put(input.name().name(), found);
            }
        }
    }

    /** The briefs that one uses, those used by others first; what cannot be read is left out. */
    private void used(BriefTree tree, Path folder, Set<Path> open, Map<Path, BriefTree> used) {
        for (BriefTree.Use use : tree.uses()) {
            Path file = file(folder, use.path());
            if (file == null || used.containsKey(file) || !open.add(file)) {
                continue;
            }
            String text = textOf(file);
            if (text != null) {
                BriefTree other =
                        Parser.loosely(new BriefText(use.path(), text)).tree();
                used(other, Objects.requireNonNull(file.getParent()), open, used);
                used.put(file, other);
            }
        }
    }

    private static @Nullable Path file(Path folder, String path) {
        try {
            return folder.resolve(path).toAbsolutePath().normalize();
        } catch (InvalidPathException e) {
            return null;
        }
    }

    /** The text of a brief: as the editor has it, else as its file has it; null where there is none. */
    private @Nullable String textOf(Path file) {
        for (String uri : texts.keySet()) {
            if (file.equals(path(uri))) {
                return text(uri);
            }
        }
        try {
            return Files.isRegularFile(file) && Files.size(file) <= MOST_BYTES ? Files.readString(file) : null;
        } catch (IOException e) {
            return null;
        }
    }

    /** The file of the brief that one uses by a path, with its text as it stands; null where there is none. */
    @Nullable
    Document used(Document from, String path) {
        Path folder = folder(from.path());
        Path file = folder == null ? null : file(folder, path);
        String text = file == null ? null : textOf(file);
        return text == null ? null : of(Objects.requireNonNull(file).toUri().toString(), text);
    }

    /** All briefs that one uses, itself or through others, as they stand; those used by others first. */
    List<Document> allUsed(Document from) {
        Map<Path, BriefTree> used = new LinkedHashMap<>();
        Path folder = folder(from.path());
        if (folder != null) {
            used(from.brief().tree(), folder, new HashSet<>(List.of(Objects.requireNonNull(from.path()))), used);
        }
        return used.entrySet().stream()
                .map(e ->
                        of(e.getKey().toUri().toString(), e.getValue().source().text()))
                .toList();
    }

    /** Briefs of the same folder that use one, as they stand. */
    List<Document> neighbours(Document used) {
        Path folder = folder(used.path());
        List<Document> found = new ArrayList<>();
        if (folder == null) {
            return found;
        }
        try (Stream<Path> files = Files.list(folder)) {
            List<Path> briefs = files.filter(f -> f.toString().endsWith(".brief") && !f.equals(used.path()))
                    .sorted()
                    .limit(MOST_NEIGHBOURS)
                    .toList();
            for (Path brief : briefs) {
                String text = textOf(brief);
                if (text != null && text.contains("use")) {
                    Document other = of(brief.toUri().toString(), text);
                    boolean uses = other.brief().tree().uses().stream()
                            .anyMatch(u -> Objects.equals(used.path(), file(folder, u.path())));
                    if (uses) {
                        found.add(other);
                    }
                }
            }
        } catch (IOException e) {
            return found;
        }
        return found;
    }

    /** All that is wrong with a brief, as far as it is known now. */
    List<Wrong> wrong(Document document) {
        List<Wrong> all = new ArrayList<>();
        UnfinishedBrief brief = document.brief();
        brief.problems().forEach(p -> all.add(new Wrong(p, false)));
        Map<String, Schema> tables = brief.tables();
        if (!tables.isEmpty() && all.isEmpty()) {
            ReportCheck.problems(brief.tree(), new Named(tables, brief.parameters()))
                    .forEach(p -> all.add(new Wrong(p, false)));
        }
        Path folder = folder(document.path());
        if (folder != null) {
            for (BriefTree.Input input : brief.tree().inputs()) {
                String wrong = looks.of(brief.tree(), input, folder).wrong();
                if (wrong != null) {
                    all.add(new Wrong(brief.text().problem(input.name().at(), wrong, null), true));
                }
            }
            uses(document, folder, all);
        }
        return all;
    }

    private void uses(Document document, Path folder, List<Wrong> all) {
        UnfinishedBrief brief = document.brief();
        for (BriefTree.Use use : brief.tree().uses()) {
            Path file = file(folder, use.path());
            try {
                if (file == null || textOf(file) == null) {
                    all.add(new Wrong(
                            brief.text()
                                    .problem(
                                            use.at(),
                                            "There is no brief '" + use.path() + "'.",
                                            "Paths start in this folder."),
                            false));
                } else if (usesBack(document, use)) {
                    all.add(new Wrong(
                            brief.text()
                                    .problem(
                                            use.at(),
                                            "'" + use.path() + "' uses this brief, so neither can come first.",
                                            null),
                            false));
                } else {
                    Parser.brief(new BriefText(use.path(), Objects.requireNonNull(textOf(file))));
                }
            } catch (FiestaException e) {
                all.add(new Wrong(
                        brief.text().problem(use.at(), "'" + use.path() + "' cannot be read as it stands.", null),
                        false));
            }
        }
    }

    /** Whether what a brief uses is that brief, or uses it in turn. */
    private boolean usesBack(Document document, BriefTree.Use use) {
        Document other = used(document, use.path());
        return other != null
                && Stream.concat(Stream.of(other), allUsed(other).stream())
                        .anyMatch(d -> Objects.equals(d.path(), document.path()));
    }

    private record Named(Map<String, Schema> schemas, Set<String> parameters) implements ReportCheck.Known {
        @Override
        public Set<String> tables() {
            return schemas.keySet();
        }

        @Override
        public List<String> fields(String table) {
            return Objects.requireNonNull(schemas.get(table)).names();
        }
    }
}
