package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** One bad line does not close a month: {@code unreadable aside} from the brief to the files beside the report. */
class SetAsideTest extends CommandTest {
    private static final String FIELDS = "  fields sale integer, sold_on date, amount decimal(2), fee decimal(2)\n";
    private static final String DIRTY = """
            sale,sold_on,site,amount,fee
            1,2026-05-01,Quay,10.00,0.10
            2,2026-05-01,Meadow,12.5O,0.90
            3,2026-05-02,"Quay
            East",7.25,0.20
            4,2026-05-02,Quay

            5,31/05/2026,Meadow,3.00,0.05
            6,2026-05-03,"Mea""dow",4.00,0.30
            7,2026-05-03,"Quay,1.50,0.10
            8,2026-05-04,Quay,1.50,0.10,surplus
            9,2026-05-05,Quay,2.50,x
            """;

    @BeforeEach
    void data() throws IOException {
        file("sales.csv", DIRTY);
    }

    private void file(String name, String text) throws IOException {
        Files.writeString(folder.resolve(name), text);
    }

    private void brief(String paths, String limit, String tables) throws IOException {
        file("t.brief", "input sales from " + paths + " unreadable aside" + limit + "\n" + FIELDS + tables);
    }

    private int run(String... more) {
        String[] args = new String[more.length + 2];
        args[0] = "run";
        args[1] = folder.resolve("t.brief").toString();
        System.arraycopy(more, 0, args, 2, more.length);
        return fiesta(args);
    }

    private String read(String name) throws IOException {
        return Files.readString(folder.resolve(name));
    }

    @Test
    void onlyFieldsThatTheBriefUsesAreJudgedAndTheLinesAreWrittenAsTheyAre() throws IOException {
        brief("'sales.csv'", " at most 70 percent", "table t from sales per site give n = count(), s = sum(amount)");
        assertThat(run("--out", folder.resolve("out").toString(), "--as", "csv"))
                .isZero();
        assertThat(read("out/t.csv"))
                .isEqualTo("site,n,s\n\"Mea\"\"dow\",1,4.00\nMeadow,1,3.00\nQuay,2,12.50\n\"Quay\nEast\",1,7.25\n");
        assertThat(read("out/set-aside/sales.csv")).isEqualTo("""
                        sale,sold_on,site,amount,fee
                        2,2026-05-01,Meadow,12.5O,0.90
                        4,2026-05-02,Quay
                        7,2026-05-03,"Quay,1.50,0.10
                        8,2026-05-04,Quay,1.50,0.10,surplus
                        """);
        assertThat(read("out/set-aside/sales-reasons.csv")).isEqualTo("""
                        file,line,line_aside,field,value,reason
                        sales.csv,3,2,amount,12.5O,is not a decimal(2)
                        sales.csv,6,3,"","","this row has 3 cells, the header has 5"
                        sales.csv,10,4,"","",a quote is opened here and never closed
                        sales.csv,11,5,"","","this row has 6 cells, the header has 5"
                        """);
        assertThat(err.toString())
                .contains("Note: sales: 4 of 9 records cannot be read and were set aside, such as sales.csv, line 3,"
                        + " field amount: is not a decimal(2).");
        assertThat(read("out/run.json")).contains("\"set_aside\" : 4").doesNotContain("12.5O");
    }

    @Test
    void tablesThatReadOtherFieldsAgreeAndOneThatIsNotWantedCountsToo() throws IOException {
        brief(
                "'sales.csv'",
                " at most 70 percent",
                "table t from sales per site give n = count()\n"
                        + "table days from sales per sold_on give f = sum(fee)\n"
                        + "table dear from sales sort amount desc first 1 columns sale");
        assertThat(run("--as", "csv", "--table", "t")).isZero();
        assertThat(out.toString()).isEqualTo("site,n\n\"Mea\"\"dow\",1\nQuay,1\n\"Quay\nEast\",1\n");
        assertThat(err.toString())
                .contains(
                        "6 of 9 records cannot be read",
                        "  sales.csv, line 8, field sold_on: is not a date\n",
                        "  To have them in a file: --out DIR.");
        assertThat(folder.resolve("set-aside")).doesNotExist();
    }

    @Test
    void moreThanMayBeEndsTheRunAndLeavesNothing() throws IOException {
        String table = "table t from sales per site give s = sum(amount)";
        brief("'sales.csv'", "", table);
        assertThat(run("--out", folder.resolve("out").toString())).isEqualTo(3);
        assertThat(err.toString())
                .contains(
                        "sales.csv: 4 of 9 records cannot be read, more than 10 percent (0) that may be set aside.",
                        "    sales.csv, line 3, field amount: is not a decimal(2)",
                        "Repair them, or let more be set aside: unreadable aside at most 4.");
        assertThat(folder.resolve("out")).doesNotExist();
        brief("'sales.csv'", " at most 3", table);
        assertThat(run()).isEqualTo(3);
        assertThat(err.toString()).contains("4 of 9 records cannot be read, more than 3 that may be set aside.");
        brief("'sales.csv'", " at most 4", table);
        assertThat(run()).isZero();
        brief("'sales.csv'", " at most 1 percent", "table t from sales first 1 columns amount");
        assertThat(run()).isZero(); // only records read so far are judged
    }

