package dev.fiesta.engine;

import static dev.fiesta.Asking.lines;
import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Asking;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Tables that stand on each other: inputs read once or again, look-ups, joined tables; the same whatever the threads. */
class PassesTest {
    private static final String INPUTS =
            "input sales from 'sales.csv'\ninput stalls from 'stalls.csv'\ninput rates from 'rates.csv'\n";

    @TempDir
    Path folder;

    @BeforeEach
    void data() throws IOException {
        StringBuilder sales = new StringBuilder("id,stall,method,day,amount\n");
        for (int i = 0; i < 90_000; i++) {
            sales.append(i)
                    .append(",00")
                    .append(i % 7)
                    .append(',')
                    .append(i % 3 == 0 ? "card" : "cash")
                    .append(",2026-05-")
                    .append(10 + i % 20)
                    .append(',')
                    .append(i % 1000)
                    .append('.')
                    .append(10 + i % 90)
                    .append('\n');
        }
        Files.writeString(folder.resolve("sales.csv"), sales.toString());
        Files.writeString(
                folder.resolve("stalls.csv"),
                "stall,kind\n000,grill\n001,ices\n002,grill\n003,crafts\n004,ices\n009,idle\n");
        Files.writeString(
                folder.resolve("rates.csv"),
                "method,from_day,rate\ncard,2026-05-01,0.02\ncard,2026-05-20,0.03\ncash,2026-05-15,0.00\n");
    }

    private Map<String, Result> run(String tables, int threads, String... wanted) {
        try (Fiesta fiesta = Fiesta.with().threads(threads).open()) {
            return fiesta.tables(Parser.brief(new BriefText("t.brief", INPUTS + tables)), folder, Map.of())
                    .run(List.of(wanted));
        }
    }

    @Test
    void resultsDoNotDependOnThreads() {
        String tables = """
                table known from sales
                  match stalls on stall bring kind
                  add net = amount * 0.9
                table by_kind from known
                  per kind give n = count(), s = sum(net), m = mean(net), d = stddev(amount), f = first(id), l = last(id),
                                top = at_max(id, amount), q = quantile(amount, 0.9), x = count_distinct(day)
                table early from known
                  first 5
                table cards from known
                  only method = 'card' per day give s = sum(net) add moving = mean(s along day last 3)
                """;
        List<List<String>> found = new ArrayList<>();
        for (int threads : new int[] {1, 2, 3, 8}) {
            List<String> all = new ArrayList<>();
            run(tables, threads, "by_kind", "early", "cards").values().forEach(r -> all.addAll(lines(r)));
            found.add(all);
        }
        assertThat(found.get(1)).isEqualTo(found.get(0));
        assertThat(found.get(2)).isEqualTo(found.get(0));
        assertThat(found.get(3)).isEqualTo(found.get(0));
        assertThat(found.get(0)).contains("0,000,card,2026-05-10,0.10,grill,0.090");
    }

    @Test
    void aTableMayLookUpWhatFollowsFromTheSameInput() {
        String tables = """
                table by_stall from sales
                  per stall give s = sum(amount)
                table big from by_stall
                  only s > mean(s within all)
                table theirs from sales
                  match big on stall bring s as of_stall matched only
                  per stall give part = sum(amount) / max(of_stall)
                """;
        Result theirs = run(tables, 2, "theirs").get("theirs");
        assertThat(theirs.rows()).isBetween(1, 6);
        assertThat(theirs.doubles("part")).containsOnly(1.0);
    }

    @Test
    void lookUpsGoToInputsAndTables() {
        assertThat(lines(run("table t from stalls match sales on stall unmatched only", 2, "t")
                        .get("t")))
                .containsExactly("stall,kind", "009,idle");
        assertThat(lines(run("table t from stalls match sales on stall matched only per all give n = count()", 2, "t")
                                .get("t"))
                        .get(1))
                .isEqualTo("5");
        String dated =
                "table t from sales first 40000 match rates on method, latest from_day <= day bring rate per method, rate give n = count()";
        assertThat(lines(run(dated, 2, "t").get("t")))
                .containsExactly("method,rate,n", "card,0.02,6667", "card,0.03,6667", "cash,0.00,20000", "cash,,6666");
        String also =
                "table few from sales only stall = '001' per stall give s = sum(amount) table t from few match stalls on stall bring kind also unmatched sort stall";
        assertThat(lines(run(also, 2, "t").get("t")).subList(0, 3))
                .containsExactly("stall,s,kind", "000,,grill", "001,6429436.39,ices");
    }

    @Test
    void tablesAreJoinedByName() {
        String tables = """
                table a from stalls
                  add n = 1
                table b from rates
                  rename method as stall
                  drop from_day
                table t from a
                  append b
                  append a
                """;
        List<String> lines = lines(run(tables, 2, "t").get("t"));
        assertThat(lines)
                .hasSize(1 + 6 + 3 + 6)
                .startsWith("stall,kind,n,rate", "000,grill,1,")
                .contains("card,,,0.03");
    }

    @Test
    void columnsBecomeRows() {
        String tables =
                "table t from sales per method give least = min(amount), most = max(amount) turn least, most into what, value";
        assertThat(lines(run(tables, 2, "t").get("t")))
                .containsExactly(
                        "method,what,value",
                        "card,least,0.10",
                        "card,most,999.79",
                        "cash,least,0.20",
                        "cash,most,999.99");
    }

    @Test
    void theSameTableIsUsedTwiceAndInputsAreShownToo() {
        Map<String, Result> results = run(
                "table t from stalls only kind <> 'idle' table u from t per kind table v from t first 1",
                2,
                "t",
                "u",
                "v");
        assertThat(results.get("t").rows()).isEqualTo(5);
        assertThat(lines(results.get("u"))).containsExactly("kind,count", "crafts,1", "grill,2", "ices,2");
        assertThat(results.get("v").rows()).isEqualTo(1);
    }

    @Test
    void theFirstRowsAreTheFirstOfTheFile() {
        List<String> ids = Asking.values(Asking.table(numbers(50_000), 4).then("only n % 2 = 1 first 3"), "n");
        assertThat(ids).containsExactly("1", "3", "5");
        assertThat(Asking.values(Asking.table(numbers(50_000), 4).then("distinct n first 2 add m = n * 2"), "m"))
                .containsExactly("0", "2");
    }

    private static String numbers(int count) {
        StringBuilder text = new StringBuilder("n,padding\n");
        for (int i = 0; i < count; i++) {
            text.append(i).append(",some padding so that there are several pieces to read at the same time\n");
        }
        return text.toString();
    }
}
