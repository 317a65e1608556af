package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.progress.Explained;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a run would do, told without doing it: which fields are read, which step waits for all rows, what nobody needs. */
class PlanToldTest {
    @TempDir
    Path folder;

    private List<String> told(String tables) throws IOException {
        Files.writeString(
                folder.resolve("sales.csv"), "site,stall,day,amount,fee,note\nQuay,1,2026-05-01,3.50,0.5,a\n");
        Files.writeString(folder.resolve("stalls.csv"), "stall,kind\n1,bakery\n");
        List<String> lines = new ArrayList<>();
        try (Fiesta fiesta = Fiesta.with().threads(2).open()) {
            String brief = "input sales from 'sales.csv'\ninput stalls from 'stalls.csv'\n" + tables;
            Tables all = fiesta.brief("t.brief", brief, folder).tables(fiesta);
            Explained explained = all.explain(all.unused());
            explained
                    .inputs()
                    .forEach(i -> lines.add(i.name() + ": reads "
                            + String.join(
                                    ", ", i.read().stream().map(f -> f.name()).toList()) + "; leaves "
                            + String.join(", ", i.unread()) + "; " + i.times() + " times"));
            for (Explained.Table table : explained.tables()) {
                lines.add(table.name() + " from " + table.from() + (table.kept() ? ", held" : ", passing through"));
                table.clauses().forEach(c -> lines.add("  " + c.text().split(" ")[0] + ": " + c.steps()));
            }
        }
        return lines;
    }

    @Test
    void whatWorksBatchByBatchAndWhatWaits() throws IOException {
        assertThat(told("""
                        table best from sales
                          match stalls on stall bring kind matched only
                          add net = amount - fee, unused = upper(note)
                          only net > 0
                          per site, kind give takings = sum(net), n = count()
                          add place = rank(within site along takings desc), two = mean(takings within site along kind last 2)
                          only place <= 2
                          totals by site
                          sort site, place
                          columns site 'Site', takings money
                        """))
                .containsExactly(
                        "sales: reads site, stall, amount, fee; leaves day, note; 1 times",
                        "stalls: reads stall, kind; leaves ; 1 times",
                        "best from sales, held",
                        "  match: [looks up in stalls, while reading, batch by batch]",
                        "  add: [works out net; unused not worked out, nobody needs it, while reading, batch by batch]",
                        "  only: [one condition, while reading, batch by batch]",
                        "  per: [groups by 2 keys, 2 figures, states kept for totals, while reading]",
                        "  add: [2 calculations over partitions, sorted 2 times, over all rows]",
                        "  only: [one condition, over all rows]",
                        "  totals: [totals, over all rows]",
                        "  sort: [sort, over all rows]",
                        "  columns: []");
    }

    @Test
    void tablesOverATableStandOnItOrPassThrough() throws IOException {
        assertThat(told("""
                        table settled from sales only amount > 1
                        table all_of_it from settled per all give n = count()
                        table by_site from settled per site give n = count() first 1 along n desc rest as 'Rest'
                        """))
                .containsExactly(
                        "sales: reads site, amount; leaves stall, day, fee, note; 1 times",
                        "settled from sales, passing through",
                        "  only: [one condition, while reading, batch by batch]",
                        "all_of_it from settled, held",
                        "  per: [one group, 1 figure, while reading]",
                        "by_site from settled, held",
                        "  per: [groups by 1 key, 1 figure, states kept for totals, while reading]",
                        "  first: [first, over all rows]");
    }

    @Test
    void anInputThatALookUpNeedsFirstIsReadTwice() throws IOException {
        List<String> told = told("""
                table prices from sales per stall give dearest = max(amount)
                table rated from sales match prices on stall bring dearest add part = amount / dearest
                """);
        assertThat(told.get(0)).isEqualTo("sales: reads site, stall, day, amount, fee, note; leaves ; 2 times");
    }

    @Test
    void everyOtherClauseSaysItsWord() throws IOException {
        assertThat(told("""
                        table gaps from sales per site, week = start_of_week(day) give n = count()
                          gapless week with 0 fill n within site along week check n >= 0 hide n where n < 2
                        table few from sales sample 3 seed 1 distinct site shuffle seed 2 first 2
                          turn amount, fee into what, value rename value as v drop what append stalls
                        table crossed from sales per site against m = month(day) give t = sum(amount) totals
                        """))
                .contains(
                        "  gapless: [gapless, over all rows]",
                        "  fill: [1 calculation over partitions, sorted once, over all rows, works out n, over all rows]",
                        "  check: [check, over all rows]",
                        "  sample: [sample, over all rows]",
                        "  distinct: [distinct, over all rows]",
                        "  shuffle: [shuffle, over all rows]",
                        "  first: [first, over all rows]",
                        "  turn: [turn, over all rows]",
                        "  rename: []",
                        "  drop: []",
                        "  append: [append, over all rows]",
                        "  totals: []");
    }
}
