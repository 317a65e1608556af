package dev.fiesta.report;

import dev.fiesta.Asked;
import dev.fiesta.Brief;
import dev.fiesta.ClauseRows;
import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.output.FileNames;
import dev.fiesta.output.OutputFolder;
import dev.fiesta.output.Utf8Writer;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.Aside;
import dev.fiesta.source.FileSum;
import dev.fiesta.source.Paths;
import dev.fiesta.source.TextStyle;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.DigestOutputStream;
import java.security.MessageDigest;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.zip.GZIPOutputStream;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

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
            Path folder = java.util.Objects.requireNonNull(
                            record.toAbsolutePath().getParent())
                    .toRealPath();
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

    private static String keptName(String table) {
        return TABLES + "/" + FileNames.of(table) + ".csv.gz";
    }

    /** A folder as the system knows it, without links, so that the way from one to another is found. */
    private static Path real(Path folder) {
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

    private static String written(Result result, OutputStream to) throws IOException {
        MessageDigest digest = Fingerprint.digest();
        Writer out = new Utf8Writer(new DigestOutputStream(to, digest));
        result.write(out, TextStyle.CSV);
        out.flush();
        return Fingerprint.finished(digest, new byte[0]);
    }

    /** How a run is recorded. */
    static final class Writing {
        private final Brief brief;
        private final OutputFolder out;
        private final ObjectNode tree = Json.object();

        /** @param out where the record will stand */
        Writing(Brief brief, OutputFolder out) {
            this.brief = brief;
            this.out = out;
            tree.put("fiesta", dev.fiesta.Fiesta.version());
        }

        /** What was asked: the brief and the values of its parameters, and what was read. */
        void asked(Tables tables) {
            ObjectNode text = tree.putObject("brief");
            text.put("name", brief.name());
            text.put("folder", relative(brief.folder()));
            text.put("checksum", Fingerprint.of(brief.text()));
            text.put("text", brief.text());
            ArrayNode uses = text.putArray("uses");
            brief.used().forEach((name, used) -> {
                ObjectNode one = uses.addObject();
                one.put("name", name);
                one.put("checksum", Fingerprint.of(used));
            });
            ObjectNode parameters = tree.putObject("parameters");
            tables.parameterValues().forEach((name, values) -> {
                if (tables.isList(name)) {
                    ArrayNode list = parameters.putArray(name);
                    values.forEach(list::add);
                } else {
                    parameters.put(name, values.get(0));
                }
            });
        }

        private String relative(Path place) {
            Path from = out.folder();
            Path to = real(place);
            if (!java.util.Objects.equals(from.getRoot(), to.getRoot())) {
                return "";
            }
            return from.relativize(to).toString().replace('\\', '/');
        }

        /** The inputs; {@code records} are those read, where the run came so far, without those set aside. */
        void inputs(Tables tables, Map<String, Long> records, Map<String, Aside> asides) {
            ArrayNode inputs = tree.putArray("inputs");
            Map<String, Schema> schemas = tables.inputs();
            schemas.forEach((name, schema) -> {
                ObjectNode input = inputs.addObject();
                input.put("name", name);
                if (records.containsKey(name)) {
                    input.put("records", records.get(name));
                }
                Aside aside = asides.get(name);
                if (aside != null) {
                    aside(input, aside);
                }
                ArrayNode fields = input.putArray("fields");
                schema.fields().forEach(f -> field(fields, f));
                Map<String, String> copied = tables.copied().getOrDefault(name, Map.of());
                if (!copied.isEmpty()) {
                    input.put("from_copy", true);
                }
                ArrayNode list = input.putArray("files");
                tables.files().getOrDefault(name, List.of()).forEach(f -> file(list, f, copied));
                Asked asked = tables.queries().get(name);
                if (asked != null) {
                    query(input.putObject("query"), asked);
                }
            });
        }

        /** What was asked of a database; of the connection its name alone. */
        private static void query(ObjectNode query, Asked asked) {
            query.put("database", asked.database());
            query.put("text", asked.query());
            query.put("rows", asked.rows());
            query.put("fingerprint", asked.fingerprint());
        }

        /** What was wrong, and how often; the values themselves are nobody's business here. */
        private static void aside(ObjectNode input, Aside aside) {
            input.put("set_aside", aside.count());
            ArrayNode reasons = input.putArray("reasons");
            aside.counts().forEach((reason, count) -> {
                ObjectNode one = reasons.addObject();
                one.put("field", reason.get(0));
                one.put("reason", reason.get(1));
                one.put("records", count);
            });
        }

        private static void field(ArrayNode fields, Field field) {
            ObjectNode one = fields.addObject();
            one.put("name", field.name());
            one.put("type", field.type().toString());
        }

        private static void file(ArrayNode list, Paths.Named file, Map<String, String> copied) {
            ObjectNode one = list.addObject();
            one.put("name", file.name());
            try {
                one.put("size", Files.size(file.path()));
            } catch (IOException e) {
                throw new MachineException("'" + file.name() + "' cannot be read", e);
            }
            String known = copied.get(file.name());
            one.put("fingerprint", known != null ? known : FileSum.of(file.path(), file.name()));
        }

        /** Tables with the rows behind each clause; kept beside the record when wanted. */
        void tables(Report report, boolean keep) {
            ArrayNode tables = tree.putArray("tables");
            report.outcome().rows().forEach((name, clauses) -> {
                ObjectNode table = tables.addObject();
                table.put("name", name);
                ArrayNode steps = table.putArray("clauses");
                clauses.forEach(c -> clause(steps, c));
                Result result = report.results().get(name);
                if (result != null) {
                    result(table, result, keep);
                }
            });
        }

        private static void clause(ArrayNode steps, ClauseRows clause) {
            ObjectNode one = steps.addObject();
            one.put("line", clause.line());
            one.put("clause", clause.clause());
            if (clause.rows() >= 0) {
                one.put("rows", clause.rows());
            }
        }

        private void result(ObjectNode table, Result result, boolean keep) {
            table.put("rows", result.rows());
            ArrayNode keys = table.putArray("keys");
            result.view().stream().filter(v -> v.key()).forEach(v -> keys.add(v.field()));
            if (!keep) {
                table.put("checksum", checksum(result));
                return;
            }
            out.writeBytes(keptName(result.name()), to -> {
                GZIPOutputStream packed = new GZIPOutputStream(to);
                table.put("checksum", written(result, packed));
                packed.finish();
            });
        }

        /** No tables and no files: a check ended the run. */
        void nothing() {
            tree.putArray("tables");
            tree.putArray("files");
        }

        /** Everything that was counted, and the checks. */
        void counted(Notices notices) {
            ArrayNode counted = tree.putArray("counted");
            for (Notices.Notice notice : notices.list()) {
                ObjectNode one = counted.addObject();
                one.put("kind", notice.kind().name().toLowerCase(java.util.Locale.ROOT));
                one.put("subject", notice.subject());
                one.put("count", notice.count());
            }
            ArrayNode checks = tree.putArray("checks");
            notices.checks().stream()
                    .sorted(java.util.Comparator.comparing(Notices.Check::at))
                    .forEach(c -> check(checks, c));
        }

        private static void check(ArrayNode checks, Notices.Check check) {
            ObjectNode one = checks.addObject();
            one.put("at", check.at());
            one.put("check", check.check());
            one.put("outcome", check.holds() ? "holds" : check.warns() ? "warns" : "fails");
            if (!check.holds()) {
                one.put("message", check.message());
            }
        }

        /** The files written. */
        void files(List<String> written) {
            ArrayNode files = tree.putArray("files");
            for (String file : written) {
                ObjectNode one = files.addObject();
                one.put("name", file);
                try {
                    one.put("checksum", Fingerprint.of(out.gathered(file)));
                } catch (IOException e) {
                    throw new MachineException("'" + file + "' cannot be read", e);
                }
            }
        }

        /** Adds the record to the files of the run. */
        void write(Instant started) {
            ObjectNode when = tree.putObject("when");
            when.put("started", started.toString());
            when.put("seconds", Duration.between(started, Instant.now()).toMillis() / 1000.0);
            out.write(FILE, to -> to.append(Json.pretty(tree)));
        }
    }
}
