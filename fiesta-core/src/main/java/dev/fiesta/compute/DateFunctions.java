package dev.fiesta.compute;

import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.Entry.Family;
import dev.fiesta.value.CalendarNames;
import dev.fiesta.value.Column;
import dev.fiesta.value.Days;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.value.Unit;
import dev.fiesta.value.Validity;
import dev.fiesta.value.Values;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.temporal.TemporalAccessor;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/** Functions over dates and times. It is long because each has its entry: what it is called, does, takes and gives. */
final class DateFunctions {
    private DateFunctions() {}

    /** A loop over days since 1970-01-01. */
    private interface DayLoop {
        void run(long[] days, long[] out);
    }

    /** Makes the loop for the settings of a brief. */
    private interface LoopMaker {
        DayLoop make(CalendarSettings calendar);
    }

    static List<RowFunction> all() {
        List<RowFunction> all = new ArrayList<>();
        all.add(part("year", "The year.", "year(2026-05-09)", "2026", c -> (d, out) -> {
                    for (int i = 0; i < out.length; i++) {
                        out[i] = Days.year(d[i]);
                    }
                })
                .naming(Unit.YEAR)
                .keepingOrder());
        all.add(part("quarter", "The quarter, 1 to 4.", "quarter(2026-05-09)", "2", c -> (d, out) -> {
                    for (int i = 0; i < out.length; i++) {
                        out[i] = (Days.month(d[i]) + 2) / 3;
                    }
                })
                .naming(Unit.QUARTER));
        all.add(part("month", "The month, 1 to 12.", "month(2026-05-09)", "5", c -> (d, out) -> {
                    for (int i = 0; i < out.length; i++) {
                        out[i] = Days.month(d[i]);
                    }
                })
                .naming(Unit.MONTH));
        all.add(part("week", "The ISO week, 1 to 53.", "week(2026-05-09)", "19", c -> (d, out) -> {
                    for (int i = 0; i < out.length; i++) {
                        out[i] = Days.isoWeek(d[i]) % 100;
                    }
                })
                .naming(Unit.WEEK));
        all.add(part(
                "week_year",
                "The year that the ISO week belongs to.",
                "week_year(2027-01-01)",
                "2026",
                c -> (d, out) -> {
                    for (int i = 0; i < out.length; i++) {
                        out[i] = Days.isoWeek(d[i]) / 100;
                    }
                }));
        all.add(part("day", "The day of the month.", "day(2026-05-09)", "9", c -> (d, out) -> {
                    for (int i = 0; i < out.length; i++) {
                        out[i] = Days.day(d[i]);
                    }
                })
                .naming(Unit.DAY));
        all.add(part(
                        "weekday",
                        "The day of the week, 1 for Monday to 7 for Sunday.",
                        "weekday(2026-05-09)",
                        "6",
                        c -> (d, out) -> {
                            for (int i = 0; i < out.length; i++) {
                                out[i] = Days.weekday(d[i]);
                            }
                        })
                .naming(Unit.DAY));
        all.add(part("decade", "The first year of the decade.", "decade(2026-05-09)", "2020", c -> (d, out) -> {
            for (int i = 0; i < out.length; i++) {
                out[i] = Math.floorDiv(Days.year(d[i]), 10) * 10L;
            }
        }));
        all.add(part(
                        "fiscal_year",
                        "The year in which the fiscal year ends; it starts in the month of 'year starts'.",
                        "fiscal_year(2026-05-09)",
                        "2026",
                        c -> (d, out) -> {
                            for (int i = 0; i < out.length; i++) {
                                out[i] = Days.year(d[i])
                                        + (c.yearStart() > 1 && Days.month(d[i]) >= c.yearStart() ? 1 : 0);
                            }
                        })
                .naming(Unit.YEAR));
        all.add(part(
                        "fiscal_quarter",
                        "The quarter of the fiscal year, 1 to 4.",
                        "fiscal_quarter(2026-05-09)",
                        "2",
                        c -> (d, out) -> {
                            for (int i = 0; i < out.length; i++) {
                                out[i] = Math.floorMod(Days.month(d[i]) - c.yearStart(), 12) / 3 + 1;
                            }
                        })
                .naming(Unit.QUARTER));
        all.add(start(
                        "start_of_week",
                        "The day on which the week starts.",
                        "start_of_week(2026-05-09)",
                        "2026-05-04",
                        c -> (d, out) -> {
                            for (int i = 0; i < out.length; i++) {
                                out[i] = d[i] - Math.floorMod(Days.weekday(d[i]) - c.weekStart(), 7);
                            }
                        })
                .naming(Unit.WEEK)
                .keepingOrder());
        all.add(start(
                        "start_of_month",
                        "The first day of the month.",
                        "start_of_month(2026-05-09)",
                        "2026-05-01",
                        c -> (d, out) -> {
                            for (int i = 0; i < out.length; i++) {
                                out[i] = d[i] - Days.day(d[i]) + 1;
                            }
                        })
                .naming(Unit.MONTH)
                .keepingOrder());
        all.add(start(
                        "start_of_quarter",
                        "The first day of the quarter.",
                        "start_of_quarter(2026-05-09)",
                        "2026-04-01",
                        c -> (d, out) -> {
                            for (int i = 0; i < out.length; i++) {
                                out[i] = Days.of(Days.year(d[i]), (Days.month(d[i]) - 1) / 3 * 3 + 1, 1);
                            }
                        })
                .naming(Unit.QUARTER)
                .keepingOrder());
        all.add(start(
                        "start_of_year",
                        "The first day of the year.",
                        "start_of_year(2026-05-09)",
                        "2026-01-01",
                        c -> (d, out) -> {
                            for (int i = 0; i < out.length; i++) {
                                out[i] = Days.of(Days.year(d[i]), 1, 1);
                            }
                        })
                .naming(Unit.YEAR)
                .keepingOrder());
        all.add(clock("hour", 3_600_000_000L, 24, "The hour, 0 to 23.", "hour(2026-05-09T18:30)", "18")
                .naming(Unit.HOUR));
        all.add(clock("minute", 60_000_000L, 60, "The minute, 0 to 59.", "minute(2026-05-09T18:30)", "30")
                .naming(Unit.MINUTE));
        all.add(name(
                "month_name",
                "MMMM",
                "The name of the month, in the language of the brief.",
                "month_name(2026-05-09)",
                "May"));
        all.add(name(
                "weekday_name",
                "EEEE",
                "The name of the day, in the language of the brief.",
                "weekday_name(2026-05-09)",
                "Saturday"));
        all.add(of(
                "days_between",
                "days_between(a, b)",
                "The days from a to b; negative when b lies before a.",
                "days_between(2026-05-01, 2026-05-09)",
                "8",
                DateFunctions::daysBetween));
        all.add(of(
                "in_zone",
                "in_zone(x, 'zone')",
                "A point in time as date and time of a zone.",
                "in_zone(instant('2026-05-09T18:30Z'), 'Europe/Lisbon')",
                "2026-05-09T19:30:00",
                DateFunctions::inZone));
        all.add(of(
                "format",
                "format(d, 'pattern')",
                "A date or time as text.",
                "format(2026-05-09, 'dd/MM/yyyy')",
                "09/05/2026",
                DateFunctions::format));
        return all;
    }

