package dev.fiesta.formats;

import dev.fiesta.problem.DataException;
import dev.fiesta.source.RecordFormat.Records;
import dev.fiesta.source.cells.CellRules;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.value.ShortestNumber;
import dev.fiesta.value.Texts;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Types;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.util.Locale;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * A column of the rows of a query.
 *
 * @param kind how its values are taken
 * @param type its type; where the values tell the scale, without one
 * @param open whether it is a decimal whose scale the values tell
 * @param told whether the brief declares it, so that what its values must be is not this class's business
 */
record QueryColumn(String name, int index, Kind kind, Type type, boolean open, boolean told) {
    /** How values are taken from a row. */
    enum Kind {
        WHOLE,
        DECIMAL,
        SINGLE,
        DOUBLE,
        TRUTH,
        DATE,
        DATETIME,
        INSTANT,
        TEXT
    }

    private static final int MOST_YEAR = 9999;
    /** Types of databases that are texts, though they are none of the standard's. */
    private static final Set<String> TEXTS = Set.of(
            "uuid", "json", "jsonb", "xml", "citext", "inet", "cidr", "macaddr", "bit", "varbit", "time", "timetz",
            "name");

    /** Counts what cannot be held, so that it is told once. */
    interface Odd {
        void met(String field, String what);
    }

    /**
     * @param told whether the brief declares it
     * @throws DataException when values of its type cannot be read
     */
    static QueryColumn of(String database, String name, ResultSetMetaData meta, int index, boolean told)
            throws SQLException {
        String typeName = meta.getColumnTypeName(index).toLowerCase(Locale.ROOT);
        Kind kind = kind(meta.getColumnType(index), typeName);
        if (kind == null) {
            throw new DataException(
                    database + ": field " + name + " is of the type '" + typeName
                            + "', which is not read.\n  Turn it into another in the query: cast(" + name + " as "
                            + (typeName.equals("money") ? "numeric" : "varchar(1000)") + ") as " + name,
                    database,
                    0,
                    name,
                    null);
        }
        if (kind != Kind.DECIMAL) {
            return new QueryColumn(name, index, kind, type(kind), false, told);
        }
        int scale = meta.getScale(index);
        boolean known = meta.getPrecision(index) > 0 && scale >= 0 && scale <= Type.MOST_DIGITS;
        return new QueryColumn(name, index, kind, Type.decimal(known ? scale : 0), !known, told);
    }

    private static @Nullable Kind kind(int sqlType, String name) {
        if (name.equals("money") || name.startsWith("_") || name.equals("interval")) {
            return null;
        }
        if (name.equals("timestamptz")) {
            return Kind.INSTANT;
        }
        if (TEXTS.contains(name)) {
            return Kind.TEXT;
        }
        return switch (sqlType) {
            case Types.TINYINT, Types.SMALLINT, Types.INTEGER, Types.BIGINT -> Kind.WHOLE;
            case Types.NUMERIC, Types.DECIMAL -> Kind.DECIMAL;
            case Types.REAL -> Kind.SINGLE;
            case Types.FLOAT, Types.DOUBLE -> Kind.DOUBLE;
            case Types.BIT, Types.BOOLEAN -> Kind.TRUTH;
            case Types.DATE -> Kind.DATE;
            case Types.TIMESTAMP -> Kind.DATETIME;
            case Types.TIMESTAMP_WITH_TIMEZONE -> Kind.INSTANT;
            case Types.CHAR,
                    Types.VARCHAR,
                    Types.LONGVARCHAR,
                    Types.NCHAR,
                    Types.NVARCHAR,
                    Types.LONGNVARCHAR,
                    Types.CLOB,
                    Types.TIME,
                    Types.TIME_WITH_TIMEZONE -> Kind.TEXT;
            default -> null;
        };
    }

    private static Type type(Kind kind) {
        return switch (kind) {
            case WHOLE -> Type.INTEGER;
            case SINGLE, DOUBLE -> Type.REAL;
            case TRUTH -> Type.TRUTH;
            case DATE -> Type.DATE;
            case DATETIME -> Type.DATETIME;
            case INSTANT -> Type.INSTANT;
            default -> Type.TEXT;
        };
    }

