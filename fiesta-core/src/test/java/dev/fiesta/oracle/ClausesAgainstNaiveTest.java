package dev.fiesta.oracle;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Row;
import dev.fiesta.Table;
import dev.fiesta.TotalRow;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.RepetitionInfo;

/** Clauses that join, lay out and complete tables, each done again by plain loops over random records. */
class ClausesAgainstNaiveTest {
    record Sale(String site, String stall, LocalDate day, BigDecimal amount) {}

    record Stall(String stall, String kind, BigDecimal pitch) {}

    record Price(String stall, LocalDate since, BigDecimal rate) {}

    private static final int TURNS = 60;

    private SplittableRandom random = new SplittableRandom(0);
    private final List<Sale> sales = new ArrayList<>();
    private final List<Stall> stalls = new ArrayList<>();
    private final List<Price> prices = new ArrayList<>();
    private Fiesta fiesta = Fiesta.open();

    private void draw(RepetitionInfo turn) {
        random = new SplittableRandom(turn.getCurrentRepetition());
        boolean plenty = turn.getCurrentRepetition() % 2 == 0;
        fiesta = Fiesta.with().threads(2).memory(plenty ? 1 << 30 : 1).open();
        int count = random.nextInt(80);
        for (int i = 0; i < count; i++) {
            sales.add(new Sale(
                    random.nextInt(7) == 0 ? null : "site " + random.nextInt(4),
                    random.nextInt(9) == 0 ? null : "0" + random.nextInt(12),
                    LocalDate.of(2026, 5, 4).plusDays(random.nextInt(60)),
                    random.nextInt(8) == 0 ? null : BigDecimal.valueOf(random.nextInt(-200, 3000), 2)));
        }
        for (int s = 0; s < 12; s++) {
            if (random.nextInt(3) > 0) {
                stalls.add(new Stall("0" + s, "kind " + random.nextInt(3), BigDecimal.valueOf(random.nextInt(100))));
            }
            Set<LocalDate> since = new LinkedHashSet<>();
            for (int p = random.nextInt(4); p > 0; p--) {
                since.add(LocalDate.of(2026, 5, 1).plusDays(random.nextInt(60)));
            }
            int stall = s;
            since.forEach(d -> prices.add(new Price("0" + stall, d, BigDecimal.valueOf(random.nextInt(100), 2))));
        }
    }

    private Table sales() {
        return fiesta.records(Sale.class, sales);
    }

    private static List<String> lines(Result result, String... fields) {
        List<String> lines = new ArrayList<>();
        for (Row row : result) {
            StringBuilder line = new StringBuilder();
            for (String field : fields) {
                line.append(plain(row.get(field))).append(' ');
            }
            lines.add(line.toString().strip());
        }
        return lines;
    }

    private static String plain(Object value) {
        return value instanceof BigDecimal d ? d.stripTrailingZeros().toPlainString() : String.valueOf(value);
    }

    private static String line(Object... values) {
        StringBuilder line = new StringBuilder();
        for (Object value : values) {
            line.append(plain(value)).append(' ');
        }
        return line.toString().strip();
    }

    @RepeatedTest(TURNS)
    void lookUps(RepetitionInfo turn) {
        draw(turn);
        Table other = fiesta.records(Stall.class, stalls);
        List<String> kept = new ArrayList<>();
        List<String> matched = new ArrayList<>();
        List<String> unmatched = new ArrayList<>();
        Set<String> used = new LinkedHashSet<>();
        for (Sale sale : sales) {
            Stall found = stalls.stream()
                    .filter(s -> s.stall().equals(sale.stall()))
                    .findFirst()
                    .orElse(null);
            kept.add(line(
                    sale.stall(),
                    sale.amount(),
                    found == null ? null : found.kind(),
                    found == null ? null : found.pitch()));
            (found == null ? unmatched : matched).add(line(sale.stall(), sale.amount()));
            if (found != null) {
                used.add(found.stall());
            }
        }
        assertThat(lines(sales().match(other, "on stall bring kind, pitch").run(), "stall", "amount", "kind", "pitch"))
                .isEqualTo(kept);
        assertThat(lines(sales().match(other, "on stall matched only").run(), "stall", "amount"))
                .isEqualTo(matched);
        assertThat(lines(sales().match(other, "on stall unmatched only").run(), "stall", "amount"))
                .isEqualTo(unmatched);
        stalls.stream()
                .filter(s -> !used.contains(s.stall()))
                .forEach(s -> kept.add(line(s.stall(), null, s.kind(), s.pitch())));
        assertThat(lines(
                        sales().match(other, "on stall bring kind, pitch also unmatched")
                                .run(),
                        "stall",
                        "amount",
                        "kind",
                        "pitch"))
                .isEqualTo(kept);
    }

