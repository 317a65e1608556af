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

    /** Clauses of all sorts, records before groups before groups of groups, perhaps with totals; tables prices, sites and courses may be named. */
    String allClauses() {
        StringBuilder text = new StringBuilder();
        for (int i = random.nextInt(3); i > 0; i--) {
            text.append(ofRecords(i)).append('\n');
        }
        if (random.nextInt(8) == 0) {
            return text.append("turn quantity, amount into what, value\n")
                    .append(pick(
                            "",
                            "per what, site give f1 = sum(value), f2 = count(value) totals by what\n",
                            "first 2 within what, site along value desc, day\n"))
                    .toString();
        }
        if (random.nextInt(6) == 0) {
            return text.toString();
        }
        Groups groups = new Groups(random.nextInt(5));
        text.append(groups.per());
        for (int i = random.nextInt(4); i > 0; i--) {
            text.append(groups.clause(i)).append('\n');
        }
        if (random.nextInt(5) == 0) {
            text.append("per ").append(groups.keys.get(0)).append(" give g1 = count(), g2 = ");
            text.append(pick("sum", "mean", "max", "median")).append('(').append(groups.figures.get(0));
            text.append("), g3 = share(").append(groups.figures.get(1)).append(")\n");
            groups = groups.grouped();
            groups.figures = List.of("g1", "g2");
            for (int i = random.nextInt(3); i > 0; i--) {
                text.append(groups.clause(i + 10)).append('\n');
            }
        }
        return text.append(groups.end()).toString();
    }

    /** None, one or two clauses over records. */
    String fewClauses() {
        StringBuilder text = new StringBuilder();
        for (int i = random.nextInt(3); i > 0; i--) {
            text.append(pick(
                            "only " + condition(false),
                            "add x" + i + " = " + walk(false),
                            "first 4 within site",
                            "sort " + key(false)))
                    .append('\n');
        }
        return text.toString();
    }

    /** A cross-tabulation of one figure. */
    String against() {
        String keys = pick("site", "site, item", "week = start_of_week(day)");
        String columns = pick("quantity", "q = quantity", "m = month(day)");
        String fixed = columns.contains("month")
                ? pick("", " in (5, 6)", " in (7, 5) rest as 'Other'")
                : pick("", "", " in (1, 2, 3)", " in (6, -1) rest as 'Other'");
        String figure = pick(
                "count()",
                "sum(amount)",
                "mean(amount)",
                "count_distinct(item)",
                "max(day)",
                "median(score)",
                "count(amount only quantity > 1)",
                "sum(quantity) - count()",
                "list(quantity along day, amount)");
        return "per " + keys + " against " + columns + fixed + pick("", " with 0") + " give f1 = " + figure
                + pick("", " totals") + "\n";
    }

    private String ofRecords(int number) {
        return switch (random.nextInt(9)) {
            case 0 -> "only " + condition(false);
            case 8 -> pick("append sites", "append prices, sites", "append prices drop p, q, since");
            case 1 -> "add x" + number + " = " + walk(false);
            case 2 ->
                "first " + random.nextInt(1, 5) + pick(" within site", " within item", "") + " along " + key(false)
                        + pick("", " desc") + ", " + key(false);
            case 3 -> "first " + random.nextInt(1, 5) + " within " + pick("site", "item, quantity");
            case 4 -> "match prices on item bring p as p" + number + pick("", " matched only");
            case 5 -> "match " + pick("prices on item", "sites on site") + pick(" matched only", " unmatched only");
            case 6 ->
                pick(
                        "match each sites on site bring p as p" + number,
                        "match each courses on item bring p as p" + number
                                + pick("", " matched only", " also unmatched"),
                        "match courses on item, latest since <= day bring p as p" + number
                                + pick("", " matched only", " unmatched only"),
                        "match prices on item, latest since <= day bring p as p" + number);
            default -> "sort " + key(false) + pick("", " desc");
        };
    }

    /** What is known of the groups that stand: their keys and their figures. */
    private final class Groups {
        private final List<String> written;
        private final List<String> keys;
        private List<String> figures = new ArrayList<>(List.of("f1", "f2"));
        private boolean gapless;

        Groups(int kind) {
            written = List.of(
                            List.of("site", "item"),
                            List.of("site"),
                            List.of("site", "week = start_of_week(day)"),
                            List.of("week = start_of_week(day)", "item"),
                            List.of("item", "site", "q = quantity"))
                    .get(kind);
            keys = written.stream().map(k -> k.split(" ")[0]).toList();
        }

        private Groups(List<String> keys) {
            this.written = keys;
            this.keys = keys;
        }

        Groups grouped() {
            return new Groups(List.of(keys.get(0)));
        }

        String per() {
            String rest = RandomQuestions.this.per();
            return "per " + String.join(", ", written) + " "
                    + rest.substring(rest.indexOf("give")).replaceAll("within site", "within " + keys.get(0));
        }

        private String figure() {
            return figures.get(random.nextInt(figures.size()));
        }

        private String key() {
            return random.nextBoolean() ? figure() : keys.get(random.nextInt(keys.size()));
        }

        private String order() {
            return " along " + figure() + pick("", " desc") + ", " + keys.get(0) + ", " + keys.get(keys.size() - 1);
        }

        String clause(int number) {
            String x = figure();
            boolean textLabel = keys.size() == 2 && !keys.get(1).equals("week") || keys.equals(List.of("site"));
            return switch (random.nextInt(11)) {
                case 0 -> "only " + pick(x + " > 1", x + " is not missing", keys.get(0) + " is not missing");
                case 1 ->
                    "add y" + number + " = "
                            + pick(x + " * 2", x + " + " + figure(), x + " / " + figure(), "coalesce(" + x + ", 0)");
                case 2 ->
                    "add z" + number + " = "
                            + pick(
                                    "rank(within " + keys.get(0) + order() + ")",
                                    "sum(" + x + " within all)",
                                    x + " - mean(" + x + " within " + keys.get(0) + ")",
                                    "lag(" + x + order() + ")",
                                    "share(" + x + " within all)");
                case 3, 4 ->
                    "first " + random.nextInt(1, 4) + (keys.size() > 1 ? pick(" within " + keys.get(0), "") : "")
                            + order() + (textLabel && keys.size() == 1 ? pick("", " rest as 'Rest'") : "");
                case 5 ->
                    textLabel && keys.size() == 2
                            ? "first " + random.nextInt(1, 3) + " within " + keys.get(0) + order() + " rest as 'Rest'"
                            : "first " + random.nextInt(9);
                case 6 -> {
                    boolean weeks = keys.contains("week") && !gapless;
                    gapless |= weeks;
                    List<String> others =
                            keys.stream().filter(k -> !k.equals("week")).toList();
                    String within = others.isEmpty() ? "" : pick("", " within " + others.get(0));
                    yield weeks ? "gapless week" + within + pick("", " with 0") : "sort " + key() + pick("", " desc");
                }
                case 7 ->
                    keys.contains("site")
                            ? "match sites on site bring p as p" + number + pick("", " matched only")
                            : "sort " + key();
                case 8 -> {
                    String old = x;
                    String other = "r" + number;
                    figures =
                            figures.stream().map(f -> f.equals(old) ? other : f).toList();
                    yield "rename " + old + " as " + other;
                }
                case 9 -> "fill " + x + " within " + keys.get(0) + order() + pick("", " at most 2");
                default -> "sort " + key() + pick("", " desc") + ", " + keys.get(0);
            };
        }

        /** What may be hidden and shown at the end. */
        private String hide() {
            String where =
                    pick(figure() + " > 3", figure() + " is missing", keys.get(0) + " is missing", figure() + " < 2");
            return random.nextInt(3) > 0
                    ? ""
                    : "hide " + figures.get(0) + pick("", ", " + figures.get(1)) + " where " + where + "\n";
        }

        private String columns() {
            return random.nextInt(5) > 0
                    ? ""
                    : "columns " + figures.get(1) + " 'Figure' money, " + keys.get(0) + pick("", ", " + figures.get(0))
                            + "\n";
        }

        String end() {
            return random.nextInt(3) == 0 ? plainEnd() : totals();
        }

        private String plainEnd() {
            return pick(
                    "",
                    "add e1 = row_number(" + order().strip() + ")\n",
                    "distinct " + keys.get(0) + "\n",
                    hide() + columns());
        }

        private String totals() {
            String two = keys.size() > 2 ? " by " + keys.get(0) + ", " + keys.get(1) : "";
            String totals = "totals" + (keys.size() > 1 ? pick("", " by " + keys.get(0), two) : "") + "\n";
            if (random.nextInt(3) == 0) {
                String hide = hide();
                return pick(hide + totals, totals + hide, hide + totals + "sort " + figure() + " desc\n") + columns();
            }
            return totals
                    + pick(
                            "",
                            "sort " + figure() + " desc\n",
                            "add t1 = " + figure() + " * 2, t2 = rank(" + order().strip() + "), t3 = t1 + t2\n",
                            "rename " + figures.get(0) + " as last1\n",
                            "check rows >= 0\n",
                            "check unique " + String.join(", ", keys) + " or warn\nsort " + figure() + "\n");
        }
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
                "from 3 before to 1 before",
                "from start to 2 after",
                "from start to 1 before at least 2",
                "from 1 before to end",
                "from 2 after to end full",
                "last 40");
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
                        : pick(
                                        "sum",
                                        "mean",
                                        "count",
                                        "max",
                                        "range",
                                        "median",
                                        "first",
                                        "last",
                                        "count_distinct",
                                        "share",
                                        "mode",
                                        "geometric_mean",
                                        "mean_abs_deviation")
                                + "("
                                + x + " " + only + within + "along day "
                                + pick(
                                        "last 7 days",
                                        "next 3 days",
                                        "last 1 month",
                                        "last 2 weeks full",
                                        "next 1 week at least 2",
                                        "next 9 days full",
                                        "last 5 months")
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
                "median(" + x + only + ")",
                "quantile(" + x + ", 0.3)",
                "count_if(quantity > 2)");
        String second = pick(
                "mean(" + x + only + ")",
                "median(" + x + only + ")",
                "stddev(" + x + only + ")",
                "variance_pop(" + x + ")",
                "share(" + x + " within site)",
                "share(" + x + ")",
                "quantile(" + x + ", 0.9)",
                "median(" + x + " within site)",
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
