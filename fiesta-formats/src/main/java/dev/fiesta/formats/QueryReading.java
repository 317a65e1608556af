package dev.fiesta.formats;

import dev.fiesta.problem.Names;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.Databases.Answer;
import dev.fiesta.source.Databases.Query;
import dev.fiesta.source.FieldNames;
import dev.fiesta.source.RecordFormat.Records;
import dev.fiesta.source.Source;
import dev.fiesta.source.Spooled;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.value.Texts;
import java.io.IOException;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicLong;
import java.util.zip.CRC32C;
import org.jspecify.annotations.Nullable;

/** Asks one query and takes its rows, in one or several sessions that see the same state of the database. */
final class QueryReading {
    /** Rows that come with one answer of the server. */
    private static final int FETCHED = 1000;

    private static final long FIRST_DAY = LocalDate.of(1, 1, 1).toEpochDay();
    private static final long LAST_DAY = LocalDate.of(9999, 12, 31).toEpochDay();

    /** A part of the rows: those whose column lies in a range, also those where it is missing, or all. */
    private record Part(String condition, List<Object> values) {
        static final Part ALL = new Part("", List.of());
    }

    private final Sessions sessions;
    private final Query query;
    private final Dialect dialect;
    private final List<FieldSpec> told;
    private final QueryText text;
    private final AtomicLong rows = new AtomicLong();
    private final AtomicLong sum = new AtomicLong();

    QueryReading(Sessions sessions, Query query, Dialect dialect, List<FieldSpec> told) {
        this.sessions = sessions;
        this.query = query;
        this.dialect = dialect;
        this.told = told;
        this.text = QueryText.of(query.text(), query.parameters(), sessions.isPostgres());
    }

    Answer run() {
        try (Connection first = sessions.reading()) {
            List<String> remarks = new ArrayList<>();
            List<QueryColumn> columns = columns(first, remarks);
            List<Part> parts = query.partedBy() == null ? List.of(Part.ALL) : parts(first, columns);
            String snapshot = parts.size() > 1 ? snapshot(first) : null;
            if (parts.size() > 1 && snapshot == null) {
                remarks.add(sessions.name() + ": its " + parts.size()
                        + " parts are read in sessions that may see different states: this server has none to share.");
            }
            List<Spooled.Feed> feeds = new ArrayList<>();
            for (int p = 0; p < parts.size(); p++) {
                Part part = parts.get(p);
                Connection own = p == 0 ? first : null;
                feeds.add(to -> {
                    columns.forEach(c -> to.field(c.name()));
                    if (own != null) {
                        remarks.forEach(to::remark);
                    }
                    read(own, snapshot, part, columns, to);
                });
            }
            Source source = Spooled.of(sessions.name(), "row", dialect, fields(columns), feeds);
            return new Answer(
                    source, rows.get(), String.format("rows:%016x-%d", sum.get(), rows.get()), text.ordered());
        } catch (SQLException e) {
            throw sessions.failure(e, rows.get());
        }
    }

    /** A source without rows, where the database tells all types. */
    Optional<Source> fields() {
        try (Connection connection = sessions.reading()) {
            List<QueryColumn> columns = columns(connection, new ArrayList<>());
            return columns.stream().anyMatch(c -> c.open() && !c.told())
                    ? Optional.empty()
                    : Optional.of(Spooled.of(
                            sessions.name(),
                            "row",
                            dialect,
                            fields(columns),
                            List.of(to -> columns.forEach(c -> to.field(c.name())))));
        } catch (SQLException e) {
            throw sessions.failure(e, 0);
        }
    }

    /** The fields as the database tells them, but those that the brief declares. */
    private List<FieldSpec> fields(List<QueryColumn> columns) {
        Map<String, FieldSpec> all = new LinkedHashMap<>();
        columns.forEach(c -> all.put(c.name(), c.field()));
        told.forEach(f -> all.put(f.column(), f));
        return List.copyOf(all.values());
    }

    private String wrapped(String what, String condition) {
        return "select " + what + " from (\n" + text.text() + "\n) as q" + condition;
    }