    @RepeatedTest(TURNS)
    void datedLookUpsAndMultiplyingOnes(RepetitionInfo turn) {
        draw(turn);
        Table other = fiesta.records(Price.class, prices);
        List<String> latest = new ArrayList<>();
        List<String> each = new ArrayList<>();
        for (Sale sale : sales) {
            List<Price> theirs =
                    prices.stream().filter(p -> p.stall().equals(sale.stall())).toList();
            Price newest = theirs.stream()
                    .filter(p -> !p.since().isAfter(sale.day()))
                    .max(Comparator.comparing(Price::since))
                    .orElse(null);
            latest.add(line(sale.stall(), sale.day(), newest == null ? null : newest.rate()));
            theirs.forEach(p -> each.add(line(sale.stall(), sale.day(), p.since(), p.rate())));
            if (theirs.isEmpty()) {
                each.add(line(sale.stall(), sale.day(), null, null));
            }
        }
        assertThat(lines(
                        sales().match(other, "on stall, latest since <= day bring rate")
                                .run(),
                        "stall",
                        "day",
                        "rate"))
                .isEqualTo(latest);
        assertThat(lines(sales().matchEach(other, "on stall bring since, rate").run(), "stall", "day", "since", "rate"))
                .isEqualTo(each);
    }

    @RepeatedTest(TURNS)
    void appendedUnfoldedAndDistinctRows(RepetitionInfo turn) {
        draw(turn);
        Result appended = sales().append(fiesta.records(Stall.class, stalls)).run();
        List<String> expected = new ArrayList<>();
        sales.forEach(s -> expected.add(line(s.site(), s.stall(), s.amount(), null, null)));
        stalls.forEach(s -> expected.add(line(null, s.stall(), null, s.kind(), s.pitch())));
        assertThat(lines(appended, "site", "stall", "amount", "kind", "pitch")).isEqualTo(expected);

        Result turned = sales().then("add twice = amount * 2 turn amount, twice into what, value")
                .run();
        List<String> rows = new ArrayList<>();
        for (Sale sale : sales) {
            rows.add(line(sale.stall(), "amount", sale.amount()));
            rows.add(line(
                    sale.stall(),
                    "twice",
                    sale.amount() == null ? null : sale.amount().multiply(BigDecimal.valueOf(2))));
        }
        assertThat(lines(turned, "stall", "what", "value")).isEqualTo(rows);

        Map<String, String> first = new LinkedHashMap<>();
        sales.forEach(s -> first.putIfAbsent(line(s.site(), s.stall()), line(s.site(), s.stall(), s.day())));
        assertThat(lines(sales().then("distinct site, stall").run(), "site", "stall", "day"))
                .isEqualTo(new ArrayList<>(first.values()));
    }

    private static BigDecimal sum(List<Sale> group) {
        List<BigDecimal> amounts =
                group.stream().map(Sale::amount).filter(Objects::nonNull).toList();
        return amounts.isEmpty() ? null : amounts.stream().reduce(BigDecimal.ZERO, BigDecimal::add);
    }

    private static <K> TreeMap<K, List<Sale>> grouped(
            List<Sale> sales, java.util.function.Function<Sale, K> key, Comparator<K> order) {
        TreeMap<K, List<Sale>> groups = new TreeMap<>(order);
        sales.forEach(s ->
                groups.computeIfAbsent(key.apply(s), k -> new ArrayList<>()).add(s));
        return groups;
    }

    @RepeatedTest(TURNS)
    void gapsInTheWeeksOfEachSite(RepetitionInfo turn) {
        draw(turn);
        List<Sale> sited = sales.stream().filter(s -> s.site() != null).toList();
        Result result = sales().then(
                        "only site is not missing per site, week = start_of_week(day) give n = count(), s = sum(amount) gapless week within site with 0")
                .run();
        TreeSet<LocalDate> weeks = new TreeSet<>();
        sited.forEach(s -> weeks.add(s.day().with(java.time.DayOfWeek.MONDAY)));
        List<String> expected = new ArrayList<>();
        for (String site : grouped(sited, Sale::site, Comparator.naturalOrder()).keySet()) {
            for (LocalDate week = weeks.first(); !week.isAfter(weeks.last()); week = week.plusWeeks(1)) {
                LocalDate start = week;
                List<Sale> own = sited.stream()
                        .filter(s -> s.site().equals(site)
                                && s.day().with(java.time.DayOfWeek.MONDAY).equals(start))
                        .toList();
                expected.add(line(site, week, own.size(), own.isEmpty() ? BigDecimal.ZERO : sum(own)));
            }
        }
        assertThat(lines(result, "site", "week", "n", "s")).isEqualTo(expected);
    }

