package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.problem.CheckException;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is said when the data is wrong, and what is counted when it is merely untidy. */
class DataProblemsTest {
    @TempDir
    Path folder;

    private Result run(String brief) {
        try (Fiesta fiesta = Fiesta.open()) {
            return fiesta.tables(Parser.brief(new BriefText("t.brief", brief)), folder, Map.of())
                    .run(List.of("t"))
                    .get("t");
        }
    }

    private void file(String name, String text) throws IOException {
        Files.writeString(folder.resolve(name), text);
    }

    private void fails(String brief, String message) {
        assertThatThrownBy(() -> run(brief)).isInstanceOf(DataException.class).hasMessage(message);
    }

    @Test
    void aBadValueIsNamedWithItsLine() throws IOException {
        file("sales.csv", "id,amount\n1,10.00\n2,12.5O\n");
        fails("input s from 'sales.csv' fields amount decimal(2) table t from s per all give x = sum(amount)", """
                sales.csv, line 3: field amount: '12.5O' is not a decimal.
                  The field was declared decimal(2). Repair the line, or declare 'amount decimal(2) bad as missing'.""");
        assertThatThrownBy(() -> run("input s from 'sales.csv' fields amount decimal(2) table t from s"))
                .isInstanceOfSatisfying(DataException.class, e -> {
                    assertThat(e.file()).isEqualTo("sales.csv");
                    assertThat(e.line()).isEqualTo(3);
                    assertThat(e.field()).isEqualTo("amount");
                    assertThat(e.value()).isEqualTo("12.5O");
                });
    }

    @Test
    void aValueThatIsTooPreciseDoesNotFit() throws IOException {
        file("sales.csv", "id,amount\n1,10.005\n");
        fails("input s from 'sales.csv' fields amount decimal(2) table t from s", """
                sales.csv, line 2: field amount: '10.005' does not fit a decimal(2).
                  The field was declared decimal(2). Repair the line, or declare 'amount decimal(2) bad as missing'.""");
    }

    @Test
    void aRaggedRowIsNamedAfterTheRowsBeforeIt() throws IOException {
        file("sales.csv", "id,amount\n1,10.00\n2,11.00,surplus\n");
        fails("input s from 'sales.csv' table t from s per all give n = count()", """
                sales.csv, line 3: this row has 3 cells, the header has 2.
                  Repair the line; a value that holds a delimiter must stand in quotes.""");
        file("short.csv", "id,amount\n1\n");
        fails("input s from 'short.csv' table t from s", """
                short.csv, line 2: this row has 1 cell, the header has 2.
                  Repair the line, or add 'short rows as missing' to the input.""");
        assertThat(run("input s from 'short.csv' short rows as missing table t from s")
                        .row(0)
                        .get("amount"))
                .isNull();
    }

    @Test
    void theFirstOfSeveralFaultsIsToldWhateverTheThreads() throws IOException {
        StringBuilder text = new StringBuilder("id,amount\n");
        for (int i = 0; i < 400_000; i++) {
            text.append(i).append(i == 150_000 || i == 390_000 ? ",oops\n" : ",1.50\n");
        }
        file("sales.csv", text.toString());
        for (int turn = 0; turn < 5; turn++) {
            assertThatThrownBy(
                            () -> run(
                                    "input s from 'sales.csv' fields amount decimal(2) table t from s per all give x = sum(amount)"))
                    .hasMessageStartingWith("sales.csv, line 150002: field amount: 'oops' is not a decimal.");
        }
    }