    private static RowFunction of(
            String name, String usage, String about, String example, String result, RowFunction.Rule rule) {
        return new RowFunction(new Entry(name, Family.DATES, usage, about, example, result), rule);
    }

    /** Days of dates and of date-times. */
    static LongColumn days(Column column) {
        if (column.type().kind() == Kind.EMPTY) {
            return (LongColumn) Column.constant(Type.DATE, null, column.size());
        }
        LongColumn longs = (LongColumn) column;
        if (column.type().kind() == Kind.DATE) {
            return longs;
        }
        long[] out = new long[column.size()];
        long[] micros = longs.values();
        int mask = column.mask();
        for (int i = 0; i < out.length; i++) {
            out[i] = Math.floorDiv(micros[i & mask], Values.MICROS_A_DAY);
        }
        return new LongColumn(Type.DATE, out, out.length, Validity.spread(column, column.size()));
    }

    private static RowFunction part(String name, String about, String example, String result, LoopMaker maker) {
        return dayFunction(name, Type.INTEGER, about, example, result, maker);
    }

    private static RowFunction start(String name, String about, String example, String result, LoopMaker maker) {
        return dayFunction(name, Type.DATE, about, example, result, maker);
    }

    private static RowFunction dayFunction(
            String name, Type type, String about, String example, String result, LoopMaker maker) {
        String usage = name + "(d)";
        return of(name, usage, about, example, result, args -> {
            args.expectCount(1, 1, usage);
            args.expectKind(0, name + " needs a date or datetime", Kind.DATE, Kind.DATETIME);
            DayLoop loop = maker.make(args.calendar());
            return new RowFunction.Bound(type, type.isTime(), notices -> (c, rows) -> {
                LongColumn days = (LongColumn) days(c[0]).flat();
                LongColumn worked = new LongColumn(type, ofDays(loop, days.values(), rows), rows, days.valid());
                return type.isTime() ? withinCalendar(worked) : worked;
            });
        });
    }