    private List<QueryColumn> columns(Connection connection, List<String> remarks) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(wrapped("*", " where 1 = 0"))) {
            bind(statement, List.of());
            try (ResultSet none = statement.executeQuery()) {
                ResultSetMetaData meta = none.getMetaData();
                List<String> labels = new ArrayList<>();
                for (int i = 1; i <= meta.getColumnCount(); i++) {
                    labels.add(meta.getColumnLabel(i));
                }
                List<String> names = FieldNames.named(labels, sessions.name(), remarks);
                List<QueryColumn> columns = new ArrayList<>();
                for (int i = 0; i < names.size(); i++) {
                    String name = names.get(i);
                    boolean declared = told.stream().anyMatch(f -> f.column().equals(name));
                    columns.add(QueryColumn.of(sessions.name(), name, meta, i + 1, declared));
                }
                return columns;
            }
        }
    }

    /** Ranges of about the same width: the first and the last are open at their ends, the last has what is missing too. */
    private List<Part> parts(Connection connection, List<QueryColumn> columns) throws SQLException {
        String name = Objects.requireNonNull(query.partedBy());
        QueryColumn column = columns.stream()
                .filter(c -> c.name().equals(name))
                .findFirst()
                .orElseThrow(() -> new RequestException("The query has no column '" + name + "' to be parted by. "
                        + Names.didYouMean(
                                name, columns.stream().map(QueryColumn::name).toList(), "It has")));
        if (!column.hasRanges()) {
            throw new RequestException(
                    "A query is parted by a column of whole numbers or dates; '" + name + "' is none.");
        }
        if (text.ordered()) {
            throw new RequestException("A query that is parted has no order of its own: leave its 'order by' out.");
        }
        String quoted = '"' + name.replace("\"", "\"\"") + '"';
        try (PreparedStatement statement =
                connection.prepareStatement(wrapped("min(" + quoted + "), max(" + quoted + ")", ""))) {
            bind(statement, List.of());
            try (ResultSet ends = statement.executeQuery()) {
                ends.next();
                Long least = number(ends, 1, column);
                Long most = number(ends, 2, column);
                return least == null || most == null ? List.of(Part.ALL) : parts(quoted, column, least, most);
            }
        }
    }

    private List<Part> parts(String quoted, QueryColumn column, long least, long most) {
        BigInteger width =
                BigInteger.valueOf(most).subtract(BigInteger.valueOf(least)).add(BigInteger.ONE);
        int count = width.min(BigInteger.valueOf(query.parts())).intValue();
        List<Part> parts = new ArrayList<>();
        for (int p = 0; p < count; p++) {
            List<String> conditions = new ArrayList<>();
            List<Object> values = new ArrayList<>();
            if (p > 0) {
                conditions.add(quoted + " >= ?");
                values.add(value(border(least, width, p, count), column));
            }
            if (p < count - 1) {
                conditions.add(quoted + " < ?");
                values.add(value(border(least, width, p + 1, count), column));
            }
            String all = String.join(" and ", conditions);
            String missing = p == count - 1 ? " or " + quoted + " is null" : "";
            parts.add(conditions.isEmpty() ? Part.ALL : new Part(" where " + all + missing, values));
        }
        return parts;
    }

    private static long border(long least, BigInteger width, int part, int parts) {
        BigInteger before = width.multiply(BigInteger.valueOf(part)).divide(BigInteger.valueOf(parts));
        return BigInteger.valueOf(least).add(before).longValueExact();
    }

    /** The least or greatest value of the column by which parts are cut; days that no calendar has count as the ends of ours. */
    private static @Nullable Long number(ResultSet row, int index, QueryColumn column) throws SQLException {
        if (column.kind() == QueryColumn.Kind.DATE) {
            LocalDate day = row.getObject(index, LocalDate.class);
            return day == null ? null : Math.max(FIRST_DAY, Math.min(LAST_DAY, day.toEpochDay()));
        }
        long whole = row.getLong(index);
        return row.wasNull() ? null : whole;
    }

    private static Object value(long number, QueryColumn column) {
        return column.kind() == QueryColumn.Kind.DATE ? LocalDate.ofEpochDay(number) : (Object) Long.valueOf(number);
    }

    /** The name of the state that the first session sees; null where the server has none to share. */
    private @Nullable String snapshot(Connection connection) throws SQLException {
        if (!sessions.isPostgres()) {
            return null;
        }
        try (Statement statement = connection.createStatement()) {
            statement.execute("rollback");
            statement.execute("begin transaction isolation level repeatable read read only");
            try (ResultSet name = statement.executeQuery("select pg_export_snapshot()")) {
                name.next();
                return name.getString(1);
            }
        }
    }

    private void read(
            @Nullable Connection first, @Nullable String snapshot, Part part, List<QueryColumn> columns, Records to)
            throws IOException {
        long[] count = {0};
        try {
            if (first != null) {
                read(first, part, columns, to, count);
                return;
            }
            try (Connection own = sessions.reading()) {
                if (snapshot != null) {
                    try (Statement statement = own.createStatement()) {
                        statement.execute("rollback");
                        statement.execute("begin transaction isolation level repeatable read read only");
                        statement.execute("set transaction snapshot '" + snapshot + "'");
                    }
                }
                read(own, part, columns, to, count);
            }
        } catch (SQLException e) {
            throw sessions.failure(e, count[0]);
        }
    }

    private void read(Connection connection, Part part, List<QueryColumn> columns, Records to, long[] count)
            throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(wrapped("*", part.condition()))) {
            statement.setFetchSize(FETCHED);
            bind(statement, part.values());
            Map<String, Long> odd = new TreeMap<>();
            QueryColumn.Odd counted = (field, what) -> odd.merge(field + " are " + what, 1L, Long::sum);
            long ownSum = 0;
            CRC32C crc = new CRC32C();
            StringBuilder row = new StringBuilder();
            try (ResultSet all = statement.executeQuery()) {
                while (all.next()) {
                    row.setLength(0);
                    for (QueryColumn column : columns) {
                        String value = column.take(all, count[0] + 1, to, counted, sessions.name());
                        row.append(value == null ? "\u0001" : value).append('\u0000');
                    }
                    to.end(++count[0]);
                    ownSum += mixed(row, crc);
                }
            }
            tell(odd, to);
            sum.addAndGet(ownSum);
            rows.addAndGet(count[0]);
        }
    }

    /** A number for a row of which sums do not depend on the order of rows. */
    private static long mixed(StringBuilder row, CRC32C crc) {
        byte[] bytes = row.toString().getBytes(StandardCharsets.UTF_8);
        crc.reset();
        crc.update(bytes, 0, bytes.length);
        long one = crc.getValue();
        crc.update(0x5A);
        crc.update(bytes, 0, bytes.length);
        long mixed = (one << 32 | crc.getValue()) * 0x9E3779B97F4A7C15L;
        mixed ^= mixed >>> 29;
        return mixed * 0xBF58476D1CE4E5B9L;
    }

    private void tell(Map<String, Long> odd, Records to) {
        odd.forEach((what, count) -> to.remark(sessions.name() + ": " + count
                + (count == 1
                        ? " value of " + what.replace(" are ", " is ") + "; it is"
                        : " values of " + what + "; they are")
                + " missing."));
    }

    private void bind(PreparedStatement statement, List<Object> more) throws SQLException {
        int at = 1;
        for (Object value : text.values()) {
            set(statement, at++, value);
        }
        for (Object value : more) {
            set(statement, at++, value);
        }
    }

    private static void set(PreparedStatement statement, int at, @Nullable Object value) throws SQLException {
        if (value == null) {
            statement.setNull(at, Types.NULL);
        } else if (value instanceof java.time.Instant instant) {
            statement.setObject(at, instant.atOffset(java.time.ZoneOffset.UTC));
        } else {
            statement.setObject(at, value instanceof String ? Texts.of(value) : value);
        }
    }
}
