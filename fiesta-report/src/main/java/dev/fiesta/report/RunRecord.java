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
import java.nio.file.Path;
import java.security.DigestOutputStream;
import java.security.MessageDigest;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
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

    private final JsonNode tree;
    private final Path folder;

    private RunRecord(JsonNode tree, Path folder) {
        this.tree = tree;
        this.folder = folder;
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
        } catch (tools.jackson.core.JacksonException e) {
            throw new RequestException("'" + file + "' is no run record: it is no JSON.");
        } catch (IOException e) {
            throw new MachineException("'" + file + "' cannot be read", e);
        }
    }

    /** An input's file as it was. */
    record RecordedFile(String name, long size, String fingerprint) {}

    /** A table as it was. */
    record RecordedTable(String name, String checksum, List<String> keys) {}

    JsonNode tree() {
        return tree;
    }

    Path folder() {
        return folder;
    }

    /** The folder of the brief, as seen from that of the record. */
    Path briefFolder() {
        return folder.resolve(tree.path("brief").path("folder").asString("")).normalize();
    }

    String briefName() {
        return tree.path("brief").path("name").asString();
    }

    String briefText() {
        return tree.path("brief").path("text").asString();
    }

    Map<String, Object> parameters() {
        Map<String, Object> values = new LinkedHashMap<>();
        tree.path("parameters").properties().forEach(p -> {
            if (p.getValue().isArray()) {
                values.put(
                        p.getKey(),
                        p.getValue().valueStream().map(JsonNode::asString).toList());
            } else {
                values.put(p.getKey(), p.getValue().asString());
            }
        });
        return values;
    }

    /** The files of each input. */
    Map<String, List<RecordedFile>> files() {
        Map<String, List<RecordedFile>> files = new LinkedHashMap<>();
        tree.path("inputs")
                .forEach(input -> files.put(
                        input.path("name").asString(),
                        input.path("files")
                                .valueStream()
                                .map(f -> new RecordedFile(
                                        f.path("name").asString(),
                                        f.path("size").asLong(),
                                        f.path("fingerprint").asString()))
                                .toList()));
        return files;
    }

    /** The queries that inputs were read by. */
    Map<String, Asked> queries() {
        Map<String, Asked> queries = new LinkedHashMap<>();
        tree.path("inputs").forEach(input -> {
            JsonNode query = input.path("query");
            if (query.isObject()) {
                queries.put(
                        input.path("name").asString(),
                        new Asked(
                                query.path("database").asString(),
                                query.path("text").asString(),
                                query.path("rows").asLong(),
                                query.path("fingerprint").asString()));
            }
        });
        return queries;
    }

    /** The types used for the fields of each input. */
    Map<String, Map<String, String>> types() {
        Map<String, Map<String, String>> types = new LinkedHashMap<>();
        tree.path("inputs").forEach(input -> {
            Map<String, String> fields = new LinkedHashMap<>();
            input.path("fields")
                    .forEach(f ->
                            fields.put(f.path("name").asString(), f.path("type").asString()));
            types.put(input.path("name").asString(), fields);
        });
        return types;
    }

    /** The tables, by name. */
    Map<String, RecordedTable> tables() {
        Map<String, RecordedTable> tables = new LinkedHashMap<>();
        tree.path("tables").forEach(t -> {
            if (t.path("checksum").isString()) {
                String name = t.path("name").asString();
                List<String> keys =
                        t.path("keys").valueStream().map(JsonNode::asString).toList();
                tables.put(name, new RecordedTable(name, t.path("checksum").asString(), keys));
            }
        });
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
