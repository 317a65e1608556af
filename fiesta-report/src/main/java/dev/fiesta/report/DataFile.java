package dev.fiesta.report;

import dev.fiesta.Result;
import dev.fiesta.TableWriter;
import dev.fiesta.TotalRow;
import dev.fiesta.ViewColumn;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.report.write.TablesWriter;
import java.io.IOException;
import java.io.OutputStream;
import java.util.List;
import java.util.ServiceLoader;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Tables as data: unformatted values under the names of their fields. */
public final class DataFile {
    private DataFile() {}

    /**
     * Writes a table as text.
     *
     * @param result the table
     * @param format one that {@link Format#isData() writes data} as text
     * @param guarded whether texts that a spreadsheet would take for a formula are defused, in delimited text
     * @param out where they go
     * @throws IOException when what takes them fails
     * @throws RequestException for any other format
     */
    public static void write(Result result, Format format, boolean guarded, Appendable out) throws IOException {
        TablesWriter.Text text = format.writer() instanceof TablesWriter writer ? writer.text() : null;
        if (text == null) {
            throw new RequestException(format + " does not write tables as text");
        }
        text.write(result, guarded, out);
    }

    /**
     * Writes a table to a stream, in UTF-8 where it is text; the stream stays open.
     *
     * @param result the table
     * @param format one that {@link Format#isData() writes data}
     * @param out where they go
     * @throws RequestException for any other format
     * @throws MachineException when the stream takes no more
     */
    public static void write(Result result, Format format, OutputStream out) {
        if (!(format.writer() instanceof TablesWriter writer)) {
            throw new RequestException(format + " does not write tables as data");
        }
        try {
            writer.bytes().write(result, false, out);
        } catch (IOException e) {
            throw new MachineException("The rows of '" + result.name() + "' cannot be written", e);
        }
    }

    /**
     * Who writes tables in a format that is not written here.
     *
     * @throws RequestException when nobody does
     */
    static TableWriter elsewhere(String format) {
        for (TableWriter writer : ServiceLoader.load(TableWriter.class, DataFile.class.getClassLoader())) {
            if (writer.format().equals(format)) {
                return writer;
            }
        }
        throw new RequestException(
                "Nobody here writes tables as " + format + ": the jar fiesta-" + format + " is not on the path.");
    }

    /** One object a row; where a table has totals, each says what it is. */
    static void json(Result result, Appendable out, String start, String between, String end) throws IOException {
        List<ViewColumn> view = result.view();
        boolean kinds = !result.totals().isEmpty();
        String gap = start;
        int next = 0;
        for (int row = 0; row <= result.rows(); row++) {
            for (; next < result.totals().size() && result.totals().get(next).after() == row; next++) {
                TotalRow total = result.totals().get(next);
                ObjectNode tree = Json.object();
                view.forEach(v -> Json.put(tree, v.field(), total.values().get(v.field())));
                tree.put("row_kind", total.grand() ? "grand total" : "subtotal");
                out.append(gap).append(tree.toString());
                gap = between;
            }
            if (row < result.rows()) {
                out.append(gap).append(row(result, view, row, kinds).toString());
                gap = between;
            }
        }
        boolean none = gap.equals(start);
        out.append(none ? (start.isEmpty() ? "" : "[]\n") : end);
    }

    private static ObjectNode row(Result result, List<ViewColumn> view, int row, boolean kinds) {
        ObjectNode tree = Json.object();
        @Nullable ArrayNode hidden = null;
        for (ViewColumn column : view) {
            boolean isHidden = result.isHidden(column.field(), row);
            Json.put(
                    tree,
                    column.field(),
                    isHidden ? null : result.column(column.field()).get(row));
            if (isHidden) {
                hidden = hidden == null ? Json.list() : hidden;
                hidden.add(column.field());
            }
        }
        if (kinds) {
            tree.put("row_kind", "row");
        }
        if (hidden != null) {
            tree.set("hidden", hidden);
        }
        return tree;
    }
}