    /** How its cells are read again. */
    FieldSpec field() {
        return new FieldSpec(name, name, type, true, open, null, null, false, CellRules.NONE);
    }

    /** Whether side-by-side readings can be cut by its values. */
    boolean hasRanges() {
        return kind == Kind.WHOLE || kind == Kind.DATE;
    }

    /** Takes the value of the row that stands there, and gives it as text; null for a missing one. */
    @Nullable
    String take(ResultSet rows, long row, Records to, Odd odd, String database) throws SQLException {
        String text = text(rows, row, odd, database);
        if (text == null) {
            to.missing(name);
            return null;
        }
        switch (kind) {
            case WHOLE, DECIMAL, SINGLE, DOUBLE -> to.number(name, text);
            case TRUTH -> to.truth(name, text.equals("true"));
            case TEXT -> to.text(name, text);
            default -> to.cell(name, text);
        }
        return text;
    }

    private @Nullable String text(ResultSet rows, long row, Odd odd, String database) throws SQLException {
        switch (kind) {
            case WHOLE:
                long whole = rows.getLong(index);
                return rows.wasNull() ? null : Long.toString(whole);
            case DECIMAL:
                return decimal(rows.getString(index), row, odd, database);
            case SINGLE:
                float single = rows.getFloat(index);
                return rows.wasNull() || !finite(single, odd) ? null : Float.toString(single);
            case DOUBLE:
                double number = rows.getDouble(index);
                return rows.wasNull() || !finite(number, odd) ? null : ShortestNumber.of(number);
            case TRUTH:
                boolean truth = rows.getBoolean(index);
                return rows.wasNull() ? null : Boolean.toString(truth);
            case DATE:
                LocalDate day = rows.getObject(index, LocalDate.class);
                return day == null ? null : within(day.getYear(), day.toString(), odd);
            case DATETIME:
                LocalDateTime time = rows.getObject(index, LocalDateTime.class);
                return time == null ? null : within(time.getYear(), Texts.of(time), odd);
            case INSTANT:
                OffsetDateTime instant = rows.getObject(index, OffsetDateTime.class);
                return instant == null ? null : within(instant.getYear(), Texts.of(instant.toInstant()), odd);
            default:
                return rows.getString(index);
        }
    }

    private boolean finite(double number, Odd odd) {
        if (!Double.isFinite(number)) {
            odd.met(name, Double.isNaN(number) ? "no number (NaN)" : "infinite");
        }
        return Double.isFinite(number);
    }

    private @Nullable String within(int year, String text, Odd odd) {
        if (year < 1 || year > MOST_YEAR) {
            odd.met(name, "outside the years 1 to 9999");
            return null;
        }
        return text;
    }

    private @Nullable String decimal(@Nullable String text, long row, Odd odd, String database) {
        if (text == null || text.equals("NaN") || text.endsWith("Infinity")) {
            if (text != null) {
                odd.met(name, text.equals("NaN") ? "no number (NaN)" : "infinite");
            }
            return null;
        }
        int point = text.indexOf('.');
        if (!open && (point < 0 ? text.length() : point) + type.scale() <= Type.MOST_DIGITS && text.indexOf('E') < 0) {
            return text; // as nearly all are
        }
        BigDecimal value = open ? least(new BigDecimal(text)) : new BigDecimal(text);
        if (!told
                && value.precision() - value.scale() + (type == null || open ? value.scale() : type.scale())
                        > Type.MOST_DIGITS) {
            throw new DataException(
                    database + ", row " + row + ": field " + name + ": '" + text + "' has more than the "
                            + Type.MOST_DIGITS + " digits of a decimal.\n  Read it as a real number: fields " + name
                            + " real",
                    database,
                    row,
                    name,
                    text);
        }
        return value.toPlainString();
    }

    /** Without the zeros at its end: what a server divides has twenty digits behind the point. */
    private static BigDecimal least(BigDecimal value) {
        BigDecimal stripped = value.stripTrailingZeros();
        return stripped.scale() < 0 ? stripped.setScale(0) : stripped;
    }
}
