package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Cells;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import java.util.stream.LongStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;

/** What a result hands out: columns without objects, bytes for a stream; nothing that changes it, nothing that is hidden. */
class ResultTest {
    private static final Table SALES = Asking.table("""
            site,day,amount,weight,settled
            Quay,1970-01-03,10.05,1.5e0,true
            Meadow,,-2.00,,false
            ,1970-01-01,,-0.25e0,
            """);

    @Test
    void columnsComeWithoutObjects() {
        Result result = SALES.run();
        assertThat(result.longs("amount")).startsWith(1005, -200);
        assertThat(result.decimals("amount").scale()).isEqualTo(2);
        assertThat(result.decimals("amount").units()).isEqualTo(result.longs("amount"));
        assertThat(result.longs("day")[0]).isEqualTo(2);
        assertThat(result.doubles("weight")[2]).isEqualTo(-0.25);
        assertThat(result.missing("weight")).isEqualTo(BitSet.valueOf(new long[] {0b010}));
        assertThat(result.missing("site")).isEqualTo(BitSet.valueOf(new long[] {0b100}));
        assertThat(result.truths("settled")).isEqualTo(BitSet.valueOf(new long[] {0b001}));
        Result.Coded sites = result.codes("site");
        assertThat(sites.codes()[2]).isEqualTo(-1);
        assertThat(sites.texts().get(sites.codes()[1])).isEqualTo("Meadow");
        assertThat(result.texts("site")).containsExactly("Quay", "Meadow", null);
        assertThatThrownBy(() -> result.longs("site"))
                .isInstanceOf(RequestException.class)
                .hasMessage("the field 'site' is a text");
        assertThatThrownBy(() -> result.codes("amount")).hasMessage("the field 'amount' is a decimal(2)");
        assertThatThrownBy(() -> result.doubles("stie")).hasMessageContaining("Did you mean 'site'?");
    }

    @Test
    void whatIsHandedOutChangesNothing() throws IOException {
        Result result = SALES.run();
        result.longs("amount")[0] = 1;
        result.doubles("weight")[0] = 1;
        result.codes("site").codes()[0] = -1;
        result.truths("settled").set(0, 3);
        result.missing("weight").clear();
        assertThatThrownBy(() -> result.view().clear()).isInstanceOf(UnsupportedOperationException.class);
        assertThatThrownBy(() -> result.totals().clear()).isInstanceOf(UnsupportedOperationException.class);
        result.eachPart((columns, rows) -> ((dev.fiesta.value.LongColumn) columns[2]).values()[0] = 99);
        assertThat(Asking.lines(result))
                .containsExactly(
                        "site,day,amount,weight,settled",
                        "Quay,1970-01-03,10.05,1.5,true",
                        "Meadow,,-2.00,,false",
                        ",1970-01-01,,-0.25,");
    }

    @Test
    void rowsPutInOrderLastAreTheSameHoweverTheyAreTaken() throws IOException {
        Result sorted = SALES.sort("amount desc").run();
        List<String> lines = Asking.lines(sorted);
        List<Object> parts = new ArrayList<>();
        sorted.eachPart((columns, rows) -> IntStream.range(0, rows).forEach(i -> parts.add(columns[2].get(i))));
        assertThat(parts).containsExactly(new BigDecimal("10.05"), new BigDecimal("-2.00"), null);
        assertThat(sorted.longs("amount")).startsWith(1005, -200); // moved now
        assertThat(Asking.lines(sorted)).isEqualTo(lines);
        ByteArrayOutputStream csv = new ByteArrayOutputStream();
        sorted.writeCsv(csv);
        assertThat(csv.toString().lines()).containsExactlyElementsOf(lines);
    }

    @Test
    void aTableWithoutRowsHasNoParts() throws IOException {
        AtomicInteger parts = new AtomicInteger();
        for (Table none :
                List.of(SALES.only("amount > 1000"), SALES.only("amount > 1000").sort("amount"))) {
            none.run().eachPart((columns, rows) -> parts.incrementAndGet());
            assertThat(Asking.lines(none.run())).containsExactly("site,day,amount,weight,settled");
        }
        assertThat(parts).hasValue(0);
    }

    record Takings(String site, BigDecimal takings) {}

    @Test
    void hiddenFiguresAreNotInIt() throws IOException {
        Table table = SALES.only("site is not missing")
                .per("site")
                .give("n = count()", "takings = sum(amount)")
                .hide("takings < 0", "takings")
                .sort("site");
        Result result = table.run();
        assertThat(result.isHidden("takings", 0)).isTrue();
        assertThat(result.row(0).decimal("takings")).isNull();
        assertThat(result.row(0).toString()).doesNotContain("-2.00");
        assertThat(result.column("takings").get(0)).isNull();
        assertThat(result.longs("takings")[0]).isNotEqualTo(-200);
        assertThat(result.missing("takings").get(0)).isTrue();
        assertThat(result.as(Takings.class))
                .containsExactly(new Takings("Meadow", null), new Takings("Quay", new BigDecimal("10.05")));
        result.eachPart((columns, rows) -> assertThat(columns[2].get(0)).isNull());
        assertThat(result.shown("takings", 0)).isEqualTo(Result.HIDDEN);
    }