    /** Where days lie close together, each is worked out once. */
    private static long[] ofDays(DayLoop loop, long[] days, int rows) {
        long least = Long.MAX_VALUE;
        long greatest = Long.MIN_VALUE;
        for (int i = 0; i < rows; i++) {
            least = Math.min(least, days[i]);
            greatest = Math.max(greatest, days[i]);
        }
        long[] out = new long[rows];
        if (rows == 0 || greatest - least < 0 || greatest - least >= rows / 2) {
            loop.run(days, out);
            return out;
        }
        long[] each = new long[(int) (greatest - least) + 1];
        long first = least;
        Arrays.setAll(each, i -> first + i);
        long[] worked = new long[each.length];
        loop.run(each, worked);
        for (int i = 0; i < rows; i++) {
            out[i] = worked[(int) (days[i] - least)];
        }
        return out;
    }

    private static RowFunction clock(String name, long unit, int most, String about, String example, String result) {
        String usage = name + "(d)";
        return of(name, usage, about, example, result, args -> {
            args.expectCount(1, 1, usage);
            args.expectKind(0, name + " needs a datetime", Kind.DATETIME);
            return RowFunction.Bound.safe(Type.INTEGER, (c, rows) -> {
                LongColumn micros =
                        (LongColumn) Types.widen(c[0], Type.DATETIME).flat();
                long[] out = new long[rows];
                for (int i = 0; i < rows; i++) {
                    out[i] = Math.floorMod(Math.floorDiv(micros.values()[i], unit), most);
                }
                return new LongColumn(Type.INTEGER, out, rows, micros.valid());
            });
        });
    }

    private static RowFunction name(String name, String pattern, String about, String example, String result) {
        String usage = name + "(d)";
        return of(name, usage, about, example, result, args -> {
            args.expectCount(1, 1, usage);
            args.expectKind(0, name + " needs a date or datetime", Kind.DATE, Kind.DATETIME);
            DateTimeFormatter format =
                    CalendarNames.formatter(pattern, args.calendar().language());
            return Boxed.safe(Type.TEXT, a -> format.format((TemporalAccessor) a[0]));
        });
    }

    private static RowFunction.Bound daysBetween(Arguments args) {
        args.expectCount(2, 2, "days_between(a, b)");
        for (int i = 0; i < 2; i++) {
            args.expectKind(i, "days_between needs dates", Kind.DATE, Kind.DATETIME);
        }
        return RowFunction.Bound.safe(Type.INTEGER, (c, rows) -> {
            LongColumn a = days(c[0]);
            LongColumn b = days(c[1]);
            long[] out = new long[rows];
            for (int i = 0; i < rows; i++) {
                out[i] = b.values()[i & b.mask()] - a.values()[i & a.mask()];
            }
            return new LongColumn(Type.INTEGER, out, rows, Validity.both(a, b, rows));
        });
    }