    @Test
    void whatIsRepairedIsReadAsAFurtherFileAndNothingIsLeftOfTheRunBefore() throws IOException {
        String table = "table t from sales per all give n = count(), s = sum(amount), f = sum(fee)";
        brief("'sales.csv'", " at most 80 percent", table);
        String place = folder.resolve("out").toString();
        assertThat(run("--out", place, "--as", "csv")).isZero();
        String repaired = read("out/set-aside/sales.csv")
                .replace("12.5O", "12.50")
                .replace("4,2026-05-02,Quay\n", "4,2026-05-02,Quay,1.00,0.00\n")
                .replace("\"Quay,1.50", "Quay,1.50")
                .replace(",surplus", "")
                .replace("2.50,x", "2.50,0.10");
        file("repaired.csv", repaired);
        brief("'sales.csv' 'repaired.csv'", " at most 80 percent", table);
        assertThat(run("--out", place, "--as", "csv")).isZero();
        assertThat(read("out/t.csv")).isEqualTo("n,s,f\n9,43.25,1.85\n");
        file("sales.csv", "sale,sold_on,site,amount,fee\n1,2026-05-01,Quay,10.00,0.10\n");
        file("out/set-aside/notes.csv", "somebody's own");
        assertThat(run("--out", place, "--as", "csv")).isZero();
        assertThat(folder.resolve("out/set-aside/sales.csv")).doesNotExist();
        assertThat(folder.resolve("out/set-aside/sales-reasons.csv")).doesNotExist();
        assertThat(folder.resolve("out/set-aside/notes.csv")).exists();
    }

    @Test
    void stepsShowFieldsThatNobodyJudgesAsFarAsTheyCanBeRead() throws IOException {
        brief("'sales.csv'", " at most 70 percent", "table t from sales only amount > 2 per site give s = sum(amount)");
        assertThat(run("--steps")).isZero();
        assertThat(out.toString()).contains("only amount > 2", "2026-05-01");
    }

    /** What goes aside can be given as a further path of the same input, so it keeps the encoding that was told. */
    @Test
    void linesKeepTheEncodingThatWasTold() throws IOException {
        for (String encoding : new String[] {"windows-1252", "utf-16"}) {
            Files.write(folder.resolve("sales.csv"), "ort;betrag\nKöln;2,50\nKöln;2.5O\nUlm;1,00\n".getBytes(encoding));
            file(
                    "t.brief",
                    "input s from 'sales.csv' unreadable aside at most 40 percent encoding '" + encoding
                            + "' decimal comma fields betrag decimal(2)\ntable t from s per ort give a = sum(betrag)");
            assertThat(run("--out", folder.resolve("out").toString(), "--as", "csv"))
                    .isZero();
            assertThat(read("out/t.csv")).isEqualTo("ort,a\nKöln,2.50\nUlm,1.00\n");
            assertThat(new String(Files.readAllBytes(folder.resolve("out/set-aside/s.csv")), encoding))
                    .isEqualTo("ort;betrag\nKöln;2.5O\n");
        }
    }

    @Test
    void linesOfJsonAreSetAsideToo() throws IOException {
        file("sales.jsonl", """
                {"site":"Quay","amount":2.5,"day":"2026-05-01"}
                {"site":"Quay","amount":"2,5","day":"2026-05-01"}
                {"site":"Meadow","amount":1.25,"day":"soon"}
                {"site":"Quay","amount":
                [1, 2]
                {"site":"Meadow","amount":1.00}
                """);
        file(
                "t.brief",
                "input sales from 'sales.jsonl' unreadable aside at most 50 percent fields amount decimal(2), day date\n"
                        + "table t from sales per site give s = sum(amount)");
        assertThat(run("--out", folder.resolve("out").toString(), "--as", "csv"))
                .isZero();
        assertThat(read("out/t.csv")).isEqualTo("site,s\nMeadow,2.25\nQuay,2.50\n");
        assertThat(read("out/set-aside/sales.jsonl")).isEqualTo("""
                        {"site":"Quay","amount":"2,5","day":"2026-05-01"}
                        {"site":"Quay","amount":
                        [1, 2]
                        """);
        assertThat(read("out/set-aside/sales-reasons.csv"))
                .startsWith(
                        "file,line,line_aside,field,value,reason\nsales.jsonl,2,1,amount,\"2,5\",is not a decimal(2)\n")
                .contains("sales.jsonl,4,2,", "sales.jsonl,5,3,");
    }

    @Test
    void whatNobodyCouldJudgeIsRefused() throws IOException {
        file(
                "t.brief",
                "input sales from 'sales.csv' unreadable aside fields amount decimal(2)\n"
                        + "table t from sales per site give s = sum(amount), n = max(sale)");
        file("sales.csv", "sale,site,amount\n1,Quay,2.00\n");
        assertThat(run()).isEqualTo(2);
        assertThat(err.toString())
                .contains(
                        "Records of 'sales' are set aside where 'sale' cannot be read, but what it should be is not told.",
                        "Add it to the fields of the input: fields sale integer");
        for (String limit : new String[] {" at most 0.5", " at most 101 percent", " at most -1", " at most x"}) {
            brief("'sales.csv'", limit, "table t from sales");
            assertThat(run()).as(limit).isEqualTo(2);
        }
        assertThat(err.toString()).isNotEmpty();
    }
}