    /** Rows in the file of a run are read as they are looked at: in their order, backwards, here and there, and once they are all held. */
    @Test
    void rowsInAFileAreThoseInMemory() {
        List<List<@Nullable Object>> each = new ArrayList<>();
        for (long memory : new long[] {1 << 30, 1}) {
            try (Fiesta fiesta = Fiesta.with().threads(2).memory(memory).open()) {
                Result result = fiesta.rows(
                                new Schema(List.of(new Field("n", Type.INTEGER), new Field("t", Type.TEXT))),
                                () -> LongStream.range(0, 3_000).mapToObj(n ->
                                        new Object[] {n * 7 % 3_000, n % 3 == 0 ? null : "text " + n % 50}))
                        .per("n")
                        .give("t = first(t)", "m = sum(n)", "x = max(n)")
                        .hide("n % 10 = 3", "m")
                        .sort("n")
                        .run();
                List<@Nullable Object> seen = new ArrayList<>();
                Stream<IntStream> ways = Stream.of(
                        IntStream.range(0, 3_000),
                        IntStream.range(0, 3_000).map(i -> 2_999 - i),
                        IntStream.range(0, 20_000).map(i -> (int) (i * 1_234_567L % 3_000)));
                ways.forEach(way -> way.forEach(row -> {
                    seen.add(result.row(row).text("t"));
                    seen.add(result.shown("m", row));
                    seen.add(result.column("m").isMissing(row));
                }));
                assertThat(result.column("m").size()).isEqualTo(3_000);
                assertThat(result.column("m").type()).isEqualTo(Type.INTEGER);
                assertThat(result.longs("n")).startsWith(0, 1, 2);
                assertThat(result.missing("m").cardinality()).isEqualTo(300);
                each.add(seen);
                Cells cells = result.column("x");
                if (memory == 1) {
                    assertThatThrownBy(() -> cells.get(3_000)).isInstanceOf(IndexOutOfBoundsException.class);
                }
                result.close();
                assertThatThrownBy(() -> result.column("t")).hasMessageContaining("is closed");
                if (memory == 1) {
                    assertThatThrownBy(() -> cells.get(0)).hasMessageContaining("is closed");
                }
            }
        }
        assertThat(each.get(1)).isEqualTo(each.get(0));
    }

    @Test
    void aResultMayBeGoneOnFrom() {
        for (long memory : new long[] {1, 1 << 30}) {
            try (Fiesta fiesta = Fiesta.with().threads(2).memory(memory).open()) {
                Table numbers = fiesta.rows(
                        new Schema(List.of(new Field("n", Type.INTEGER), new Field("t", Type.TEXT))),
                        () -> LongStream.range(0, 30_000).mapToObj(n ->
                                new Object[] {29_999 - n, n % 3 == 0 ? null : "a\tb" + n % 5}));
                Result sorted = numbers.sort("n").run();
                Table on = fiesta.from(sorted);
                for (int run = 0; run < 2; run++) {
                    Result again = on.only("n < 20000")
                            .per("t")
                            .give("n = sum(n)")
                            .sort("t")
                            .run();
                    assertThat(Asking.lines(again))
                            .as("%s bytes", memory)
                            .isEqualTo(Asking.lines(numbers.only("n < 20000")
                                    .per("t")
                                    .give("n = sum(n)")
                                    .sort("t")
                                    .run()));
                }
                Brief brief = Brief.of("input s from 'none' table t from s per all give c = count(), m = max(n)")
                        .input("s", numbers.only("n >= 10").sort("n desc"));
                assertThat(Asking.lines(brief.run(fiesta).get("t"))).containsExactly("c,m", "29990,29999");
                assertThat(numbers.sort("n desc").survey().records()).isEqualTo(30_000);
                sorted.close();
                assertThatThrownBy(() -> fiesta.from(sorted).run())
                        .isInstanceOf(RequestException.class)
                        .hasMessageContaining("is closed");
            }
        }
    }

    @Test
    void aStreamTakesItAndStaysOpen() {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream() {
            @Override
            public void close() {
                throw new AssertionError("closed");
            }
        };
        SALES.drop("day").run().writeCsv(bytes);
        assertThat(bytes.toString(StandardCharsets.UTF_8))
                .isEqualTo("site,amount,weight,settled\nQuay,10.05,1.5,true\nMeadow,-2.00,,false\n,,-0.25,\n");
        OutputStream full = new OutputStream() {
            @Override
            public void write(int b) throws IOException {
                throw new IOException("no space");
            }
        };
        assertThatThrownBy(() -> SALES.run().writeCsv(full))
                .isInstanceOf(MachineException.class)
                .hasMessage("The rows of 'records' cannot be written (no space)");
    }
}
