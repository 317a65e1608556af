package dev.fiesta.report;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.Asked;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.LocaleStyle;
import dev.fiesta.value.Schema;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * A run made again from its record.
 *
 * @param inputs what changed in the inputs, a line each: files that came, went or differ, fields that came or went
 * @param equal the names of the tables that came out the same to the last byte
 * @param moved the tables that did not, with their differences where they were kept
 * @param unknown the tables that did not, of which nothing was kept
 * @param remarks what else is worth knowing, such as a brief that was changed since
 */
public record Repetition(
        List<String> inputs, List<String> equal, List<Comparison> moved, List<String> unknown, List<String> remarks) {

    /** {@return whether every table is proved equal} */
    public boolean isEqual() {
        return moved.isEmpty() && unknown.isEmpty();
    }

    /**
     * {@return runs what a record says, with the types that it names}
     *
     * @param record the record of a run
     * @param fiesta where it runs
     */
    public static Repetition of(RunRecord record, Fiesta fiesta) {
        List<String> remarks = new ArrayList<>();
        Brief brief = brief(record);
        remarks(record, brief, remarks);
        List<String> inputs = new ArrayList<>();
        Brief typed = typed(record, brief, fiesta, inputs);
        List<String> wanted = new ArrayList<>(record.tables().keySet());
        Report report = Reporting.of(typed).run(fiesta, wanted);
        queries(record, report.content().tables(), inputs);
        List<String> equal = new ArrayList<>();
        List<Comparison> moved = new ArrayList<>();
        List<String> unknown = new ArrayList<>();
        for (RunRecord.RecordedTable table : record.tables().values()) {
            Result now = Objects.requireNonNull(report.results().get(table.name()));
            if (RunRecord.checksum(now).equals(table.checksum())) {
                equal.add(table.name());
            } else {
                Comparison.Cells kept = record.kept(table);
                if (kept == null) {
                    unknown.add(table.name());
                } else {
                    moved.add(Comparison.of(kept, Comparison.Cells.of(now), table.keys()));
                }
            }
        }
        return new Repetition(inputs, equal, moved, unknown, remarks);
    }

    /**
     * What a record says to be run, over its inputs, which are what they were.
     *
     * @throws RequestException when they are not
     */
    static Tables tables(RunRecord record, Fiesta fiesta) {
        Brief brief = brief(record);
        List<String> changes = new ArrayList<>();
        Tables tables = Reporting.of(typed(record, brief, fiesta, changes)).check(fiesta);
        if (!changes.isEmpty()) {
            throw new RequestException("The parts of a figure are worked out from the inputs of its run, and those of "
                    + record.briefName() + " are not what they were: " + String.join("; ", changes) + ".");
        }
        return tables;
    }

    private static Brief brief(RunRecord record) {
        Brief brief = Brief.of(record.briefName(), record.briefText(), record.briefFolder());
        for (Map.Entry<String, Object> parameter : record.parameters().entrySet()) {
            brief = brief.set(parameter.getKey(), parameter.getValue());
        }
        return brief;
    }

    /** The brief with the types that the record names; what is not as it was is noted. */
    private static Brief typed(RunRecord record, Brief brief, Fiesta fiesta, List<String> changes) {
        Tables tables = Reporting.of(brief).check(fiesta);
        files(record, tables, changes);
        return brief.typed(present(record, tables, changes));
    }

    private static void remarks(RunRecord record, Brief brief, List<String> remarks) {
        Path file = record.briefFolder().resolve(record.briefName());
        try {
            if (Files.isRegularFile(file) && !Files.readString(file).equals(record.briefText())) {
                remarks.add("The brief " + record.briefName() + " was changed since; this is the one of the record.");
            }
        } catch (IOException e) {
            remarks.add("The brief " + record.briefName() + " cannot be read; this is the one of the record.");
        }
        record.uses().forEach((name, checksum) -> {
            String text = brief.used().get(name);
            if (text == null || !Fingerprint.of(text).equals(checksum)) {
                remarks.add("The brief " + name + ", which is used, was changed since.");
            }
        });
    }

    private static void files(RunRecord record, Tables tables, List<String> changes) {
        record.files().forEach((input, recorded) -> {
            Map<String, Paths.Named> now = new LinkedHashMap<>();
            tables.files().getOrDefault(input, List.of()).forEach(f -> now.put(f.name(), f));
            for (RunRecord.RecordedFile file : recorded) {
                Paths.Named found = now.remove(file.name());
                if (found == null) {
                    changes.add(input + ": " + file.name() + " is gone");
                } else {
                    changed(input, file, found, tables, changes);
                }
            }
            now.keySet().forEach(name -> changes.add(input + ": " + name + " is new"));
        });
    }

    private static void changed(
            String input, RunRecord.RecordedFile file, Paths.Named found, Tables tables, List<String> changes) {
        if (Fingerprint.fits(file.fingerprint(), found, tables)) {
            return;
        }
        try {
            long more = Files.size(found.path()) - file.size();
            String size = more == 0
                    ? "of the same size"
                    : LocaleStyle.of("en-IE").number(Long.toString(Math.abs(more)))
                            + (Math.abs(more) == 1 ? " byte " : " bytes ")
                            + (more > 0 ? "longer" : "shorter");
            changes.add(input + ": " + file.name() + " was changed, " + size);
        } catch (IOException e) {
            throw new dev.fiesta.problem.MachineException("'" + file.name() + "' cannot be read", e);
        }
    }

    private static void queries(RunRecord record, Tables tables, List<String> changes) {
        record.queries().forEach((input, recorded) -> {
            Asked now = tables.queries().get(input);
            if (now == null) {
                return;
            }
            if (!now.query().equals(recorded.query())) {
                changes.add(input + ": the query is another");
            }
            if (!now.fingerprint().equals(recorded.fingerprint())) {
                LocaleStyle style = LocaleStyle.of("en-IE");
                String were = style.number(Long.toString(recorded.rows()));
                changes.add(input + ": the query gives other rows, "
                        + (now.rows() == recorded.rows()
                                ? "as many as then"
                                : style.number(Long.toString(now.rows())) + " where there were " + were));
            }
        });
    }

    /** The recorded types of the fields that are still there; what came or went is noted. */
    private static Map<String, Map<String, String>> present(RunRecord record, Tables tables, List<String> changes) {
        Map<String, Map<String, String>> types = new LinkedHashMap<>();
        record.types().forEach((input, recorded) -> {
            @Nullable Schema schema = tables.inputs().get(input);
            if (schema == null) {
                return;
            }
            Map<String, String> there = new LinkedHashMap<>();
            recorded.forEach((field, type) -> {
                if (schema.indexOf(field) >= 0) {
                    there.put(field, type);
                } else {
                    changes.add(input + ": the field " + field + " is gone");
                }
            });
            schema.names().stream()
                    .filter(n -> !recorded.containsKey(n))
                    .forEach(n -> changes.add(input + ": the field " + n + " is new"));
            types.put(input, there);
        });
        return types;
    }
}
