package dev.fiesta.oracle;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;

/** Random tables of sales and random clauses that fit them. */
final class RandomQuestions {
    private static final String[] SITES = {
        "Quay", "Meadow", "Old Town", "Orchard", "Église", "\uD83C\uDFAA tent", "\uFF21"
    };
    private static final String[] ITEMS = {"lemonade", "churros", "ceramics", "a, \"b\"", "", "it''s"};

    private final SplittableRandom random;

    RandomQuestions(long seed) {
        random = new SplittableRandom(seed);
    }

    /** Rows with the fields site, item, day, quantity, amount, score; missing values and ties are frequent. */
    List<Map<String, Object>> table() {
        int size = random.nextInt(6) == 0 ? random.nextInt(3) : random.nextInt(60);
        boolean extreme = random.nextInt(5) == 0;
        List<Map<String, Object>> rows = new ArrayList<>();
        for (int i = 0; i < size; i++) {
            Map<String, Object> row = new LinkedHashMap<>();
            row.put("site", missing(8) ? null : SITES[random.nextInt(SITES.length)]);
            row.put("item", missing(8) ? null : ITEMS[random.nextInt(ITEMS.length)].replace("''", "'"));
            row.put("day", missing(10) ? null : LocalDate.of(2026, 5, 1).plusDays(random.nextInt(70)));
            row.put("quantity", missing(10) ? null : BigDecimal.valueOf(random.nextInt(-2, 7)));
            row.put(
                    "amount",
                    missing(6)
                            ? null
                            : BigDecimal.valueOf(
                                    extreme
                                            ? random.nextLong(-99_999_999_999L, 99_999_999_999L)
                                            : random.nextInt(-500, 3000),
                                    2));
            row.put("score", missing(6) ? null : score(extreme));
            rows.add(row);
        }
        return rows;
    }

    private boolean missing(int oneIn) {
        return random.nextInt(oneIn) == 0;
    }

    private double score(boolean extreme) {
        double plain = random.nextInt(-20, 40) / 8.0 + (random.nextInt(3) == 0 ? random.nextDouble() : 0);
        return (extreme ? plain * Math.pow(10, random.nextInt(-30, 30)) : plain) + 0.0;
    }

    /** One to four clauses. */
    String clauses() {
        StringBuilder text = new StringBuilder();
        boolean grouped = false;
        for (int i = random.nextInt(1, 5); i > 0; i--) {
            int kind = random.nextInt(10);
            if (kind < 2) {
                text.append("only ").append(condition(grouped)).append('\n');
            } else if (kind < 5) {
                text.append("add x")
                        .append(i)
                        .append(" = ")
                        .append(walk(grouped))
                        .append(", y")
                        .append(i)
                        .append(" = ")
                        .append(expression(grouped))
                        .append('\n');
            } else if (kind < 8 && !grouped) {
                text.append(per());
                grouped = true;
            } else if (kind == 8) {
                text.append("sort ")
                        .append(key(grouped))
                        .append(pick("", " desc"))
                        .append(", ")
                        .append(key(grouped))
                        .append('\n');
            } else {
                text.append(pick("first " + random.nextInt(30), "distinct " + key(grouped), fill(grouped)))
                        .append('\n');
            }
        }
        return text.toString();
    }

    private String fill(boolean grouped) {
        String field = grouped ? pick("f1", "f2") : pick("amount", "score", "quantity, amount", "item", "day");
        String most = pick("", "", " at most 1", " at most 3", grouped ? "" : " at most 9 days");
        String along = most.contains("days") ? "day" : key(grouped);
        return "fill " + field + pick("", " within site") + " along " + along + pick("", " desc")
                + pick("", " from before", " from after") + most;
    }

    private String pick(String... choices) {
        return choices[random.nextInt(choices.length)];
    }

    private String key(boolean grouped) {
        return grouped ? pick("site", "f1", "f2") : pick("site", "item", "day", "quantity", "amount", "score");
    }

    private String figure(boolean grouped) {
        return grouped ? pick("f1", "f2") : pick("quantity", "amount", "score");
    }

    private String condition(boolean grouped) {
        String simple = grouped
                ? pick(
                        "f1 > 2",
                        "f2 is not missing",
                        "site <> 'Quay'",
                        "f1 > mean(f1 within all)",
                        "rank(along f2 desc) <= 3")
                : pick(
                        "amount > 5",
                        "site = 'Quay'",
                        "site in ('Quay', 'Orchard') or quantity < 2",
                        "item is missing or not item contains 'o'",
                        "day between 2026-05-10 and 2026-06-05",
                        "amount / quantity > 2.5",
                        "score >= quantity",
                        "amount > mean(amount within site)",
                        "row_number(within site along amount desc, day) <= 2",
                        "quantity in (1, 2, 3.5)");
        return random.nextInt(4) == 0 ? "not (" + simple + ")" : simple;
    }

    private String expression(boolean grouped) {
        return grouped
                ? pick("f1 * 2", "f1 + f2", "f1 / f2", "if f1 > 1 then f2 else f1", "coalesce(f2, f1, 0)")
                : pick(
                        "amount * quantity",
                        "amount - 0.125",
                        "amount / quantity",
                        "score * amount",
                        "upper(site) || '/' || item",
                        "if quantity > 3 then amount else if quantity > 1 then 0 else -amount",
                        "coalesce(amount, quantity)",
                        "band(amount, 5)",
                        "round(amount, 1)",
                        "abs(score)",
                        "start_of_week(day)",
                        "day + 1 month",
                        "day - 2026-05-01",
                        "reword(site, 'Quay' as 'Q', 'Meadow' as 'M')",
                        "quantity % 3",
                        "real(amount) + score",
                        "length(item)");
    }

