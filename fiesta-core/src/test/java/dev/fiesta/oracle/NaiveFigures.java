package dev.fiesta.oracle;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Gathering functions over lists of arguments, straight from their definitions. */
final class NaiveFigures {
    static final Set<String> NAMES = Set.of(
            "count",
            "count_if",
            "count_distinct",
            "sum",
            "mean",
            "median",
            "min",
            "max",
            "range",
            "stddev",
            "variance",
            "stddev_pop",
            "variance_pop",
            "mode",
            "first",
            "last",
            "at_max",
            "at_min",
            "list",
            "share",
            "any",
            "all",
            "quantile",
            "weighted_mean",
            "correlation",
            "mean_abs_deviation",
            "trimmed_mean",
            "geometric_mean");

    private NaiveFigures() {}

    /** @param rows the arguments of each row, in order */
    static @Nullable Object figure(String name, List<List<Object>> rows) {
        if (name.equals("count") && (rows.isEmpty() || rows.get(0).isEmpty())) {
            return BigDecimal.valueOf(rows.size());
        }
        List<List<Object>> present = new ArrayList<>();
        for (List<Object> row : rows) {
            if (row.stream().allMatch(v -> v != null)) {
                present.add(row);
            }
        }
        List<Object> values = new ArrayList<>();
        present.forEach(r -> values.add(r.get(0)));
        switch (name) {
            case "count":
                return BigDecimal.valueOf(values.size());
            case "count_if":
                return BigDecimal.valueOf(
                        values.stream().filter(Boolean.TRUE::equals).count());
            case "count_distinct":
                TreeSet<Object> different = new TreeSet<>(NaiveRow::compare);
                different.addAll(values);
                return BigDecimal.valueOf(different.size());
            default:
                return values.isEmpty() ? null : figure(name, present, values);
        }
    }

    private static @Nullable Object figure(String name, List<List<Object>> rows, List<Object> values) {
        return switch (name) {
            case "sum" -> sum(values);
            case "mean" ->
                NaiveRow.finite(total(values)
                        .divide(BigDecimal.valueOf(values.size()), NaiveRow.DEEP)
                        .doubleValue());
            case "median" -> quantile(values, new BigDecimal("0.5"));
            case "quantile" -> quantile(values, (BigDecimal) rows.get(0).get(1));
            case "min" -> values.stream().min(NaiveRow::compare).orElseThrow();
            case "max" -> values.stream().max(NaiveRow::compare).orElseThrow();
            case "first" -> values.get(0);
            case "last" -> values.get(values.size() - 1);
            case "list" -> values.stream().map(String::valueOf).collect(Collectors.joining(", "));
            case "any" -> values.contains(true);
            case "all" -> !values.contains(false);
            case "mode" -> mode(values);
            case "at_max" -> beside(rows, 1);
            case "at_min" -> beside(rows, -1);
            case "variance", "stddev", "variance_pop", "stddev_pop" -> spread(name, values);
            case "weighted_mean" -> weightedMean(alike(rows));
            case "correlation" -> correlation(alike(rows));
            case "range" -> range(values);
            case "geometric_mean" -> geometricMean(values);
            case "trimmed_mean" -> trimmedMean(values, (BigDecimal) rows.get(0).get(1));
            case "mean_abs_deviation" -> meanDistance(values);
            default -> throw new UnsupportedOperationException(name);
        };
    }

    /** The sum before it is rounded, for shares; null over nothing. */
    static @Nullable BigDecimal unrounded(List<List<Object>> rows) {
        List<Object> values = new ArrayList<>();
        rows.forEach(r -> values.add(r.get(0)));
        values.removeIf(v -> v == null);
        return values.isEmpty() ? null : total(values);
    }

    private static BigDecimal total(List<Object> values) {
        BigDecimal total = BigDecimal.ZERO;
        for (Object value : values) {
            total = total.add(NaiveRow.exact(value));
        }
        return total;
    }

    private static Object sum(List<Object> values) {
        BigDecimal total = total(values);
        return values.get(0) instanceof Double ? (Object) NaiveRow.finite(total.doubleValue()) : total;
    }

    private static Object quantile(List<Object> values, BigDecimal part) {
        List<BigDecimal> sorted = new ArrayList<>();
        values.forEach(v -> sorted.add(NaiveRow.exact(v)));
        sorted.sort(null);
        BigDecimal at = part.multiply(BigDecimal.valueOf(sorted.size() - 1L));
        int low = at.intValue();
        BigDecimal fraction = at.subtract(BigDecimal.valueOf(low));
        BigDecimal high = sorted.get(Math.min(low + 1, sorted.size() - 1));
        return sorted.get(low)
                        .add(high.subtract(sorted.get(low)).multiply(fraction))
                        .doubleValue()
                + 0.0;
    }

    private static Object mode(List<Object> values) {
        Map<Object, Integer> counts = new LinkedHashMap<>();
        values.forEach(v -> counts.merge(v, 1, Integer::sum));
        int most = counts.values().stream().max(Integer::compare).orElseThrow();
        return counts.keySet().stream()
                .filter(v -> counts.get(v) == most)
                .min(NaiveRow::compare)
                .orElseThrow();
    }

    private static Object beside(List<List<Object>> rows, int wanted) {
        List<Object> best = rows.get(0);
        for (List<Object> row : rows) {
            best = NaiveRow.compare(row.get(1), best.get(1)) * wanted > 0 ? row : best;
        }
        return best.get(0);
    }

