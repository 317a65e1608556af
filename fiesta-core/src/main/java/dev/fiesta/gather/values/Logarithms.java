package dev.fiesta.gather.values;

/**
 * Logarithms and powers of e to about 100 bits, as sums of two doubles, so that what is worked out from many of them can be rounded
 * once. (Known technique: T. J. Dekker, A floating-point technique for extending the available precision, 1971.)
 */
public final class Logarithms {
    public static final double LN10 = 2.302585092994046;
    public static final double LN10_REST = -2.1707562233822494e-16;

    private static final double LN2 = 0.6931471805599453;
    private static final double LN2_REST = 2.3190468138462996e-17;
    private static final double ROOT_2 = 1.4142135623730951;
    private static final double SMALLEST_NORMAL = 0x1p-1022;

    /** Terms of the series of a logarithm, and those whose rounding would be seen. */
    private static final int TERMS = 22;

    private static final int FINE_TERMS = 11;

    /** An exponent is halved so often before the series, and the power squared as often after it. */
    private static final int HALVINGS = 8;

    private static final int POWER_TERMS = 11;

    private double high;
    private double low;

    public double high() {
        return high;
    }

    /** What {@link #high} lacks. */
    public double low() {
        return low;
    }

    /** The natural logarithm of a positive number. */
    public void ln(double x) {
        int exponent = 0;
        double m = x;
        if (m < SMALLEST_NORMAL) {
            m *= 0x1p54;
            exponent = -54;
        }
        int scale = Math.getExponent(m);
        m = Math.scalb(m, -scale);
        exponent += scale;
        if (m > ROOT_2) {
            m /= 2;
            exponent++;
        }
        // ln m = 2 (s + s³/3 + s⁵/5 + …) with s = (m - 1) / (m + 1)
        double below = m + 1;
        double belowRest = m - (below - 1);
        double s = (m - 1) / below;
        double sRest = (Math.fma(-s, below, m - 1) - s * belowRest) / below;
        multiply(s, sRest, s, sRest);
        double t = high;
        double tRest = low;
        double coarse = 0;
        for (int k = TERMS; k >= FINE_TERMS; k--) {
            coarse = coarse * t + 1.0 / (2 * k + 1);
        }
        high = coarse;
        low = 0;
        for (int k = FINE_TERMS - 1; k >= 0; k--) {
            int n = 2 * k + 1;
            double part = 1.0 / n;
            multiply(high, low, t, tRest);
            add(high, low, part, Math.fma(-part, n, 1.0) / n);
        }
        multiply(high, low, 2 * s, 2 * sRest);
        double ofMantissa = high;
        double ofMantissaRest = low;
        multiply(LN2, LN2_REST, exponent, 0);
        add(high, low, ofMantissa, ofMantissaRest);
    }

    /** The power of e whose exponent is the sum of two doubles, rounded once. */
    public double exp(double exponent, double rest) {
        double times = Math.rint(exponent / LN2);
        if (Math.abs(times) > 1100) {
            return times > 0 ? Double.POSITIVE_INFINITY : 0;
        }
        multiply(LN2, LN2_REST, -times, 0);
        add(high, low, exponent, rest);
        double part = 1.0 / (1 << HALVINGS);
        double r = high * part;
        double rRest = low * part;
        // e^r - 1 = r (1 + r/2 (1 + r/3 (1 + …)))
        high = 1;
        low = 0;
        for (int k = POWER_TERMS; k >= 2; k--) {
            multiply(high, low, r, rRest);
            double inverse = 1.0 / k;
            multiply(high, low, inverse, Math.fma(-inverse, k, 1.0) / k);
            add(high, low, 1, 0);
        }
        multiply(high, low, r, rRest);
        for (int i = 0; i < HALVINGS; i++) {
            double y = high;
            double yRest = low;
            multiply(y, yRest, y, yRest);
            add(high, low, 2 * y, 2 * yRest);
        }
        add(high, low, 1, 0);
        return Math.scalb(high, (int) times);
    }

    private void add(double a, double aRest, double b, double bRest) {
        double sum = a + b;
        double back = sum - a;
        double lost = (a - (sum - back)) + (b - back) + aRest + bRest;
        high = sum + lost;
        low = lost - (high - sum);
    }

    private void multiply(double a, double aRest, double b, double bRest) {
        double product = a * b;
        double lost = Math.fma(a, b, -product) + (a * bRest + aRest * b);
        high = product + lost;
        low = lost - (high - product);
    }
}