    @Test
    void ofTwoFaultsInNeighbouringRowsTheFirstIsTold() throws IOException {
        file("sales.csv", "a,b\n1,1\n2,oops\nno,3\n");
        assertThatThrownBy(() ->
                        run("input s from 'sales.csv' fields a integer, b integer table t from s only a > 0 and b > 0"))
                .hasMessageStartingWith("sales.csv, line 3: field b: 'oops'");
        file("sales.csv", "a,b\n1,1\nno,2\n3,oops\n4\n");
        assertThatThrownBy(() -> run(
                        "input s from 'sales.csv' fields a integer, b integer table t from s add c = b + 1, d = a + 1"))
                .hasMessageStartingWith("sales.csv, line 3: field a: 'no'");
        assertThatThrownBy(() -> run(
                        "input s from 'sales.csv' fields a integer, b integer table t from s add c = b + 1 columns c"))
                .hasMessageStartingWith("sales.csv, line 4: field b: 'oops'");
    }

    /** What no clause asks for is read last: what is wrong there is told after all else. */
    @Test
    void faultsOfCarriedCellsComeLast() throws IOException {
        file("sales.csv", "a,b\n1,1\nno,2\n3,oops\n4\n");
        assertThatThrownBy(() -> run("input s from 'sales.csv' fields a integer, b integer table t from s"))
                .hasMessageStartingWith("sales.csv, line 5: this row has 1 cell");
        file("sales.csv", "a,b,c\n1,1,1\nno,2,2\n3,oops,3\n");
        assertThatThrownBy(
                        () -> run(
                                "input s from 'sales.csv' fields a integer, b integer table t from s add d = b + 1 sort c desc"))
                .hasMessageStartingWith("sales.csv, line 4: field b: 'oops'");
        assertThatThrownBy(() -> run("input s from 'sales.csv' fields a integer table t from s sort c desc"))
                .hasMessageStartingWith("sales.csv, line 3: field a: 'no'");
    }

    @Test
    void missingFilesAndColumnsAreNamed() throws IOException {
        fails("input s from 'gone-*.csv' table t from s", "No file fits 'gone-*.csv'.");
        file("sales.csv", "id,amount\n");
        fails("input s from 'sale.csv' table t from s", "There is no file 'sale.csv'. There is 'sales.csv'.");
        fails(
                "input s from 'sales.csv' fields amuont decimal(2) table t from s",
                "sales.csv has no column 'amuont'. Did you mean 'amount'?");
        file("sales-2.csv", "id,price\n");
        fails(
                "input s from 'sales.csv' 'sales-2.csv' table t from s",
                "sales-2.csv has other columns than sales.csv: it lacks amount; it also has price; add 'fields by name' to the input to let columns be missing.");
    }

    @Test
    void valuesThatAreNotReadAreNoFault() throws IOException {
        file("sales.csv", "id,amount\n1,10.00\n2,oops\n3,11.00\n");
        String input = "input s from 'sales.csv' fields amount decimal(2) ";
        assertThat(run(input + "table t from s per all give n = count()").row(0).integer("n"))
                .isEqualTo(3);
        assertThat(run(input + "table t from s only id <> 2").rows()).isEqualTo(2);
        assertThat(run(input + "table t from s first 1").rows()).isEqualTo(1);
    }

    @Test
    void lookUpsAreGuarded() throws IOException {
        file("sales.csv", "stall\n001\n012\n001\n");
        file("stalls.csv", "stall,kind\n001,grill\n001,ices\n");
        String inputs = "input sales from 'sales.csv' input stalls from 'stalls.csv' table t from sales ";
        fails(inputs + "match stalls on stall bring kind", """
                'match stalls on stall bring kind': the key '001' stands twice in 'stalls', so a row of ours would become two.
                  Make the keys of 'stalls' unique first (per …, distinct …), or say 'match each' to get a row for every match.""");
        fails(inputs + "match stalls on stall required", """
                'match stalls on stall required': stall '012' has no match in 'stalls', the only such row.
                  Complete 'stalls', or take 'required' away to let what is brought be missing.""");
        assertThat(run(inputs + "match each stalls on stall bring kind").rows()).isEqualTo(5);
        assertThat(run(inputs + "match stalls on stall unmatched only").rows()).isEqualTo(1);
    }

