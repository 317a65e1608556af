package dev.fiesta.formats;

import dev.fiesta.Result;
import dev.fiesta.ViewColumn;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Remedy;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Type;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Writes a table into a database, all of it or nothing: in one transaction. Hidden figures are not written. */
final class DatabaseTable {
    private static final int BATCH = 1000;

    private final Sessions sessions;
    private final @Nullable String schema;
    private final String table;

    /** @param name of the table, with its schema before a point if told */
    DatabaseTable(Sessions sessions, String name) {
        this.sessions = sessions;
        int point = name.indexOf('.');
        this.schema = point < 0 ? null : name.substring(0, point);
        this.table = name.substring(point + 1);
    }

    /**
     * Creates the table with the rows of a result.
     *
     * @param replace whether a table that is there already is emptied and takes these fields and rows; what others may do with it stays
     * @return the number of rows
     * @throws RequestException when it is there and shall not be replaced
     */
    long write(Result result, boolean replace) {
        long[] written = {0};
        try (Connection connection = sessions.writing()) {
            try {
                write(connection, result, replace, written);
                connection.commit();
                return written[0];
            } catch (SQLException | RuntimeException e) {
                connection.rollback();
                throw e;
            }
        } catch (SQLException e) {
            throw failure(e, written[0]);
        }
    }

    private RuntimeException failure(SQLException e, long rows) {
        RuntimeException told = sessions.failure(e, rows);
        return told.getMessage() != null && told.getMessage().contains("refuses the query")
                ? new RequestException(
                        told.getMessage().replace("refuses the query", "does not take the table " + named()))
                : told;
    }

    private void write(Connection connection, Result result, boolean replace, long[] written) throws SQLException {
        List<String> fields =
                result.view().stream().map(ViewColumn::field).distinct().toList();
        List<Type> types = fields.stream()
                .map(f -> result.schema().type(result.schema().indexOf(f)))
                .toList();
        List<String> old = columns(connection);
        if (!old.isEmpty() && !replace) {
            String there = "'" + sessions.name() + "' has a table " + named()
                    + " already, and these rows are not to take its place.";
            throw Remedy.offered(new RequestException(there), Remedy.Kind.REPLACE, "");
        }
        String all = IntStream.range(0, fields.size())
                .mapToObj(i -> quoted(fields.get(i)) + " " + written(types.get(i)))
                .collect(Collectors.joining(", "));
        try (Statement statement = connection.createStatement()) {
            if (old.isEmpty()) {
                statement.execute("create table " + quotedName() + " (" + all + ")");
            } else {
                statement.execute("delete from " + quotedName());
                reshape(statement, old, fields, types);
            }
        }
        insert(connection, result, fields, types, written);
    }

    /** The fields of the table become those of the result, in their order; the table itself, and who may read it, stay. */
    private void reshape(Statement statement, List<String> old, List<String> fields, List<Type> types)
            throws SQLException {
        for (String column : old) {
            statement.execute("alter table " + quotedName() + " rename column " + quoted(column) + " to "
                    + quoted("old " + old.indexOf(column)));
        }
        for (int i = 0; i < fields.size(); i++) {
            statement.execute("alter table " + quotedName() + " add column " + quoted(fields.get(i)) + " "
                    + written(types.get(i)));
        }
        for (int i = 0; i < old.size(); i++) {
            statement.execute("alter table " + quotedName() + " drop column " + quoted("old " + i));
        }
    }

    /** The names of its columns; none where there is no such table. */
    private List<String> columns(Connection connection) throws SQLException {
        DatabaseMetaData meta = connection.getMetaData();
        List<String> columns = new ArrayList<>();
        String where = schema == null ? connection.getSchema() : schema;
        try (ResultSet found =
                meta.getColumns(null, where == null ? null : escaped(meta, where), escaped(meta, table), "%")) {
            while (found.next()) {
                columns.add(found.getString("COLUMN_NAME"));
            }
        }
        return columns;
    }

    private static String escaped(DatabaseMetaData meta, String name) throws SQLException {
        String escape = meta.getSearchStringEscape();
        return name.replace(escape, escape + escape).replace("_", escape + "_").replace("%", escape + "%");
    }

    private void insert(Connection connection, Result result, List<String> fields, List<Type> types, long[] written)
            throws SQLException {
        String names = fields.stream().map(DatabaseTable::quoted).collect(Collectors.joining(", "));
        String marks = fields.stream().map(f -> "?").collect(Collectors.joining(", "));
        try (PreparedStatement insert = connection.prepareStatement(
                "insert into " + quotedName() + " (" + names + ") values (" + marks + ")")) {
            for (int row = 0; row < result.rows(); row++) {
                for (int f = 0; f < fields.size(); f++) {
                    String field = fields.get(f);
                    Object value = result.isHidden(field, row)
                            ? null
                            : result.column(field).get(row);
                    set(insert, f + 1, value, types.get(f));
                }
                insert.addBatch();
                if (++written[0] % BATCH == 0) {
                    insert.executeBatch();
                    if (Thread.currentThread().isInterrupted()) {
                        throw new Interrupted();
                    }
                }
            }
            insert.executeBatch();
        }
    }

    private static void set(PreparedStatement insert, int at, @Nullable Object value, Type type) throws SQLException {
        if (value == null) {
            insert.setNull(at, sqlType(type));
        } else if (value instanceof Instant instant) {
            insert.setObject(at, instant.atOffset(ZoneOffset.UTC));
        } else {
            insert.setObject(at, value);
        }
    }

    private static int sqlType(Type type) {
        return switch (type.kind()) {
            case INTEGER -> Types.BIGINT;
            case DECIMAL -> Types.NUMERIC;
            case REAL -> Types.DOUBLE;
            case DATE -> Types.DATE;
            case DATETIME -> Types.TIMESTAMP;
            case INSTANT -> Types.TIMESTAMP_WITH_TIMEZONE;
            case TRUTH -> Types.BOOLEAN;
            default -> Types.VARCHAR;
        };
    }

    private String written(Type type) {
        return switch (type.kind()) {
            case INTEGER -> "bigint";
            case DECIMAL -> "numeric(38, " + type.scale() + ")";
            case REAL -> "double precision";
            case DATE -> "date";
            case DATETIME -> "timestamp";
            case INSTANT -> "timestamp with time zone";
            case TRUTH -> "boolean";
            default -> sessions.isPostgres() ? "text" : "varchar(4000)";
        };
    }

    private String named() {
        return schema == null ? "'" + table + "'" : "'" + schema + "." + table + "'";
    }

    private String quotedName() {
        return (schema == null ? "" : quoted(schema) + ".") + quoted(table);
    }

    private static String quoted(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }
}
