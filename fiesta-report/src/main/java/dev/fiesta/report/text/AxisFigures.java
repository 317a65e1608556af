package dev.fiesta.report.text;

import dev.fiesta.value.LocaleStyle;

/**
 * How numbers are written along an axis.
 *
 * @param factor that they are shown by: 100 for percents
 * @param sign behind them
 */
public record AxisFigures(LocaleStyle locale, double factor, String sign) {
    public static AxisFigures plain(LocaleStyle locale) {
        return new AxisFigures(locale, 1, "");
    }
}
