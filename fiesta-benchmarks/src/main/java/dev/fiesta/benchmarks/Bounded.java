package dev.fiesta.benchmarks;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/** Every clause and sort of function with 64 MB of heap and with 4 GB: whether it ends, with the same bytes, how long it takes. */
final class Bounded {
    /** As many groups as records, one, and few. */
    private static final List<String> KEYS = List.of("sale_id", "one", "site");

    private static final Map<String, String> FIGURES = new LinkedHashMap<>();
    private static final Map<String, String> WALKS = new LinkedHashMap<>();
    private static final Map<String, String> CLAUSES = new LinkedHashMap<>();

    static {
        FIGURES.put("sums", "n = count(), s = sum(amount), m = mean(amount), lo = min(amount), sd = stddev(amount)");
        FIGURES.put("sorted values", "a = median(amount), b = quantile(amount, 0.9), t = trimmed_mean(amount, 0.1)");
        FIGURES.put("different values", "a = count_distinct(quantity), b = count_distinct(sale_id), m = mode(amount)");
        FIGURES.put("ends", "a = first(amount along sold_at), b = last(item along amount), c = at_max(item, amount)");
        FIGURES.put("pairs", "a = correlation(amount, quantity), b = weighted_mean(amount, quantity)");
        FIGURES.put("lists", "a = list(item), p = share(amount)");
        WALKS.put("rank", "rank(within K along amount)");
        WALKS.put("running sum", "sum(amount within K along sale_id running)");
        WALKS.put("moving mean", "mean(amount within K along sale_id last 7)");
        WALKS.put("span", "sum(quantity within K along sold_at last 7 days)");
        WALKS.put("lag", "lag(amount within K along sale_id)");
        WALKS.put("moving median", "median(amount within K along sale_id last 100)");
        WALKS.put("running different values", "count_distinct(item within K along sale_id running)");
        WALKS.put("parts", "ntile(10 within K along amount)");
        WALKS.put("whole", "median(amount within K)");
        WALKS.put("first of all", "first(item within K along amount)");
        WALKS.put("share", "share(amount within K)");
        WALKS.put("to the end", "max(amount within K along sale_id from here to end)");
        WALKS.put("before this", "mean(amount within K along sale_id from start to 1 before)");
        WALKS.put("n-th", "nth_value(amount, 1000 within K along sale_id)");
        WALKS.put("running share", "share(amount within K along sale_id running at least 3)");
        WALKS.put("full span", "sum(amount within K along sold_at last 7 days full)");
        WALKS.put("long frame", "median(amount within K along sale_id last 20000)");
        WALKS.put("longer frame", "max(amount within K along sale_id last 100000)");
        WALKS.put("long span", "sum(amount within K along sold_at last 30 days)");
        WALKS.put("running median", "median(amount within K along sale_id running)");
        WALKS.put("running trimmed mean", "trimmed_mean(amount, 0.1 within K along sale_id running)");
        WALKS.put("running mode", "mode(item within K along sale_id running)");
        WALKS.put("quantile to the end", "quantile(amount, 0.9 within K along sale_id from 3 before to end)");
        WALKS.put("up to rows behind", "sum(amount within K along sale_id from start to 3 after)");
        WALKS.put("greatest to the end", "at_max(item, amount within K along sale_id from here to end)");
        WALKS.put("share of those before", "share(amount within K along sale_id from start to 1 before)");
        WALKS.put("rising", "min(sale_id within K along sale_id last 3000000)");
        WALKS.put("frequent of many", "mode(sale_id within K along sale_id last 3000000)");
        CLAUSES.put("best", "first 3 within K along amount desc");
        CLAUSES.put("first", "first 3 within K");
        CLAUSES.put("sort", "sort K, amount desc columns item, stall, amount");
        CLAUSES.put("distinct", "distinct K, item columns K, item");
        CLAUSES.put("sample", "sample 1 percent within K columns sale_id");
        CLAUSES.put("fill", "fill tip within K along sale_id columns sale_id, tip");
        CLAUSES.put("match", "match other on K bring t columns sale_id, t");
        CLAUSES.put("latest", "match sales on K, latest sale_id <= sale_id bring amount as t columns sale_id, t");
        CLAUSES.put("totals", "per K, stall give s = sum(amount), m = median(amount) totals");
        CLAUSES.put("rest", "per K, item give s = sum(amount) first 2 within K along s desc rest as 'Other' totals");
        CLAUSES.put(
                "gapless",
                "per K, d = date(sold_at) give s = sum(amount) only s > 300 gapless d every 1 month within K with 0");
        CLAUSES.put(
                "wider", "per K, stall give s = sum(amount), p = share(amount within K) only p < 0.1 sort K, stall");
        CLAUSES.put("against", "per K against method give s = sum(amount)");
        CLAUSES.put("against, hidden", "per K against method give s = sum(amount) hide s where s < 20 totals");
        CLAUSES.put("against, parts", "per K against method give p = share(amount within K) totals");
    }