    private static RowFunction.Bound inZone(Arguments args) {
        args.expectCount(2, 2, "in_zone(x, 'zone')");
        args.expectKind(0, "only a point in time has a place in a zone", Kind.INSTANT);
        ZoneId zone;
        try {
            zone = ZoneId.of(args.textConstant(1, "The zone"));
        } catch (DateTimeException e) {
            throw new Misuse(1, "There is no zone {}.", "Zones are named like 'Europe/Lisbon' or '+01:00'.");
        }
        return Boxed.fallible(Type.DATETIME, a -> {
            LocalDateTime local = LocalDateTime.ofInstant((Instant) a[0], zone);
            if (local.getYear() < 1 || local.getYear() > 9999) {
                throw new Fault(
                        "The result would be in the year " + local.getYear()
                                + ", but dates go from 0001-01-01 to 9999-12-31.",
                        local.toString(),
                        null);
            }
            return local;
        });
    }

    private static RowFunction.Bound format(Arguments args) {
        args.expectCount(2, 2, "format(d, 'pattern')");
        args.expectKind(0, "format needs a date or datetime", Kind.DATE, Kind.DATETIME);
        try {
            DateTimeFormatter format = CalendarNames.formatter(
                    args.textConstant(1, "The pattern"), args.calendar().language());
            String ignored = format.format( // throws where the pattern asks for what is not there
                    args.type(0).kind() == Kind.DATE
                            ? LocalDateTime.of(2026, 5, 9, 0, 0).toLocalDate()
                            : LocalDateTime.of(2026, 5, 9, 0, 0).atOffset(ZoneOffset.UTC));
            return Boxed.safe(Type.TEXT, a -> format.format((TemporalAccessor) a[0]));
        } catch (IllegalArgumentException | DateTimeException e) {
            throw new Misuse(
                    1,
                    "The pattern {} cannot be used: " + e.getMessage() + ".",
                    "Patterns are written like 'dd/MM/yyyy'.");
        }
    }

    /** A date or datetime so many units later; {@code unit} as its number of days or months. */
    static RowFunction.Bound shift(Arguments args, long months, long micros) {
        args.expectKind(0, "only a date or datetime can be moved by a span of time", Kind.DATE, Kind.DATETIME);
        Type type = args.type(0).kind() == Kind.EMPTY ? Type.DATE : args.type(0);
        boolean date = type.kind() == Kind.DATE;
        if (date && micros % Values.MICROS_A_DAY != 0) {
            throw new Misuse(0, "'{}' is a date; hours and minutes can be added to a datetime only.", null);
        }
        return RowFunction.Bound.fallible(type, (c, rows) -> {
            LongColumn x = (LongColumn) Types.widen(c[0], type).flat();
            long[] out = new long[rows];
            for (int i = 0; i < rows; i++) {
                out[i] = Validity.has(x.valid(), i) ? Days.shift(type, x.values()[i], months, micros) : 0;
            }
            return withinCalendar(new LongColumn(type, out, rows, x.valid()));
        });
    }

    /** Refuses days outside the calendar, which ends with the year 9999. */
    private static LongColumn withinCalendar(LongColumn times) {
        long unit = times.type().kind() == Kind.DATE ? 1 : Values.MICROS_A_DAY;
        long least = Days.of(1, 1, 1) * unit;
        long greatest = Days.of(10_000, 1, 1) * unit;
        for (int i = 0; i < times.size(); i++) {
            long value = times.values()[i];
            if ((value < least || value >= greatest) && Validity.has(times.valid(), i)) {
                long day = Math.floorDiv(value, unit);
                String shown =
                        String.format(Locale.ROOT, "%d-%02d-%02d", Days.year(day), Days.month(day), Days.day(day));
                throw new Fault(
                                "The result would be " + shown + ", but dates go from 0001-01-01 to 9999-12-31.",
                                shown,
                                null)
                        .at(i);
            }
        }
        return times;
    }
}
