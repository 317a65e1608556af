package dev.fiesta.source.cells;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Column;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TimePattern;
import dev.fiesta.value.Validity;
import dev.fiesta.value.Values;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Dates and times, as standards write them or by patterns. */
final class TimeReader extends CellReader {
    private final @Nullable TimePattern pattern;
    private final List<TimePattern> morePatterns;

    TimeReader(FieldSpec field, Dialect dialect) {
        super(field, dialect);
        this.pattern = field.pattern() == null ? null : pattern(field.pattern());
        this.morePatterns = field.rules().patterns().stream().map(this::pattern).toList();
    }

    private TimePattern pattern(String written) {
        boolean time = field.type().kind() != Kind.DATE;
        return TimePattern.of(written, time, field.rules().language());
    }

    @Override
    Column column(byte[] bytes, FoundCells cells, int cell, int @Nullable [] rows, int count) {
        long[] values = new long[count];
        long[] valid = null;
        for (int i = 0; i < count; i++) {
            int row = rows == null ? i : rows[i];
            int s = cells.start(row, cell);
            int e = cells.end(row, cell);
            long value = TimePattern.NONE;
            if (carefully(bytes, s, e)) {
                value = time(s);
                if (value == TimePattern.NONE) {
                    bad(s, 0);
                }
            } else if (field.byDefault() != null && isEmpty(bytes, s, e)) {
                value = Values.toLong(field.type(), field.byDefault());
            }
            if (value == TimePattern.NONE) {
                valid = Validity.without(valid, count, i);
            } else {
                values[i] = value;
            }
        }
        return new LongColumn(field.type(), values, count, valid);
    }

    private long time(int offset) {
        if (pattern != null) {
            return byPatterns(pattern, offset);
        }
        return switch (field.type().kind()) {
            case DATE -> TimePattern.isoDate(from, start, end);
            case DATETIME -> TimePattern.isoDateTime(from, start, end);
            case INSTANT -> TimePattern.isoInstant(from, start, end);
            default -> TimePattern.NONE;
        };
    }

    /** What the first pattern that fits reads; where two read different days, nobody can tell which is meant. */
    private long byPatterns(TimePattern first, int offset) {
        long value = first.parse(from, start, end);
        int by = value == TimePattern.NONE ? -1 : 0;
        for (int p = 0; p < morePatterns.size(); p++) {
            long other = morePatterns.get(p).parse(from, start, end);
            if (other != TimePattern.NONE && by >= 0 && other != value) {
                unclear(by, p + 1, offset);
                return value;
            }
            by = by < 0 && other != TimePattern.NONE ? p + 1 : by;
            value = value == TimePattern.NONE ? other : value;
        }
        return value;
    }

    private void unclear(int one, int two, int offset) {
        String value = content();
        if (field.rules().firstWins()) {
            note(Notices.Kind.SEVERAL_PATTERNS, offset, "'" + BadCell.cut(value) + "'");
            return;
        }
        throw new BadCell(offset, field, value, field.type(), List.of(written(one), written(two)));
    }

    private String written(int pattern) {
        return pattern == 0
                ? Objects.requireNonNull(field.pattern())
                : field.rules().patterns().get(pattern - 1);
    }
}
