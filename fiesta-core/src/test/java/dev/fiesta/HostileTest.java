package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.FiestaException;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Dirty files, clauses side by side, texts made to hurt: a right answer or a message, never less. */
@Timeout(60)
class HostileTest {
    private static final String SALES = """
            day,site,amount
            2026-05-01,Quay,10.50
            2026-05-02,Quay,0.30
            2026-05-03,Meadow,
            2026-05-04,,5.00
            2026-05-05,Quay,-4.00
            """;

    @TempDir
    Path folder;

    private static byte[] packed(String text) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(bytes)) {
            gzip.write(text.getBytes(StandardCharsets.UTF_8));
        }
        return bytes.toByteArray();
    }

    private static byte[] joined(byte[] one, byte[] two) {
        byte[] both = Arrays.copyOf(one, one.length + two.length);
        System.arraycopy(two, 0, both, one.length, two.length);
        return both;
    }

    private Table gzip(byte[] bytes) throws IOException {
        Path file = folder.resolve("sales.csv.gz");
        Files.write(file, bytes);
        return Fiesta.with().threads(2).open().read(file);
    }

    @Test
    void everyMemberOfAPackedFileIsRead() throws IOException {
        byte[] both = joined(packed("n\n1\n2\n"), packed("3\n4\n"));
        assertThat(gzip(both).then("per all give s = sum(n)").run().longs("s")).containsExactly(10);
    }

    @Test
    void packedFilesThatAreCutOrSpoiledAreErrors() throws IOException {
        byte[] first = packed("n\n1\n2\n");
        byte[] second = packed("3\n4\n");
        byte[] spoiled = joined(first, second);
        spoiled[first.length + 12] ^= 0x40;
        byte[] cut = Arrays.copyOf(joined(first, second), first.length + second.length - 3);
        byte[] trailing = joined(first, "and more".getBytes(StandardCharsets.UTF_8));
        byte[] sum = packed("n\n1\n");
        sum[sum.length - 6] ^= 1;
        byte[] head = packed("n\n1\n");
        head[0] = 'n';
        for (byte[] bytes :
                new byte[][] {spoiled, cut, trailing, sum, head, "n\n1\n".getBytes(StandardCharsets.UTF_8)}) {
            assertThatThrownBy(() -> gzip(bytes).run())
                    .isInstanceOf(FiestaException.class)
                    .hasMessageContaining("sales.csv.gz");
        }
    }

    @ParameterizedTest
    @CsvSource({
        "mod(-7 / 3),-1",
        "mod(7 / -3),1",
        "least(5 / 3),3",
        "2026-12-31 + 1 day,2027-01-01",
        "9223372036854775806 + 1,9223372036854775807",
        "try_real('1e400'),–",
        "log(8 / 0),–",
    })
    void expressionsAtTheEdge(String expression, String value) {
        assertThat(Asking.value(expression.replace(" / ", ", "))).isEqualTo(value);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "add x = 9999-12-31 + 1 day | dates go from 0001-01-01 to 9999-12-31",
                "add x = 9223372036854775807 + 1 | 9223372036854775808 does not fit an integer",
                "add x = amount * 9223372036854775807 | does not fit a decimal(2)",
                "gapless day every 0 days | A step of 0 never gets anywhere",
                "per site give x = sum(amount) totals only x > 3 | 'only' after 'totals' would change the rows",
                "per site give x = sum(amount) totals first 1 | 'first' after 'totals' would change the rows",
                "per day give x = sum(amount) totals gapless day | 'gapless' after 'totals' would change the rows",
                "first 1 along amount within site | 'within' stands before 'along'",
                "highest 1 by amount within site | It is written: first 1 within site along amount desc",
                "bottom 2 by amount | It is written: first 2 along amount",
                "unfold a, b as n, v | It is written: turn a, b into n, v",
                "filter amount > 3 | It is written: only amount > 3",
                "group by site | It is written: per site",
                "add x = avg(amount) | mean",
            })
    void whatCannotBeIsSaid(String clauses, String message) {
        assertThatThrownBy(() -> Asking.table(SALES).then(clauses).run())
                .isInstanceOf(FiestaException.class)
                .hasMessageContaining(message);
    }

    /** Values that do not fit the type they are brought into are told where that happens, never as a fault of ours. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "add m = coalesce(if id = 9 then 0.1234, b) | clauses:1: coalesce(if id = 9 then 0.1234, b): 9007199254740993 does not fit a decimal(4) (",
                "add m = if id = 9 then 0.1234 else b | clauses:1: if id = 9 then 0.1234 else b: 9007199254740993 does not fit a decimal(4)",
                "add m = reword(b, 1 as 0.1234) | 9007199254740993 does not fit a decimal(4)",
                "add m = lag(b, 1, 0.1234 along id) | clauses:1: lag(b, 1, 0.1234 along id): 9007199254740993 does not fit",
                "add c = 0.1234 turn b, c into w, v | clauses:1: turn b, c into w, v: 9007199254740993 does not fit a decimal(4) (",
            })
    void whatDoesNotFitIsTold(String clauses, String message) {
        assertThatThrownBy(() -> Asking.table("id,b\n1,9007199254740993\n2,7\n")
                        .then(clauses)
                        .run())
                .isInstanceOf(dev.fiesta.problem.DataException.class)
                .hasMessageContaining(message);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "fill amount along site at most 2 days | A span of time needs one date to walk along.",
                "fill amount along day, site at most 2 days | A span of time needs one date to walk along.",
                "fill amount | 'along' and the order in which values are known is expected here",
                "fill amount along day at most 0 | After 'at most' stands a number of rows or a span of time.",
                "fill amount along day from here | 'before' or 'after' is expected here",
                "fill nothing along day | There is no field 'nothing'.",
                "per site give x = sum(amount) totals fill x along site | 'fill' after 'totals' would change the rows",
            })
    void whatCannotBeFilledIsSaid(String clauses, String message) {
        assertThatThrownBy(() -> Asking.table(SALES).then(clauses).run())
                .isInstanceOf(FiestaException.class)
                .hasMessageContaining(message);
    }

    /** A field is looked through for texts that no record has; what no clause reads cannot fail all the same. */
    @ParameterizedTest
    @CsvSource({"Quay,1", "Key,0"})
    void aBadByteInARowThatWasDroppedFailsNothing(String site, int rows) throws IOException {
        Path file = folder.resolve("sales.csv");
        StringBuilder text = new StringBuilder("id,site\n1,Quay\n2,Meadow\n30,\u00FF\n");
        for (int i = 100; i < 30_000; i++) {
            text.append(i).append(",Quay\n");
        }
        Files.write(file, text.toString().getBytes(StandardCharsets.ISO_8859_1));
        for (int threads : new int[] {1, 2}) {
            Result result = Fiesta.with()
                    .threads(threads)
                    .open()
                    .read(file)
                    .then("only id < 3 only site = '" + site + "'")
                    .run();
            assertThat(result.rows()).isEqualTo(rows);
            assertThat(result.notices().warnings()).isEmpty();
        }
    }

    /** What was filled in is counted; totals know nothing of it. */
    @Test
    void whatIsFilledIsCounted() {
        Result result = Asking.table(SALES)
                .then("per day give x = sum(amount) fill x along day totals")
                .run();
        assertThat(Asking.lines(result))
                .containsExactly(
                        "day,x",
                        "2026-05-01,10.50",
                        "2026-05-02,0.30",
                        "2026-05-03,0.30",
                        "2026-05-04,5.00",
                        "2026-05-05,-4.00",
                        "Total,");
        assertThat(result.notices().list())
                .extracting(n -> n.text())
                .containsExactly("fill x along day: x: 1 value was missing and was filled in");
    }

    @Test
    void aKeyThatFitsNoneOfTheirsIsOneWithoutAMatch() {
        Table ours = Asking.table("id\n9007199254740993\n7\n");
        Table theirs = Asking.table("id,v\n7.0000,a\n1.2345,b\n");
        assertThat(Asking.rows(ours.match(theirs, "on id bring v"))).containsExactly("9007199254740993 –", "7 a");
        assertThat(Asking.rows(theirs.match(ours.add("k = 'x'"), "on id bring k")))
                .containsExactly("7.0000 a x", "1.2345 b –");
        assertThatThrownBy(() -> ours.append(theirs).run())
                .isInstanceOf(dev.fiesta.problem.DataException.class)
                .hasMessageContaining("append", "does not fit a decimal(4)");
    }

    @Test
    void rowsWithoutTheFigureAreInNoPartAndHaveTheLastPlace() {
        assertThat(Asking.rows(Asking.table(SALES).then("""
                add q = ntile(2 along amount), r = rank(along amount) columns day, q, r""")))
                .containsExactly(
                        "2026-05-01 2 4", "2026-05-02 1 2", "2026-05-03 – 5", "2026-05-04 2 3", "2026-05-05 1 1");
    }

    /** What was added for a period without records is no record, and no total counts it. */
    @Test
    void totalsStandBesideGapless() {
        assertThat(Asking.lines(Asking.table(SALES).then("""
                only day <= 2026-05-02 per day give n = count(), x = sum(amount)
                gapless day every 1 day from 2026-05-01 to 2026-05-03 with 0 totals""").run()))
                .containsExactly(
                        "day,n,x", "2026-05-01,1,10.50", "2026-05-02,1,0.30", "2026-05-03,0,0.00", "Total,2,10.80");
    }

    @Test
    void subtotalsKeepTheirRowsTogether() {
        assertThat(Asking.lines(Asking.table("site,item,n\nQuay,tea,1\nMeadow,tea,2\nQuay,fudge,3\n")
                        .then("per site, item give n = sum(n) sort n desc totals by site")
                        .run()))
                .containsExactly(
                        "site,item,n",
                        "Quay,fudge,3",
                        "Quay,tea,1",
                        "Quay,Total,4",
                        "Meadow,tea,2",
                        "Meadow,Total,2",
                        "Total,,6");
    }

    @ParameterizedTest
    @ValueSource(strings = {"12E5", "1,5", "0x1F", "١٢", "--3", "1_000"})
    void whatIsNoNumberIsNone(String text) {
        String type = Asking.type("coalesce(try_decimal('" + text + "', 2), 0.25)");
        assertThat(type).startsWith("decimal");
        if (!text.equals("12E5")) {
            assertThat(Asking.value("try_integer('" + text + "')")).isEqualTo("–");
        }
    }

    @Test
    void longExpressionsEndInAMessage() {
        String sum = "1" + " + 1".repeat(5_000);
        assertThatThrownBy(() -> Asking.value(sum)).isInstanceOf(FiestaException.class);
        String deep = "(".repeat(5_000) + "1" + ")".repeat(5_000);
        assertThatThrownBy(() -> Asking.value(deep)).isInstanceOf(FiestaException.class);
    }

    @ParameterizedTest
    @ValueSource(strings = {"(a*)*b", "(a|aa)+$", "((a{0,99}){0,99}){0,99}"})
    void patternsDoNotHang(String pattern) {
        Table table = Asking.table("t\n" + "a".repeat(5_000) + "!\n");
        assertThat(outcome(() ->
                        table.then("add m = matches(t, '" + pattern + "')").run()))
                .isIn("answered", "told");
    }

    private static String outcome(Runnable run) {
        try {
            run.run();
            return "answered";
        } catch (FiestaException e) {
            assertThat(e.getMessage()).isNotBlank();
            return "told";
        }
    }

    @Test
    void aTableLooksAgainAtEachRun() throws IOException {
        Path file = folder.resolve("sales.csv");
        Files.writeString(file, "n\n1\n2\n");
        Table table = Fiesta.with().threads(1).open().read(file).then("per all give s = sum(n)");
        assertThat(table.run().longs("s")).containsExactly(3);
        Files.writeString(file, "n\n1\n2\n30\n");
        assertThat(table.run().longs("s")).containsExactly(33);
    }

    @Test
    void arraysHandedOutAreCopies() {
        Result result = Asking.table("n\n1\n2\n").run();
        result.longs("n")[0] = 99;
        assertThat(result.longs("n")).containsExactly(1, 2);
    }

    @Test
    void manyTablesOneOnAnother() {
        Table table = Asking.table("n\n1\n2\n3\n");
        for (int i = 0; i < 1_000; i++) {
            table = table.then("only n > 1");
        }
        assertThat(table.run().longs("n")).containsExactly(2, 3);
    }
}
