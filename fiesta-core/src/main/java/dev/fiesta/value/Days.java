package dev.fiesta.value;

/**
 * The calendar by arithmetic alone, for loops over days since 1970-01-01. (Method: the days of a 400-year cycle counted from
 * 1 March, so that leap days come last.)
 */
public final class Days {
    private static final int CYCLE = 146_097;
    private static final int TO_1970 = 719_468;

    private Days() {}

    /** Year × 10000 + month × 100 + day; for the years 0 to 9999 it reads as the date. */
    public static int ymd(long days) {
        long shifted = days + TO_1970;
        long cycle = Math.floorDiv(shifted, CYCLE);
        int dayOfCycle = (int) (shifted - cycle * CYCLE);
        int yearOfCycle = (dayOfCycle - dayOfCycle / 1460 + dayOfCycle / 36_524 - dayOfCycle / 146_096) / 365;
        int dayOfYear = dayOfCycle - (365 * yearOfCycle + yearOfCycle / 4 - yearOfCycle / 100);
        int shiftedMonth = (5 * dayOfYear + 2) / 153;
        int day = dayOfYear - (153 * shiftedMonth + 2) / 5 + 1;
        int month = shiftedMonth < 10 ? shiftedMonth + 3 : shiftedMonth - 9;
        int year = (int) (yearOfCycle + cycle * 400) + (month <= 2 ? 1 : 0);
        return (year * 100 + month) * 100 + day;
    }

    public static int year(long days) {
        return Math.floorDiv(ymd(days), 10_000);
    }

    public static int month(long days) {
        return Math.floorMod(ymd(days), 10_000) / 100;
    }

    public static int day(long days) {
        return Math.floorMod(ymd(days), 100);
    }

    /** Days since 1970-01-01 of a date that exists. */
    public static long of(int year, int month, int day) {
        int shifted = month <= 2 ? year - 1 : year;
        int cycle = Math.floorDiv(shifted, 400);
        int yearOfCycle = shifted - cycle * 400;
        int dayOfYear = (153 * (month > 2 ? month - 3 : month + 9) + 2) / 5 + day - 1;
        int dayOfCycle = yearOfCycle * 365 + yearOfCycle / 4 - yearOfCycle / 100 + dayOfYear;
        return (long) cycle * CYCLE + dayOfCycle - TO_1970;
    }

    /** Whether there is such a day. */
    public static boolean exists(int year, int month, int day) {
        return month >= 1 && month <= 12 && day >= 1 && day <= lengthOfMonth(year, month);
    }

    public static int lengthOfMonth(int year, int month) {
        if (month == 2) {
            return year % 4 == 0 && (year % 100 != 0 || year % 400 == 0) ? 29 : 28;
        }
        return month == 4 || month == 6 || month == 9 || month == 11 ? 30 : 31;
    }

    /** 1 for Monday to 7 for Sunday. */
    public static int weekday(long days) {
        return (int) Math.floorMod(days + 3, 7L) + 1;
    }

    /** The day so many months later; a day that the month lacks becomes its last. */
    public static long plusMonths(long days, long months) {
        int ymd = ymd(days);
        long month = Math.floorDiv(ymd, 10_000) * 12L + Math.floorMod(ymd, 10_000) / 100 - 1 + months;
        int year = (int) Math.floorDiv(month, 12L);
        int ofYear = (int) Math.floorMod(month, 12L) + 1;
        return of(year, ofYear, Math.min(Math.floorMod(ymd, 100), lengthOfMonth(year, ofYear)));
    }

    /** The ISO week-year × 100 + the ISO week. */
    public static int isoWeek(long days) {
        long thursday = days - weekday(days) + 4;
        int year = year(thursday);
        return year * 100 + (int) (thursday - of(year, 1, 1)) / 7 + 1;
    }

    /** A date (days) or date-time (microseconds) moved by months and microseconds; months clamp. */
    public static long shift(Type type, long value, long months, long micros) {
        if (type.kind() == Kind.DATE) {
            return (months == 0 ? value : plusMonths(value, months)) + micros / Values.MICROS_A_DAY;
        }
        long day = Math.floorDiv(value, Values.MICROS_A_DAY);
        long moved = months == 0 ? day : plusMonths(day, months);
        return value + (moved - day) * Values.MICROS_A_DAY + micros;
    }
}