    @Test
    void overflowsAreTold() throws IOException {
        file("sales.csv", "n\n4000000000000000000\n");
        fails("input s from 'sales.csv' fields n integer table t from s add x = n * 3", """
                t.brief:1: n * 3: 12000000000000000000 does not fit an integer (sales.csv, line 2).
                  Exact values have at most 18 digits; round them, or calculate with real(…).""");
        file("sales.csv", "n\n400000000000000000\n");
        fails("input s from 'sales.csv' table t from s add x = n * 30", """
                t.brief:1: n * 30: 12000000000000000000 does not fit an integer (sales.csv, line 2).
                  Exact values have at most 18 digits; round them, or calculate with real(…).""");
    }

    @Test
    void strictConversionsFailAndTryingOnesCount() throws IOException {
        file("sales.csv", "code,kind\n12,n\nx7,t\n");
        String input = "input s from 'sales.csv' table t from s ";
        fails(input + "add n = integer(code)", """
                t.brief:1: integer(code): 'x7' is not an integer (sales.csv, line 3).
                  Use try_integer to make such values missing and have them counted.""");
        Result tried = run(input + "add n = try_integer(code)");
        assertThat(texts(tried))
                .containsExactly(
                        "try_integer(code): 1 of 2 values could not be converted and became missing, such as 'x7'"
                                + " (sales.csv, line 3)");
        Result guarded = run(input + "add n = if kind = 'n' then integer(code) else 0");
        assertThat(guarded.longs("n")).containsExactly(12, 0);
    }

    @Test
    void wideningReadsAgainAndSaysSo() throws IOException {
        StringBuilder text = new StringBuilder("pad,amount\n");
        for (int i = 0; i < 450_000; i++) {
            text.append("some padding that makes the file long,").append(i == 13_000 ? "2.125\n" : "1\n");
        }
        file("sales.csv", text.toString());
        Result result = run("input s from 'sales.csv' table t from s per all give x = sum(amount)");
        assertThat(result.row(0).get("x")).isEqualTo(new java.math.BigDecimal("450001.125"));
        assertThat(result.notices().list())
                .extracting(Notices.Notice::text)
                .containsExactly("amount (integer to decimal(3)): 1 field was read again with a wider type");
    }

    /** However often a field is widened, its first type and the last are told; what was written down before is written again. */
    @Test
    void wideningTwiceIsToldOnce() throws IOException {
        StringBuilder text = new StringBuilder("pad,amount\n");
        for (int i = 0; i < 450_000; i++) {
            text.append("some padding that makes the file long,")
                    .append(i == 13_000 ? "2.125\n" : i == 13_100 ? "1.12345\n" : "1\n");
        }
        file("sales.csv", text.toString());
        for (long memory : new long[] {1L << 30, 1 << 20}) {
            try (Fiesta fiesta = Fiesta.with().memory(memory).threads(2).open()) {
                Result result = fiesta.read(folder.resolve("sales.csv"))
                        .then("sort amount desc add r = row_number(along amount desc) only r <= 3")
                        .run();
                assertThat(result.column("amount").get(0)).isEqualTo(new java.math.BigDecimal("2.12500"));
                assertThat(texts(result))
                        .contains("amount (integer to decimal(5)): 1 field was read again with a wider type")
                        .filteredOn(t -> t.contains("wider type"))
                        .hasSize(1);
                assertThat(result.timings().stream().filter(t -> t.step().equals("read")))
                        .hasSize(1);
            }
        }
    }

    private static List<String> texts(Result result) {
        return result.notices().list().stream().map(Notices.Notice::text).toList();
    }

