package dev.fiesta.examples;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Row;
import java.io.IOException;
import java.math.BigDecimal;
import java.math.MathContext;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Questions an analyst asks of the season, answered again by plain Java over the same files. */
class RiberaStoriesTest {
    private record Sale(
            LocalDateTime soldAt,
            String site,
            String stall,
            String item,
            String method,
            String status,
            BigDecimal amount,
            BigDecimal fee) {
        BigDecimal net() {
            return amount.subtract(fee);
        }
    }

    @TempDir
    static Path folder;

    private static final List<Sale> SALES = new ArrayList<>();

    @BeforeAll
    static void read() throws IOException {
        Ribera.unpack(folder);
        SALES.clear();
        for (String file : Ribera.FILES) {
            if (file.startsWith("sales")) {
                List<String> lines = Files.readAllLines(folder.resolve(file));
                for (String line : lines.subList(1, lines.size())) {
                    String[] cells = line.split(",", 12);
                    SALES.add(new Sale(
                            LocalDateTime.parse(cells[1], DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm")),
                            cells[2],
                            cells[3],
                            cells[4],
                            cells[5],
                            cells[6],
                            new BigDecimal(cells[8]),
                            new BigDecimal(cells[9])));
                }
            }
        }
    }

    private static Result ask(String clauses) {
        try (Fiesta fiesta = Fiesta.with().threads(2).open()) {
            List<Path> files = Ribera.FILES.stream()
                    .filter(f -> f.startsWith("sales"))
                    .map(folder::resolve)
                    .toList();
            return fiesta.read(files).then(clauses).run();
        }
    }

    private static BigDecimal sum(List<Sale> sales) {
        return sales.stream().map(Sale::amount).reduce(BigDecimal.ZERO, BigDecimal::add);
    }

    private static List<Sale> settled() {
        return SALES.stream().filter(s -> s.status().equals("settled")).toList();
    }

    @Test
    void everythingIsThere() {
        assertThat(SALES).hasSize(Ribera.SALES);
        assertThat(ask("per all give n = count(), sites = count_distinct(site), without = count(only site is missing)")
                        .row(0)
                        .toString())
                .isEqualTo("n 60000, sites 6, without "
                        + SALES.stream().filter(s -> s.site().isEmpty()).count());
    }

    @Test
    void takingsBySiteAndMethod() {
        Map<String, List<Sale>> groups = settled().stream()
                .filter(s -> !s.site().isEmpty())
                .collect(Collectors.groupingBy(s -> s.site() + "/" + s.method(), TreeMap::new, Collectors.toList()));
        Result result = ask(
                "only status = 'settled' and site is not missing per site, method give n = count(), takings = sum(amount), mean_sale = mean(amount)");
        assertThat(result.rows()).isEqualTo(groups.size());
        for (Row row : result) {
            List<Sale> group = groups.get(row.text("site") + "/" + row.text("method"));
            assertThat(row.integer("n")).isEqualTo(group.size());
            assertThat(row.decimal("takings")).isEqualByComparingTo(sum(group));
            assertThat(row.real("mean_sale"))
                    .isEqualTo(sum(group)
                            .divide(BigDecimal.valueOf(group.size()), MathContext.DECIMAL128)
                            .doubleValue());
        }
    }

    @Test
    void theSeasonHasItsStory() {
        Result weekends =
                ask("only status = 'settled' per weekend = start_of_week(sold_at) give n = count() sort n first 1");
        assertThat(weekends.row(0).date("weekend")).isEqualTo(LocalDate.of(2026, 7, 6));

        Result hours = ask("per hour = hour(sold_at) give n = count() sort n desc first 2 sort hour");
        assertThat(hours.row(0).integer("hour")).isEqualTo(19);
        assertThat(hours.row(1).integer("hour")).isEqualTo(20);

        Result stall = ask("only stall = '006' per all give opened = date(min(sold_at))");
        assertThat(stall.row(0).date("opened")).isEqualTo(LocalDate.of(2026, 7, 17));

        Result refunds =
                ask("only status = 'refunded' per site, day = date(sold_at) give n = count() sort n desc first 1");
        assertThat(refunds.row(0).text("site")).isEqualTo("Quay");
        assertThat(refunds.row(0).date("day")).isEqualTo(LocalDate.of(2026, 8, 9));
    }

    /** Dearer cheese, and yet a lower mean sale: the share of the cheap kinds grew. */
    @Test
    void aMeanMayFallThoughTheDearKindRises() {
        Result all = ask("only status = 'settled' and month(sold_at) in (5, 8) "
                + "per month = month(sold_at) give mean_sale = mean(amount) sort month");
        assertThat(all.row(1).real("mean_sale")).isLessThan(all.row(0).real("mean_sale"));
        Result cheese = ask("only status = 'settled' and month(sold_at) in (5, 8) and "
                + "lower(item) in ('cheese plate', 'goat roll', 'fondue pot') "
                + "per month = month(sold_at) give mean_sale = mean(amount) sort month");
        assertThat(cheese.row(1).real("mean_sale")).isGreaterThan(cheese.row(0).real("mean_sale"));
    }

    @Test
    void theDearestSaleOfEachStall() {
        Result result =
                ask("only status = 'settled' only row_number(within stall along amount desc, sold_at) = 1 sort stall");
        Map<String, Sale> best = new TreeMap<>();
        for (Sale sale : settled()) {
            Sale known = best.get(sale.stall());
            boolean better = known == null || sale.amount().compareTo(known.amount()) > 0;
            best.put(sale.stall(), better ? sale : known);
        }
        assertThat(result.texts("stall")).containsExactlyElementsOf(best.keySet());
        for (Row row : result) {
            assertThat(row.decimal("amount"))
                    .isEqualByComparingTo(best.get(row.text("stall")).amount());
            assertThat(row.dateTime("sold_at"))
                    .isEqualTo(best.get(row.text("stall")).soldAt());
        }
    }

    @Test
    void runningAndMovingFiguresByDay() {
        Result result = ask(
                "only status = 'settled' per day = date(sold_at) give takings = sum(amount) "
                        + "add so_far = sum(takings along day running), week = sum(takings along day last 7 days), three = mean(takings along day last 3)");
        TreeMap<LocalDate, BigDecimal> days = new TreeMap<>();
        settled().forEach(s -> days.merge(s.soldAt().toLocalDate(), s.amount(), BigDecimal::add));
        assertThat(result.rows()).isEqualTo(days.size());
        BigDecimal soFar = BigDecimal.ZERO;
        List<BigDecimal> before = new ArrayList<>();
        for (Row row : result) {
            LocalDate day = row.date("day");
            soFar = soFar.add(days.get(day));
            before.add(days.get(day));
            assertThat(row.decimal("so_far")).isEqualByComparingTo(soFar);
            BigDecimal week = days.subMap(day.minusDays(6), true, day, true).values().stream()
                    .reduce(BigDecimal.ZERO, BigDecimal::add);
            assertThat(row.decimal("week")).isEqualByComparingTo(week);
            List<BigDecimal> last = before.subList(Math.max(0, before.size() - 3), before.size());
            BigDecimal mean = last.stream()
                    .reduce(BigDecimal.ZERO, BigDecimal::add)
                    .divide(BigDecimal.valueOf(last.size()), MathContext.DECIMAL128);
            assertThat(row.real("three")).isEqualTo(mean.doubleValue());
        }
    }

    @Test
    void stallsWithEnoughSalesRankedInTheirSites() {
        Result result = ask(
                "only status = 'settled' and site is not missing add net = amount - fee per site, stall give sales = count(), takings = sum(net) "
                        + "only sales >= 500 add place = rank(within site along takings desc) sort site, place");
        Map<String, List<Sale>> stalls = settled().stream()
                .filter(s -> !s.site().isEmpty())
                .collect(Collectors.groupingBy(s -> s.site() + "/" + s.stall()));
        stalls.values().removeIf(s -> s.size() < 500);
        assertThat(result.rows()).isEqualTo(stalls.size());
        Map<String, List<BigDecimal>> bySite = new TreeMap<>();
        stalls.forEach((key, sales) -> bySite.computeIfAbsent(key.split("/")[0], k -> new ArrayList<>())
                .add(sales.stream().map(Sale::net).reduce(BigDecimal.ZERO, BigDecimal::add)));
        bySite.values().forEach(v -> v.sort(Comparator.reverseOrder()));
        for (Row row : result) {
            int place = row.integer("place").intValue();
            assertThat(row.decimal("takings"))
                    .isEqualByComparingTo(bySite.get(row.text("site")).get(place - 1));
        }
    }

    @Test
    void spellingsAreBroughtTogether() {
        long spellings = SALES.stream().map(Sale::item).distinct().count();
        long items = SALES.stream().map(s -> s.item().toLowerCase()).distinct().count();
        assertThat(spellings).isEqualTo(48);
        assertThat(items).isEqualTo(24);
        assertThat(ask("per item = lower(item)").rows()).isEqualTo(24);
        assertThat(ask("add same = title_case(item) per same give spellings = count_distinct(item) only spellings > 1")
                        .rows())
                .isPositive();
    }

    @Test
    void totalsAreOfTheRecords() {
        Result result = ask(
                "only status = 'settled' per method give takings = sum(amount), mean_sale = mean(amount), middle = median(amount) totals");
        List<BigDecimal> amounts = settled().stream().map(Sale::amount).sorted().toList();
        Map<String, Object> total = result.totals().get(0).values();
        assertThat((BigDecimal) total.get("takings")).isEqualByComparingTo(sum(settled()));
        assertThat(total.get("mean_sale"))
                .isEqualTo(sum(settled())
                        .divide(BigDecimal.valueOf(amounts.size()), MathContext.DECIMAL128)
                        .doubleValue());
        BigDecimal middle = amounts.get((amounts.size() - 1) / 2)
                .add(amounts.get(amounts.size() / 2))
                .divide(BigDecimal.valueOf(2));
        assertThat(total.get("middle")).isEqualTo(middle.doubleValue());
    }
}
