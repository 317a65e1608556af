package dev.fiesta.report.text;

import dev.fiesta.value.LocaleStyle;

/**
 * How numbers are written along an axis.
 *
 * @param factor that they are shown by: 100 for percents
 * @param sign behind them
 * @param grouped whether thousands stand apart
 */
public record AxisFigures(LocaleStyle locale, double factor, String sign, boolean grouped) {
    public static AxisFigures plain(LocaleStyle locale) {
        return new AxisFigures(locale, 1, "", true);
    }

    /** A number as it stands beside the axis. */
    public String write(String plain) {
        return (grouped ? locale.number(plain) : plain) + sign;
    }
}