    @RepeatedTest(TURNS)
    void totalsRestsAndCrossTabulations(RepetitionInfo turn) {
        draw(turn);
        List<Sale> known = sales.stream()
                .filter(s -> s.site() != null && s.stall() != null)
                .toList();
        Table grouped = sales().then("only site is not missing and stall is not missing");
        Result result = grouped.then("per site, stall give s = sum(amount), n = count() totals by site")
                .run();
        List<String> subtotals = new ArrayList<>();
        grouped(known, Sale::site, Comparator.naturalOrder())
                .forEach((site, group) -> subtotals.add(line(site, sum(group), group.size())));
        List<TotalRow> found = result.totals();
        assertThat(found.stream()
                        .filter(t -> !t.grand())
                        .map(t -> line(
                                t.values().get("site"),
                                t.values().get("s"),
                                t.values().get("n"))))
                .isEqualTo(subtotals);
        TotalRow grand = found.get(found.size() - 1);
        assertThat(line(grand.values().get("s"), grand.values().get("n"))).isEqualTo(line(sum(known), known.size()));

        Result best = grouped.then("per site, stall give n = count() first 2 within site along n desc rest as 'Other'")
                .run();
        grouped(known, Sale::site, Comparator.naturalOrder()).forEach((site, group) -> {
            List<Row> rows =
                    best.stream().filter(r -> site.equals(r.text("site"))).toList();
            assertThat(rows.stream().mapToLong(r -> r.integer("n")).sum()).isEqualTo(group.size());
            int stallsOfSite =
                    grouped(group, Sale::stall, Comparator.naturalOrder()).size();
            assertThat(rows).hasSize(Math.min(stallsOfSite, 3));
            assertThat(rows.stream().anyMatch(r -> "Other".equals(r.text("stall"))))
                    .isEqualTo(stallsOfSite > 2);
        });

        Result wide = grouped.then("per site against stall give s = sum(amount) totals")
                .run();
        grouped(known, Sale::site, Comparator.naturalOrder()).forEach((site, group) -> {
            Row row = wide.stream()
                    .filter(r -> site.equals(r.text("site")))
                    .findFirst()
                    .orElseThrow();
            for (String stall : wide.schema().names().subList(1, wide.schema().size() - 1)) {
                List<Sale> cell =
                        group.stream().filter(s -> s.stall().equals(stall)).toList();
                assertThat(plain(row.get(stall))).isEqualTo(plain(sum(cell)));
            }
            assertThat(plain(row.get("Total"))).isEqualTo(plain(sum(group)));
        });
    }

    @RepeatedTest(TURNS)
    void framesByTheCalendar(RepetitionInfo turn) {
        draw(turn);
        Result result = sales().then(
                        "add back = sum(amount within site along day last 14 days), n = count(amount within site along day last 1 month), "
                                + "ahead = max(amount within site along day next 10 days), mid = median(amount within site along day last 3 weeks)")
                .run();
        for (int i = 0; i < sales.size(); i++) {
            Sale sale = sales.get(i);
            List<BigDecimal> back = amounts(sale, sale.day().minusDays(14), sale.day());
            assertThat(plain(result.row(i).get("back")))
                    .isEqualTo(plain(back.isEmpty() ? null : back.stream().reduce(BigDecimal.ZERO, BigDecimal::add)));
            assertThat(result.row(i).integer("n"))
                    .isEqualTo(
                            amounts(sale, sale.day().minusMonths(1), sale.day()).size());
            List<BigDecimal> ahead =
                    amounts(sale, sale.day().minusDays(1), sale.day().plusDays(9));
            assertThat(plain(result.row(i).get("ahead")))
                    .isEqualTo(
                            plain(ahead.stream().max(Comparator.naturalOrder()).orElse(null)));
            List<BigDecimal> mid = amounts(sale, sale.day().minusDays(21), sale.day());
            mid.sort(Comparator.naturalOrder());
            Double median = mid.isEmpty()
                    ? null
                    : mid.get((mid.size() - 1) / 2)
                            .add(mid.get(mid.size() / 2))
                            .divide(BigDecimal.valueOf(2))
                            .doubleValue();
            assertThat(result.row(i).get("mid")).isEqualTo(median);
        }
    }

    /** Amounts of the same site on the days after one and up to another. */
    private List<BigDecimal> amounts(Sale sale, LocalDate after, LocalDate upTo) {
        List<BigDecimal> amounts = new ArrayList<>();
        for (Sale other : sales) {
            boolean inside = other.day().isAfter(after) && !other.day().isAfter(upTo);
            if (inside && Objects.equals(other.site(), sale.site()) && other.amount() != null) {
                amounts.add(other.amount());
            }
        }
        return amounts;
    }
}
