package dev.fiesta;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** Asks small questions of small tables and gives the answers as lines of text. */
public final class Asking {
    private static final String MISSING = "–";

    private Asking() {}

    /** The table in a text, its first line the header. */
    public static Table table(String text) {
        return table(text, 2);
    }

    /** As {@link #table(String)}, read by so many threads. */
    public static Table table(String text, int threads) {
        try {
            Path file = Files.createTempFile("fiesta-test-", ".csv");
            file.toFile().deleteOnExit();
            Files.writeString(file, text);
            return Fiesta.with().threads(threads).open().read(file);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The tables of a brief that no other table uses; its paths start in a folder. */
    public static Map<String, Result> brief(Path folder, String text) {
        try (Fiesta fiesta = Fiesta.with().threads(2).open()) {
            Tables tables = fiesta.tables(Parser.brief(new BriefText("t.brief", text)), folder, Map.of());
            return tables.run(tables.unused());
        }
    }

    /** The rows, cells with a blank between; a missing cell shows as an en dash. */
    public static List<String> rows(Table table) {
        Result result = table.run();
        List<String> rows = new ArrayList<>();
        for (Row row : result) {
            List<String> cells = new ArrayList<>();
            for (ViewColumn column : result.view()) {
                cells.add(shown(row.get(column.field())));
            }
            rows.add(String.join(" ", cells));
        }
        return rows;
    }

    /** What a result has to tell. */
    public static String notices(Result result) {
        return result.notices().list().stream().map(n -> n.text()).collect(Collectors.joining("\n"));
    }

    /** All that comes of a question: rows, totals, notices, how many rows came to each step and left it. */
    public static String outcome(Result result) {
        return String.join("\n", lines(result))
                + result.totals()
                + notices(result)
                + result.timings().stream()
                        .map(t -> t.step() + " " + t.rowsIn() + " " + t.rowsOut())
                        .collect(Collectors.joining("\n"));
    }

    /** The lines of a result as delimited text, the header first. */
    public static List<String> lines(Result result) {
        StringBuilder text = new StringBuilder();
        try {
            result.write(text, dev.fiesta.output.TextStyle.CSV);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return text.toString().lines().toList();
    }

    /** The values of a field. */
    public static List<String> values(Table table, String field) {
        return table.run().stream().map(r -> shown(r.get(field))).toList();
    }

    /** The value of an expression over one record without fields of use. */
    public static String value(String expression) {
        return values(table("nothing\n1\n").then("add x = " + expression), "x").get(0);
    }

    /** The type of an expression. */
    public static String type(String expression) {
        Table asked = table("nothing\n1\n").then("add x = " + expression);
        return asked.schema().field(asked.schema().indexOf("x")).type().toString();
    }

    private static String shown(Object value) {
        return value == null ? MISSING : Texts.of(value);
    }

    /** The fields of a table with their types: {@code amount decimal(2)}. */
    public static List<String> types(Result result) {
        return result.schema().fields().stream()
                .map(f -> f.name() + " " + f.type())
                .toList();
    }
}
