package dev.fiesta.value;

import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.format.DateTimeFormatter;
import java.time.temporal.TemporalAccessor;
import java.time.temporal.TemporalQueries;
import java.util.Collection;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Reads dates and date-times from bytes. Patterns of digits at fixed places are read directly; others by the JDK's formatter,
 * strictly. A value that is no such date, such as 31/02, gives {@link #NONE}.
 */
public final class TimePattern {
    /** What no date or time can be. */
    public static final long NONE = Long.MIN_VALUE;

    /** Patterns in which days are often written, the likeliest first. */
    public static final List<String> DATES = List.of(
            "dd/MM/yyyy",
            "MM/dd/yyyy",
            "dd.MM.yyyy",
            "dd-MM-yyyy",
            "yyyy-MM-dd",
            "yyyy/MM/dd",
            "yyyyMMdd",
            "d/M/yyyy",
            "M/d/yyyy",
            "d.M.yyyy",
            "d MMM yyyy");
    /** Patterns in which days are often written with the names of months, the likeliest first. */
    public static final List<String> NAMED_DATES =
            List.of("d MMMM yyyy", "d. MMMM yyyy", "d MMM yyyy", "d. MMM yyyy", "d-MMM-yyyy", "d 'de' MMMM 'de' yyyy");
    /** Patterns in which days and times are often written, the likeliest first. */
    public static final List<String> TIMES = List.of(
            "dd/MM/yyyy HH:mm",
            "MM/dd/yyyy HH:mm",
            "dd.MM.yyyy HH:mm",
            "dd/MM/yyyy HH:mm:ss",
            "MM/dd/yyyy HH:mm:ss",
            "dd.MM.yyyy HH:mm:ss",
            "yyyy/MM/dd HH:mm");

    private static final String FIELDS = "yMdHms";

    private final boolean dateTime;
    private final @Nullable String fixed;
    private final List<DateTimeFormatter> formatters;

    private TimePattern(boolean dateTime, @Nullable String fixed, List<DateTimeFormatter> formatters) {
        this.dateTime = dateTime;
        this.fixed = fixed;
        this.formatters = formatters;
    }

    /**
     * A pattern in the letters of {@link DateTimeFormatter}.
     *
     * @param dateTime whether microseconds are wanted, else days
     * @throws IllegalArgumentException when the pattern is none
     */
    public static TimePattern of(String pattern, boolean dateTime) {
        return of(pattern, dateTime, "en");
    }

    /**
     * As {@link #of(String, boolean)}; names of months and days are those of a language, then those of English.
     *
     * @param language such as {@code pt} or {@code pt-PT}
     */
    public static TimePattern of(String pattern, boolean dateTime, String language) {
        String plain = pattern.replace("'T'", "T");
        return isFixed(plain, dateTime)
                ? new TimePattern(dateTime, plain, List.of())
                : new TimePattern(dateTime, null, CalendarNames.readers(pattern, language));
    }

    /** The pattern in which days are written that most of some texts follow, or null when hardly any follows one. */
    public static @Nullable String of(Collection<String> texts) {
        String best = null;
        long most = texts.size() / 2;
        for (String pattern : DATES) {
            TimePattern reader = of(pattern, false);
            long fits = texts.stream()
                    .filter(t -> t.length() < 25 && reader.parse(t) != NONE)
                    .count();
            if (fits > most) {
                best = pattern;
                most = fits;
            }
        }
        return best;
    }

    /** What somebody meant who wrote minutes for months, weeks' years for years, or days of the year for days; null when nobody did. */
    public static @Nullable String meant(String pattern) {
        boolean hours = pattern.matches(".*[Hhk].*");
        String meant = pattern.replace('Y', 'y').replaceAll("D+", "dd");
        meant = hours || meant.contains("M") ? meant : meant.replace("mm", "MM");
        return meant.equals(pattern) ? null : meant;
    }

    private static boolean isFixed(String pattern, boolean dateTime) {
        for (int i = 0; i < pattern.length(); i++) {
            char c = pattern.charAt(i);
            if (Character.isLetter(c) && FIELDS.indexOf(c) < 0 && c != 'T'
                    || c == '\''
                    || c == '['
                    || c == ']'
                    || c > 127) {
                return false;
            }
        }
        boolean full = pattern.contains("yyyy") && !pattern.contains("yyyyy");
        for (String pair : new String[] {"MM", "dd", "HH", "mm", "ss"}) {
            String longer = pair + pair.charAt(0);
            boolean single = pattern.indexOf(pair.charAt(0)) >= 0 && !pattern.contains(pair);
            full &= !single && !pattern.contains(longer);
        }
        return full && pattern.contains("MM") && pattern.contains("dd") && (!dateTime || pattern.contains("HH"));
    }

    /** Days or microseconds of the bytes from {@code start} to before {@code end}, or {@link #NONE}. */
    public long parse(byte[] bytes, int start, int end) {
        return fixed != null
                ? parseFixed(fixed, bytes, start, end)
                : parseText(new String(bytes, start, end - start, StandardCharsets.UTF_8));
    }

    /** As {@link #parse(byte[], int, int)}. */
    public long parse(String text) {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        return parse(bytes, 0, bytes.length);
    }

    private long parseFixed(String pattern, byte[] bytes, int start, int end) {
        if (end - start != pattern.length()) {
            return NONE;
        }
        int year = 0;
        int month = 0;
        int day = 0;
        int hour = 0;
        int minute = 0;
        int second = 0;
        for (int i = 0; i < pattern.length(); i++) {
            char wanted = pattern.charAt(i);
            int digit = bytes[start + i] - '0';
            if (FIELDS.indexOf(wanted) < 0) {
                if (bytes[start + i] != wanted) {
                    return NONE;
                }
                continue;
            }
            if (digit < 0 || digit > 9) {
                return NONE;
            }
            switch (wanted) {
                case 'y' -> year = year * 10 + digit;
                case 'M' -> month = month * 10 + digit;
                case 'd' -> day = day * 10 + digit;
                case 'H' -> hour = hour * 10 + digit;
                case 'm' -> minute = minute * 10 + digit;
                default -> second = second * 10 + digit;
            }
        }
        if (!Days.exists(year, month, day) || hour > 23 || minute > 59 || second > 59) {
            return NONE;
        }
        long days = Days.of(year, month, day);
        return dateTime ? days * Values.MICROS_A_DAY + ((hour * 60L + minute) * 60 + second) * 1_000_000L : days;
    }

    private long parseText(String text) {
        for (DateTimeFormatter formatter : formatters) {
            long value = parse(formatter, text);
            if (value != NONE) {
                return value;
            }
        }
        return NONE;
    }

    private long parse(DateTimeFormatter formatter, String text) {
        try {
            TemporalAccessor parsed = formatter.parse(text);
            LocalDate date = parsed.query(TemporalQueries.localDate());
            LocalTime time = parsed.query(TemporalQueries.localTime());
            if (date == null || (dateTime && time == null)) {
                return NONE;
            }
            return dateTime ? Values.micros(LocalDateTime.of(date, time)) : date.toEpochDay();
        } catch (DateTimeException e) {
            return NONE;
        }
    }

    /** Days of an ISO date such as 2026-05-01, or {@link #NONE}. */
    public static long isoDate(byte[] b, int start, int end) {
        if (end - start != 10 || b[start + 4] != '-' || b[start + 7] != '-') {
            return NONE;
        }
        int year = pair(b, start) * 100 + pair(b, start + 2);
        int month = pair(b, start + 5);
        int day = pair(b, start + 8);
        boolean digits = pair(b, start) >= 0 && pair(b, start + 2) >= 0;
        return digits && Days.exists(year, month, day) ? Days.of(year, month, day) : NONE;
    }

    /** Microseconds of an ISO date-time with blank or T, seconds and up to six further digits if any, or {@link #NONE}. */
    public static long isoDateTime(byte[] b, int start, int end) {
        int length = end - start;
        if (length < 16 || (b[start + 10] != 'T' && b[start + 10] != ' ') || b[start + 13] != ':') {
            return NONE;
        }
        long days = isoDate(b, start, start + 10);
        int hour = pair(b, start + 11);
        int minute = pair(b, start + 14);
        if (days == NONE || hour < 0 || hour > 23 || minute < 0 || minute > 59) {
            return NONE;
        }
        long micros = days * Values.MICROS_A_DAY + (hour * 60L + minute) * 60_000_000L;
        if (length == 16) {
            return micros;
        }
        int second = length >= 19 && b[start + 16] == ':' ? pair(b, start + 17) : -1;
        if (second < 0 || second > 59) {
            return NONE;
        }
        long fraction = length == 19 ? 0 : fraction(b, start + 19, end);
        return fraction < 0 ? NONE : micros + second * 1_000_000L + fraction;
    }

    private static long fraction(byte[] b, int start, int end) {
        int digits = end - start - 1;
        if (b[start] != '.' || digits < 1 || digits > 6) {
            return -1;
        }
        long value = 0;
        for (int i = start + 1; i < end; i++) {
            int digit = b[i] - '0';
            if (digit < 0 || digit > 9) {
                return -1;
            }
            value = value * 10 + digit;
        }
        return value * Values.power(6 - digits);
    }

    /** Microseconds UTC of an ISO date-time with Z or an offset, or {@link #NONE}. */
    public static long isoInstant(byte[] b, int start, int end) {
        if (end - start >= 17 && (b[end - 1] == 'Z' || b[end - 1] == 'z')) {
            return isoDateTime(b, start, end - 1);
        }
        int sign = end - start >= 22 ? end - 6 : start;
        if (sign == start || (b[sign] != '+' && b[sign] != '-') || b[sign + 3] != ':') {
            return NONE;
        }
        long local = isoDateTime(b, start, sign);
        int hours = pair(b, sign + 1);
        int minutes = pair(b, sign + 4);
        if (local == NONE || hours < 0 || hours > 18 || minutes < 0 || minutes > 59) {
            return NONE;
        }
        long offset = (hours * 60L + minutes) * 60_000_000L;
        return b[sign] == '+' ? local - offset : local + offset;
    }

    private static int pair(byte[] b, int at) {
        int tens = b[at] - '0';
        int ones = b[at + 1] - '0';
        return tens < 0 || tens > 9 || ones < 0 || ones > 9 ? -1 : tens * 10 + ones;
    }
}
