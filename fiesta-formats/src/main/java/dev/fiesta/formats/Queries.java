package dev.fiesta.formats;

import dev.fiesta.Fiesta;
import dev.fiesta.Table;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.FieldNames;
import dev.fiesta.source.Source;
import dev.fiesta.source.Spooled;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.value.JavaValues;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * The rows of a query over a connection that a program has.
 *
 * <pre>{@code
 * try (Connection connection = pool.getConnection()) {
 *     Result result = Queries.rows(fiesta, connection, "select * from sales where day >= ?", LocalDate.of(2026, 5, 1))
 *             .per("site").give("takings = sum(amount)")
 *             .run();
 * }
 * }</pre>
 */
public final class Queries {
    private static final String NAME = "the query";
    private static final int FETCHED = 1000;

    private Queries() {}

    /**
     * The rows of a query. They go into a temporary file, so that memory does not grow with them.
     *
     * @param fiesta where the table is worked out
     * @param connection stays open, and as it is set; a server that streams rows only outside of auto-commit does so when that is off
     * @param sql one query, asked once for every run; {@code ?} for each of the values
     * @param values bound, never pasted into the text: of the classes that {@link dev.fiesta.Table#set} takes, but no lists
     * @return a table of its rows
     * @throws RequestException when the query is refused, or a value is of another class
     */
    public static Table rows(Fiesta fiesta, Connection connection, String sql, @Nullable Object... values) {
        if (connection == null || sql == null) {
            throw new RequestException("a connection and a query are needed, not null");
        }
        List<@Nullable Object> bound = new ArrayList<>();
        for (Object value : values) {
            try {
                bound.add(JavaValues.held(value));
            } catch (IllegalArgumentException e) {
                throw new RequestException("the value " + (bound.size() + 1) + " " + e.getMessage(), e);
            }
        }
        return fiesta.from(() -> read(connection, sql, bound));
    }

    private static Source read(Connection connection, String sql, List<@Nullable Object> values) {
        long[] count = {0};
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            statement.setFetchSize(FETCHED);
            for (int i = 0; i < values.size(); i++) {
                statement.setObject(i + 1, forServer(values.get(i)));
            }
            try (ResultSet rows = statement.executeQuery()) {
                List<String> remarks = new ArrayList<>();
                List<QueryColumn> columns = columns(rows.getMetaData(), remarks);
                List<FieldSpec> fields =
                        columns.stream().map(QueryColumn::field).toList();
                return Spooled.of(NAME, "row", Dialect.STANDARD, fields, List.of(to -> {
                    columns.forEach(c -> to.field(c.name()));
                    remarks.forEach(to::remark);
                    Map<String, Long> odd = new TreeMap<>();
                    QueryColumn.Odd counted = (field, what) -> odd.merge(field + " that are " + what, 1L, Long::sum);
                    try {
                        while (rows.next()) {
                            for (QueryColumn column : columns) {
                                column.take(rows, count[0] + 1, to, counted, NAME);
                            }
                            to.end(++count[0]);
                        }
                    } catch (SQLException e) {
                        throw refused(e, count[0]);
                    }
                    odd.forEach((what, times) ->
                            to.remark(NAME + ": " + times + " values of " + what + " became missing."));
                }));
            }
        } catch (SQLException e) {
            throw refused(e, count[0]);
        }
    }

    private static @Nullable Object forServer(@Nullable Object value) {
        return value instanceof java.time.Instant instant ? instant.atOffset(java.time.ZoneOffset.UTC) : value;
    }

    private static List<QueryColumn> columns(ResultSetMetaData meta, List<String> remarks) throws SQLException {
        List<String> labels = new ArrayList<>();
        for (int i = 1; i <= meta.getColumnCount(); i++) {
            labels.add(meta.getColumnLabel(i));
        }
        List<String> names = FieldNames.named(labels, NAME, remarks);
        List<QueryColumn> columns = new ArrayList<>();
        for (int i = 0; i < names.size(); i++) {
            columns.add(QueryColumn.of(NAME, names.get(i), meta, i + 1, false));
        }
        return columns;
    }

    private static RequestException refused(SQLException e, long rows) {
        String where = rows == 0 ? "" : " after " + rows + " rows";
        return new RequestException("The query failed" + where + ": " + e.getMessage(), e);
    }
}