    private String walk(boolean grouped) {
        String x = figure(grouped);
        String within = pick(
                "within site ",
                "within all ",
                grouped ? "" : "within site, item ",
                grouped ? "" : "within month(day) ");
        String along = "along " + key(grouped) + pick("", " desc") + pick("", ", " + key(grouped));
        String frame = pick(
                "running",
                "last 3",
                "next 2",
                "from 2 before to 1 after",
                "from start to end",
                "from here to end",
                "last 4 full",
                "last 5 at least 2",
                "from 3 before to 1 before");
        String only = pick("", "", "only " + x + " > 1 ");
        return switch (random.nextInt(8)) {
            case 0 ->
                pick("rank", "dense_rank", "row_number", "percent_rank", "cume_dist") + "(" + only + within + along
                        + ")";
            case 1 ->
                pick(
                                "lag(" + x + " ",
                                "lead(" + x + ", 2 ",
                                "lag(" + x + ", 1, 0 ",
                                "change(" + x + " ",
                                "relative_change(" + x + " ",
                                "nth_value(" + x + ", 2 ",
                                "ntile(3 ")
                        + within + along + ")";
            case 2 ->
                pick("sum", "mean", "count", "max", "median", "stddev", "share", "count_distinct", "mode") + "(" + x
                        + " " + pick("", only) + (within.isEmpty() ? "within all " : within) + ")";
            case 3 ->
                pick(
                                "sum",
                                "mean",
                                "count",
                                "min",
                                "max",
                                "median",
                                "stddev",
                                "variance_pop",
                                "first",
                                "last",
                                "share",
                                "range",
                                "geometric_mean",
                                "mean_abs_deviation",
                                "mode",
                                "count_distinct")
                        + "(" + x + " " + only + within + along + " " + frame + ")";
            case 4 ->
                pick("correlation", "weighted_mean", "at_max", "at_min") + "(" + x + ", " + figure(grouped) + " " + only
                        + within + along + " " + frame + ")";
            default ->
                pick("quantile(", "trimmed_mean(") + x + ", " + pick("0.25", "0.4", "0") + " " + within + along + " "
                        + frame + ")";
            case 5 ->
                grouped
                        ? "sum(" + x + " " + within + along + " running)"
                        : pick("sum", "mean", "count", "max", "median", "first", "count_distinct", "share", "mode")
                                + "("
                                + x + " " + only + within + "along day "
                                + pick(
                                        "last 7 days",
                                        "next 3 days",
                                        "last 1 month",
                                        "last 2 weeks full",
                                        "next 1 week at least 2")
                                + ")";
            case 6 ->
                grouped
                        ? "lag(" + x + " " + within + along + ")"
                        : pick("lag(", "lead(") + x + ", " + pick("1 week", "3 days", "1 month") + pick("", ", 0") + " "
                                + pick("", only) + within + "along day)";
            case 7 -> "quantile(" + x + ", " + pick("0.25", "0.9", "1") + " " + within + along + " " + frame + ")";
        };
    }

    private String per() {
        String keys =
                pick("site", "site, item", "site, m = month(day)", "site, q = quantity", "site, b = band(amount, 10)");
        String only = pick("", "", " only quantity > 1");
        String x = figure(false);
        String along = " along " + key(false) + pick("", " desc") + pick("", ", " + key(false));
        String first = pick(
                "count()",
                "count(" + x + only + ")",
                "sum(" + x + only + ")",
                "count_distinct(" + x + ")",
                "min(" + x + only + ")",
                "max(" + x + ")",
                "sum(" + x + " within site)",
                "count_if(quantity > 2)");
        String second = pick(
                "mean(" + x + only + ")",
                "median(" + x + only + ")",
                "stddev(" + x + only + ")",
                "variance_pop(" + x + ")",
                "share(" + x + " within site)",
                "share(" + x + ")",
                "quantile(" + x + ", 0.9)",
                "trimmed_mean(" + x + ", 0.2" + only + ")",
                "mode(" + x + ")",
                "at_max(" + x + ", amount)",
                "at_min(quantity, " + x + ")",
                "first(" + x + ")",
                "last(" + x + only + ")",
                "first(" + x + only + along + ")",
                "last(amount" + along + ")",
                "at_max(amount, quantity" + only + along + ")",
                "at_min(" + x + ", quantity" + along + ")",
                "weighted_mean(amount, quantity)",
                "correlation(" + x + ", amount)",
                "range(" + x + only + ")",
                "geometric_mean(" + x + only + ")",
                "mean_abs_deviation(" + x + only + ")",
                "mean(" + x + " within all)",
                "sum(" + x + ") / count()");
        String third = pick(
                "",
                "",
                "",
                ", f3 = list(quantity" + only + along + ")",
                ", f3 = last(item" + only + along + ")",
                ", f3 = at_max(item, " + x + along + ")");
        return "per " + keys + " give f1 = " + first + ", f2 = " + second + third + "\n";
    }
}