    private static @Nullable Object spread(String name, List<Object> values) {
        boolean sample = !name.endsWith("_pop");
        int n = values.size();
        if (sample && n == 1) {
            return null;
        }
        BigDecimal squares = BigDecimal.ZERO;
        for (Object value : values) {
            squares = squares.add(NaiveRow.exact(value).pow(2));
        }
        BigDecimal count = BigDecimal.valueOf(n);
        BigDecimal above = count.multiply(squares).subtract(total(values).pow(2));
        BigDecimal variance = above.divide(count.multiply(sample ? BigDecimal.valueOf(n - 1L) : count), NaiveRow.DEEP);
        return NaiveRow.finite(
                name.startsWith("stddev") ? variance.sqrt(NaiveRow.DEEP).doubleValue() : variance.doubleValue());
    }

    /** Where one side is a double, the other side becomes the nearest one. */
    private static List<List<Object>> alike(List<List<Object>> rows) {
        boolean mixed = rows.stream().flatMap(List::stream).anyMatch(v -> v instanceof Double);
        return mixed
                ? rows.stream()
                        .map(r -> r.stream()
                                .map(v -> (Object) ((Number) v).doubleValue())
                                .toList())
                        .toList()
                : rows;
    }

    private static Object meanDistance(List<Object> values) {
        BigDecimal count = BigDecimal.valueOf(values.size());
        BigDecimal total = BigDecimal.ZERO;
        for (Object value : values) {
            total = total.add(NaiveRow.exact(value)
                    .multiply(count)
                    .subtract(total(values))
                    .abs());
        }
        return total.divide(count.multiply(count), NaiveRow.DEEP).doubleValue();
    }

    private static Object trimmedMean(List<Object> values, BigDecimal part) {
        List<Object> sorted = new ArrayList<>(values);
        sorted.sort(NaiveRow::compare);
        for (int off = part.multiply(BigDecimal.valueOf(values.size())).intValue(); off > 0; off--) {
            sorted.remove(sorted.size() - 1);
            sorted.remove(0);
        }
        return total(sorted)
                .divide(BigDecimal.valueOf(sorted.size()), NaiveRow.DEEP)
                .doubleValue();
    }

    /** The double whose neighbours, half way, lie on both sides of the root when they are raised to the power. */
    static @Nullable Object geometricMean(List<?> values) {
        BigDecimal product = BigDecimal.ONE;
        double logarithms = 0;
        for (Object value : values) {
            BigDecimal exact = NaiveRow.exact(value);
            if (exact.signum() < 0) {
                return null;
            }
            product = product.multiply(exact);
            logarithms += Math.log(exact.doubleValue());
        }
        if (product.signum() == 0) {
            return 0.0;
        }
        double root = Math.exp(logarithms / values.size());
        while (half(root, Math.nextUp(root)).pow(values.size()).compareTo(product) < 0) {
            root = Math.nextUp(root);
        }
        while (half(root, Math.nextDown(root)).pow(values.size()).compareTo(product) > 0) {
            root = Math.nextDown(root);
        }
        return root;
    }

    private static BigDecimal half(double a, double b) {
        return new BigDecimal(a).add(new BigDecimal(b)).divide(BigDecimal.valueOf(2));
    }

    private static Object range(List<Object> values) {
        Object least = values.stream().min(NaiveRow::compare).orElseThrow();
        Object greatest = values.stream().max(NaiveRow::compare).orElseThrow();
        return least instanceof Double low
                ? (Object) ((Double) greatest - low)
                : ((BigDecimal) greatest).subtract((BigDecimal) least);
    }

    private static @Nullable Object correlation(List<List<Object>> rows) {
        BigDecimal n = BigDecimal.valueOf(rows.size());
        BigDecimal both =
                n.multiply(products(rows, 0, 1)).subtract(sums(rows, 0).multiply(sums(rows, 1)));
        BigDecimal x = n.multiply(products(rows, 0, 0)).subtract(sums(rows, 0).pow(2));
        BigDecimal y = n.multiply(products(rows, 1, 1)).subtract(sums(rows, 1).pow(2));
        BigDecimal below = x.multiply(y);
        if (below.signum() == 0) {
            return null;
        }
        BigDecimal squared = both.pow(2).divide(below, NaiveRow.DEEP);
        return both.signum() * squared.sqrt(NaiveRow.DEEP).doubleValue() + 0.0;
    }

    private static BigDecimal sums(List<List<Object>> rows, int argument) {
        return total(rows.stream().map(r -> r.get(argument)).toList());
    }

    private static BigDecimal products(List<List<Object>> rows, int a, int b) {
        BigDecimal total = BigDecimal.ZERO;
        for (List<Object> row : rows) {
            total = total.add(NaiveRow.exact(row.get(a)).multiply(NaiveRow.exact(row.get(b))));
        }
        return total;
    }

    private static @Nullable Object weightedMean(List<List<Object>> rows) {
        BigDecimal above = BigDecimal.ZERO;
        BigDecimal below = BigDecimal.ZERO;
        for (List<Object> row : rows) {
            above = above.add(NaiveRow.exact(row.get(0)).multiply(NaiveRow.exact(row.get(1))));
            below = below.add(NaiveRow.exact(row.get(1)));
        }
        return NaiveRow.divide(above, below);
    }
}