    private static final List<String> RECORDS = List.of(
            "sort amount desc",
            "shuffle columns sale_id",
            "add v = 1 check unique sale_id columns sale_id, v",
            "turn amount, fee, tip into what, n per what give s = sum(n), m = median(n)",
            "append sales per sale_id give s = sum(amount)",
            "per sale_id give s = sum(amount) add r = rank(along s desc), p = share(s within all) only r <= 1000 sort r");

    private Bounded() {}

    /** Prints a line for each question. */
    static void compare(long rows) throws Exception {
        Path folder = Files.createTempDirectory("fiesta-benchmark-bounded-");
        Path sales = Processes.sales(rows);
        for (String key : KEYS) {
            for (Map.Entry<String, String> figure : FIGURES.entrySet()) {
                line(folder, sales, key, "per, " + figure.getKey(), "per K give " + figure.getValue() + " sort K");
            }
            for (Map.Entry<String, String> walk : WALKS.entrySet()) {
                line(folder, sales, key, walk.getKey(), "add x = " + walk.getValue() + " columns sale_id, x");
            }
            for (Map.Entry<String, String> clause : CLAUSES.entrySet()) {
                line(folder, sales, key, clause.getKey(), clause.getValue());
            }
        }
        for (String question : RECORDS) {
            line(folder, sales, "", question.replaceAll(" .*", ""), question);
        }
        Processes.remove(folder);
    }

    private static void line(Path folder, Path sales, String key, String what, String question) throws Exception {
        Path brief = folder.resolve("a.brief");
        String clauses = question.replaceAll("\\bK\\b", key);
        Files.writeString(brief, """
                brief 'One question'
                input records from '%s'
                table sales from records
                  add  one = 1
                table other from sales
                  per   %s
                  give  t = sum(amount)
                table a from sales
                  %s
                report
                  table a
                """.formatted(sales, key.isEmpty() ? "site" : key, clauses));
        List<String> told = new ArrayList<>();
        for (String memory : List.of("64m", "4g")) {
            told.add(run(folder, brief, memory));
        }
        System.out.printf("| %s | %s | %s | %s | %s |%n", what, key, told.get(0), told.get(1), same(folder));
    }

    private static String run(Path folder, Path brief, String memory) throws Exception {
        try {
            Processes.Took took = Processes.took(
                    "-Xmx" + memory,
                    folder,
                    "run",
                    brief.toString(),
                    "--quiet",
                    "--no-kept-tables",
                    "--as",
                    "csv",
                    "--out",
                    memory);
            return String.format("%.1f s, %d MB", took.seconds(), took.resident() >> 20);
        } catch (IllegalStateException e) {
            return "fails: "
                    + Objects.requireNonNull(e.getMessage())
                            .lines()
                            .skip(1)
                            .findFirst()
                            .orElse("");
        }
    }

    private static String same(Path folder) throws IOException {
        Path little = folder.resolve("64m/a.csv");
        Path much = folder.resolve("4g/a.csv");
        String same = Files.exists(little) && Files.exists(much) ? Processes.sameBytes(little, much) : "";
        Files.deleteIfExists(little);
        Files.deleteIfExists(much);
        return same;
    }
}
