package dev.fiesta.report;

import dev.fiesta.Result;
import dev.fiesta.output.FileNames;
import dev.fiesta.output.OutputFolder;
import dev.fiesta.output.TextStyle;
import dev.fiesta.output.Utf8Writer;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.Asked;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.security.DigestOutputStream;
import java.security.MessageDigest;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.DatabindException;
import tools.jackson.databind.JsonNode;

/**
 * What a run read, did and produced, as {@code run.json} says it. Names are those of the brief, never places of the machine;
 * the clock appears under {@code when} only.
 */
public final class RunRecord {
    /** The name of the file. */
    public static final String FILE = "run.json";
    /** The folder beside it that keeps tables. */
    static final String TABLES = "run";

    private final Path folder;
    private final Path briefFolder;
    private final String briefName;
    private final String briefText;
    private final Map<String, String> uses = new LinkedHashMap<>();
    private final Map<String, Object> parameters = new LinkedHashMap<>();
    private final Map<String, List<RecordedFile>> files = new LinkedHashMap<>();
    private final Map<String, Asked> queries = new LinkedHashMap<>();
    private final Map<String, Map<String, String>> types = new LinkedHashMap<>();
    private final Map<String, RecordedTable> tables = new LinkedHashMap<>();

    /** @throws JacksonException when the tree holds something else than a record does */
    private RunRecord(JsonNode tree, Path folder) {
        this.folder = folder;
        JsonNode brief = tree.path("brief");
        this.briefFolder = folder.resolve(brief.path("folder").asString("")).normalize();
        this.briefName = brief.path("name").asString();
        this.briefText = brief.path("text").asString();
        brief.path("uses")
                .forEach(use -> uses.put(
                        use.path("name").asString(), use.path("checksum").asString()));
        tree.path("parameters").properties().forEach(p -> parameters.put(p.getKey(), value(p.getValue())));
        tree.path("inputs").forEach(this::input);
        tree.path("tables").forEach(this::table);
    }

    private static Object value(JsonNode value) {
        return value.isArray() ? value.valueStream().map(JsonNode::asString).toList() : value.asString();
    }

    private void input(JsonNode input) {
        String name = input.path("name").asString();
        files.put(
                name,
                input.path("files")
                        .valueStream()
                        .map(f -> new RecordedFile(
                                f.path("name").asString(),
                                f.path("size").asLong(),
                                f.path("fingerprint").asString()))
                        .toList());
        JsonNode query = input.path("query");
        if (query.isObject()) {
            queries.put(
                    name,
                    new Asked(
                            query.path("database").asString(),
                            query.path("text").asString(),
                            query.path("rows").asLong(),
                            query.path("fingerprint").asString()));
        }
        Map<String, String> fields = new LinkedHashMap<>();
        input.path("fields")
                .forEach(f ->
                        fields.put(f.path("name").asString(), f.path("type").asString()));
        types.put(name, fields);
    }

    private void table(JsonNode table) {
        if (table.path("checksum").isString()) {
            String name = table.path("name").asString();
            List<String> keys =
                    table.path("keys").valueStream().map(JsonNode::asString).toList();
            tables.put(name, new RecordedTable(name, table.path("checksum").asString(), keys));
        }
    }

    /**
     * Reads a record.
     *
     * @param file the file
     * @return the record
     * @throws RequestException when there is none, or the file is none
     */
    public static RunRecord read(Path file) {
        Path record = Files.isDirectory(file) ? file.resolve(FILE) : file;
        if (!Files.isRegularFile(record)) {
            throw new RequestException("There is no run record '" + file + "'.");
        }
        try {
            Path folder =
                    Objects.requireNonNull(record.toAbsolutePath().getParent()).toRealPath();
            OutputFolder.settle(folder);
            JsonNode tree = Json.read(Files.readString(record));
            if (!tree.path("fiesta").isString() || !tree.path("brief").isObject()) {
                throw new RequestException("'" + file + "' is no run record.");
            }
            return new RunRecord(tree, folder);
        } catch (DatabindException | InvalidPathException e) {
            throw new RequestException("'" + file + "' is no run record: it was changed by hand, or damaged.");
        } catch (JacksonException e) {
            throw new RequestException("'" + file + "' is no run record: it is no JSON.");
        } catch (IOException e) {
            throw new MachineException("'" + file + "' cannot be read", e);
        }
    }

    /** An input's file as it was. */
    record RecordedFile(String name, long size, String fingerprint) {}

    /** A table as it was. */
    record RecordedTable(String name, String checksum, List<String> keys) {}

    Path folder() {
        return folder;
    }

    /** The folder of the brief, as seen from that of the record. */
    Path briefFolder() {
        return briefFolder;
    }

    String briefName() {
        return briefName;
    }

    String briefText() {
        return briefText;
    }

    /** The checksums of the briefs that it used, by name. */
    Map<String, String> uses() {
        return uses;
    }

    Map<String, Object> parameters() {
        return parameters;
    }

    /** The files of each input. */
    Map<String, List<RecordedFile>> files() {
        return files;
    }

    /** The queries that inputs were read by. */
    Map<String, Asked> queries() {
        return queries;
    }

    /** The types used for the fields of each input. */
    Map<String, Map<String, String>> types() {
        return types;
    }

    /** The tables, by name. */
    Map<String, RecordedTable> tables() {
        return tables;
    }

    /**
     * The table kept beside the record, or null when it was left out.
     *
     * @throws DataException when it is not the one that the record tells of
     */
    Comparison.@Nullable Cells kept(RecordedTable table) {
        Path file = folder.resolve(keptName(table.name()));
        if (!Files.isRegularFile(file)) {
            return null;
        }
        MessageDigest digest = Fingerprint.digest();
        Comparison.Cells cells = Comparison.Cells.read(table.name(), file, digest);
        if (!Fingerprint.finished(digest, new byte[0]).equals(table.checksum())) {
            throw new DataException("The kept table '" + table.name()
                    + "' is not the one that the record tells of: another run wrote it, or it was changed by hand. "
                    + "Run the brief again into a folder of its own.");
        }
        return cells;
    }

    /**
     * {@return whether a file of a run is a table kept beside its record}
     *
     * @param name its name
     */
    public static boolean isKept(String name) {
        return name.startsWith(TABLES + "/");
    }

    static String keptName(String table) {
        return TABLES + "/" + FileNames.of(table) + ".csv.gz";
    }

    /** A folder as the system knows it, without links, so that the way from one to another is found. */
    static Path real(Path folder) {
        try {
            return folder.toRealPath();
        } catch (IOException e) {
            return folder.toAbsolutePath().normalize();
        }
    }

    /** The checksum of a table: of its rows as comma-separated values. */
    static String checksum(Result result) {
        try {
            return written(result, OutputStream.nullOutputStream());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    static String written(Result result, OutputStream to) throws IOException {
        MessageDigest digest = Fingerprint.digest();
        Writer out = new Utf8Writer(new DigestOutputStream(to, digest));
        result.write(out, TextStyle.CSV);
        out.flush();
        return Fingerprint.finished(digest, new byte[0]);
    }
}
