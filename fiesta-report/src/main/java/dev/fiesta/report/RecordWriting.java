package dev.fiesta.report;

import dev.fiesta.Brief;
import dev.fiesta.ClauseRows;
import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.output.OutputFolder;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.Aside;
import dev.fiesta.source.Asked;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.zip.GZIPOutputStream;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Writes what a run read, did and produced; {@link RunRecord} reads it. */
final class RecordWriting {
    private final Brief brief;
    private final OutputFolder out;
    private final ObjectNode tree = Json.object();

    /** @param out where the record will stand */
    RecordWriting(Brief brief, OutputFolder out) {
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
        Path to = RunRecord.real(place);
        if (!Objects.equals(from.getRoot(), to.getRoot())) {
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
            tables.files().getOrDefault(name, List.of()).forEach(f -> file(list, f, copied, tables));
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

    private static void file(ArrayNode list, Paths.Named file, Map<String, String> copied, Tables tables) {
        ObjectNode one = list.addObject();
        one.put("name", file.name());
        try {
            one.put("size", Files.size(file.path()));
        } catch (IOException e) {
            throw new MachineException("'" + file.name() + "' cannot be read", e);
        }
        String known = copied.get(file.name());
        one.put("fingerprint", known != null ? known : tables.sum(file));
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
            table.put("checksum", RunRecord.checksum(result));
            return;
        }
        out.writeBytes(RunRecord.keptName(result.name()), to -> {
            GZIPOutputStream packed = new GZIPOutputStream(to);
            table.put("checksum", RunRecord.written(result, packed));
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
                .sorted(Comparator.comparing(Notices.Check::at))
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
        out.write(RunRecord.FILE, to -> to.append(Json.pretty(tree)));
    }
}