    @Test
    void checksHoldOrFail() throws IOException {
        file("sales.csv", "site,amount\nQuay,10\nQuay,20\nMeadow,5\n");
        String input = "input s from 'sales.csv' table t from s ";
        assertThat(run(input + "check amount > 0 check rows >= 3").rows()).isEqualTo(3);
        assertThatThrownBy(() -> run(input + "check amount > 5 'too little'"))
                .isInstanceOf(CheckException.class)
                .hasMessage("""
                        The check does not hold: t.brief:1: too little
                          check amount > 5 'too little'
                          1 row does not meet it:
                            amount 5, site Meadow""");
        assertThatThrownBy(() -> run(input + "check unique site")).hasMessageContaining("2 rows do not meet it:");
        assertThatThrownBy(() -> run(input + "check rows < 3")).hasMessageContaining("there are 3 rows.");
        assertThat(run(input + "check unique site or warn").notices().warnings())
                .hasSize(1);
    }

    @Test
    void rowsDroppedForWantOfAValueAreCounted() throws IOException {
        file("sales.csv", "site,amount\nQuay,10\nQuay,\nMeadow,5\n");
        Result result = run("input s from 'sales.csv' table t from s only amount > 1 and site <> 'x'");
        assertThat(texts(result))
                .containsExactly(
                        "only amount > 1 and site <> 'x': 1 of 3 rows was dropped because the condition was missing,"
                                + " not false");
    }

    @Test
    void sumsAreHeldToOtherTables() throws IOException {
        file("sales.csv", "site,amount\nQuay,10\nQuay,20\nMeadow,5\n");
        String tables = "input s from 'sales.csv' table all_sales from s table t from all_sales ";
        assertThat(run(tables + "per site give x = sum(amount) check x adds up to all_sales.amount")
                        .rows())
                .isEqualTo(2);
        assertThatThrownBy(() ->
                        run(tables + "only site = 'Quay' check amount adds up to all_sales.amount 'sales are lost'"))
                .isInstanceOf(CheckException.class)
                .hasMessage("""
                        The check does not hold: t.brief:1: sales are lost
                          check amount adds up to all_sales.amount 'sales are lost': the sums are 30 and 35.""");
    }

    @Test
    void filesOfOtherDialectsAndEncodingsAreRead() throws IOException {
        file("comments.csv", "# made by hand\na|b\n# more\n1|2\n");
        assertThat(run("input s from 'comments.csv' comment '#' table t from s").longs("b"))
                .containsExactly(2);
        file("plain.csv", "skipped line\n7;x\n8;y\n");
        Result numbered = run("input s from 'plain.csv' skip 1 no header table t from s");
        assertThat(numbered.schema().names()).containsExactly("field_1", "field_2");
        assertThat(numbered.longs("field_1")).containsExactly(7, 8);
        Files.write(folder.resolve("western.csv"), "site\nÉglise\n".getBytes("windows-1252"));
        assertThat(run("input s from 'western.csv' encoding 'windows-1252' table t from s")
                        .texts("site"))
                .containsExactly("Église");
        Files.write(folder.resolve("wide.csv"), "\uFEFFsite\nÉglise\n".getBytes("UTF-16LE"));
        assertThat(run("input s from 'wide.csv' table t from s").texts("site")).containsExactly("Église");
        try (var zipped = new java.util.zip.GZIPOutputStream(Files.newOutputStream(folder.resolve("sales.csv.gz")))) {
            zipped.write("site,amount\nQuay,1.50\n".getBytes(java.nio.charset.StandardCharsets.UTF_8));
        }
        assertThat(run("input s from 'sales.csv.gz' table t from s").longs("amount"))
                .containsExactly(150);
        file("old.csv", "a,b\r1,2\r3,4\r");
        assertThat(run("input s from 'old.csv' table t from s").longs("b")).containsExactly(2, 4);
    }

    @Test
    void recordsKnowTheirFile() throws IOException {
        file("sales-1.csv", "amount\n1\n2\n");
        file("sales-2.csv", "amount\n5\n");
        Result result = run("input s from 'sales-*.csv' table t from s per file = file_name give x = sum(amount)");
        assertThat(result.texts("file")).containsExactly("sales-1.csv", "sales-2.csv");
        assertThat(result.longs("x")).containsExactly(3, 5);
        assertThat(run("input s from 'sales-*.csv' table t from s").schema().names())
                .containsExactly("amount");
    }
}
