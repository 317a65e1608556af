package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What the options of an input do, and which types fields get by themselves. */
class InputsTest {
    @TempDir
    Path folder;

    private Result read(String file, String options) {
        return run("input s from '" + file + "' " + options + " table t from s");
    }

    private Result run(String brief) {
        return Asking.brief(folder, brief).get("t");
    }

    private void file(String name, String text) throws IOException {
        Files.createDirectories(folder.resolve(name).getParent());
        Files.writeString(folder.resolve(name), text);
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            value = {
                "1,2,300 | integer",
                "1,-2,+3 | integer",
                "1,2.5 | decimal(1)",
                "1.25,2.5 | decimal(2)",
                "1,2.5,1.0e3 | real",
                "1,12E5,12E999 | text",
                "10.5,0.30000000000000004 | real",
                "1,00501 | text",
                "007 | text",
                "0,10 | integer",
                "0.5,-0.25 | decimal(2)",
                "00.5 | text",
                "2026-05-01,2026-12-31 | date",
                "2026-05-01,2026-13-01 | text",
                "2026-05-01 10:00,2026-05-01T11:00:30 | datetime",
                "2026-05-01T10:00Z,2026-05-01T10:00+02:00 | instant",
                "2026-05-01,2026-05-01 10:00 | text",
                "true,false | truth",
                "true,1 | text",
                "1,x | text",
                " 12 ,3 | integer",
                "12345678901234567.891 | real",
                "5., | text",
                ".5,1 | decimal(1)",
                "-,1 | text",
                "1e5,x | text",
            })
    void typesAreWorkedOut(String cells, String type) throws IOException {
        file("cells.csv", "x\n" + cells.replace(',', '\n') + "\n");
        assertThat(Asking.types(read("cells.csv", ""))).containsExactly("x " + type);
    }

    @Test
    void fieldsWithoutAnyValueFitAnyUse() throws IOException {
        file("empty.csv", "a,b\n1,\n2,\n");
        assertThat(Asking.types(read("empty.csv", ""))).containsExactly("a integer", "b empty");
        Result used = run(
                "input s from 'empty.csv' table t from s add c = a + b, d = b || 'x', e = b is missing, f = coalesce(b, a)");
        assertThat(used.row(0).get("c")).isNull();
        assertThat(used.row(0).get("d")).isNull();
        assertThat(used.row(0).get("e")).isEqualTo(true);
        assertThat(used.row(1).get("f")).isEqualTo(2L);
    }

    @Test
    void emptyAndQuotedCellsAreToldApart() throws IOException {
        file("quoted.csv", "t,n,u\n,1,a\n\"\",\"\",b\n\"x\",\"3\",c\n");
        Result result = read("quoted.csv", "");
        assertThat(result.texts("t")).containsExactly(null, "", "x");
        assertThat(Asking.types(result)).containsExactly("t text", "n integer", "u text");
        assertThat(result.row(1).get("n")).isNull();
        assertThat(read("quoted.csv", "quoted empty as missing").texts("t")).containsExactly(null, null, "x");
    }

    @Test
    void wordsStandForMissingValues() throws IOException {
        file("words.csv", "t,n\nNA,1\nb,-\nc,3\n");
        Result result = read("words.csv", "missing 'NA', '-'");
        assertThat(Asking.types(result)).containsExactly("t text", "n integer");
        assertThat(result.texts("t")).containsExactly(null, "b", "c");
        assertThat(result.row(1).get("n")).isNull();
    }

    @Test
    void defaultsStandForEmptyCellsOnly() throws IOException {
        file("gaps.csv", "n,d,t,day,on\n,,,,\n1,2.50,x,2026-05-01,false\n");
        Result result = read(
                "gaps.csv",
                "fields n integer default 7, d decimal(2) default -1.5, t text default 'none', day date default 2026-01-01, on truth default true");
        assertThat(result.longs("n")).containsExactly(7, 1);
        assertThat(result.longs("d")).containsExactly(-150, 250);
        assertThat(result.texts("t")).containsExactly("none", "x");
        assertThat(result.row(0).date("day")).isEqualTo("2026-01-01");
        assertThat(result.row(0).truth("on")).isTrue();
        assertThatThrownBy(() -> read("gaps.csv", "fields n integer default 'x'"))
                .hasMessageContaining("The default of 'n' is not an integer.");
    }

    @Test
    void badValuesBecomeMissingAndAreCounted() throws IOException {
        file("bad.csv", "d,n,day\n1.5,x,2026-02-30\noops,2,2026-02-28\n3,4e,\n");
        Result result = read(
                "bad.csv", "fields d decimal(1) bad as missing, n integer bad as missing, day date bad as missing");
        assertThat(result.notices().list())
                .extracting(Notices.Notice::text)
                .containsExactly(
                        "d: 1 value could not be read and became missing, such as 'oops' (bad.csv, line 3)",
                        "day: 1 value could not be read and became missing, such as '2026-02-30' (bad.csv, line 2)",
                        "n: 2 values could not be read and became missing, such as 'x' (bad.csv, line 2)");
        assertThat(result.longs("d")[2]).isEqualTo(30);
    }

    @Test
    void commasArePointsWhereTheBriefSaysSo() throws IOException {
        file("comma.csv", "a;b\n1.234,50;-0,5\n7;1,0e2\n");
        Result result = read("comma.csv", "delimiter ';' decimal comma");
        assertThat(Asking.types(result)).containsExactly("a decimal(2)", "b real");
        assertThat(result.longs("a")).containsExactly(123450, 700);
        assertThat(result.doubles("b")).containsExactly(-0.5, 100);
    }

    @Test
    void declaredTypesNeverWiden() throws IOException {
        file("n.csv", "n,d\n1,1.5\n2.5,2\n");
        assertThatThrownBy(() -> read("n.csv", "fields n integer"))
                .hasMessageContaining("'2.5' does not fit an integer.");
        assertThat(Asking.types(read("n.csv", "fields n decimal, d real"))).containsExactly("n decimal(1)", "d real");
        assertThat(Asking.types(read("n.csv", "fields n text"))).containsExactly("n text", "d decimal(1)");
    }

    @Test
    void columnsGetOtherNamesAndPatterns() throws IOException {
        file("sold.csv", "\"Sold at\",Net amount,Net amount\n31.12.2026 18:05,1,2\n");
        Result result = read(
                "sold.csv",
                "fields sold datetime 'dd.MM.yyyy HH:mm' from \"Sold at\", net integer from \"Net amount\"");
        assertThat(Asking.types(result)).containsExactly("sold datetime", "net integer", "Net amount_2 integer");
        assertThat(result.row(0).dateTime("sold")).isEqualTo("2026-12-31T18:05");
        assertThatThrownBy(() -> read("sold.csv", "fields sold date 'dd.bb' from \"Sold at\""))
                .hasMessageContaining("The pattern 'dd.bb' cannot be read");
        assertThatThrownBy(() -> read("sold.csv", "fields net integer 'dd' from \"Net amount\""))
                .hasMessageContaining("Only dates and datetimes have a pattern");
    }

    @Test
    void severalFilesAreOneInput() throws IOException {
        file("in/b.csv", "n,t\n3,c\n");
        file("in/a.csv", "t,n\na,1\nb,2.5\n");
        file("in/deep/c.csv", "n,t\n4,d\n");
        Result result = read("in/*.csv", "");
        assertThat(Asking.types(result)).containsExactly("t text", "n decimal(1)");
        assertThat(result.texts("t")).containsExactly("a", "b", "c");
        assertThat(read("in/**.csv", "").rows()).isEqualTo(4);
        file("in/z.csv", "n,t,extra\n9,z,e\n");
        assertThatThrownBy(() -> read("in/*.csv", ""))
                .isInstanceOf(DataException.class)
                .hasMessageContaining("it also has extra");
        Result byName = read("in/*.csv", "fields by name");
        assertThat(byName.texts("extra")).containsExactly(null, null, null, "e");
        assertThatThrownBy(() -> read("in", "")).hasMessageContaining("'in' is a folder, not a file.");
    }

    @Test
    void tabsAndPipesAreFoundByThemselves() throws IOException {
        file("t.tsv", "a\tb\n1,5\tx\n");
        assertThat(read("t.tsv", "").texts("a")).containsExactly("1,5");
        file("p.csv", "a|b\n1,5|x\n");
        assertThat(read("p.csv", "").schema().names()).containsExactly("a", "b");
        file("one.csv", "a\n1\n");
        assertThat(read("one.csv", "as tsv").longs("a")).containsExactly(1);
        file("q.csv", "'a','b'\n'x, y','it''s'\n");
        assertThat(read("q.csv", "quote ''''").texts("b")).containsExactly("it's");
    }

    @Test
    void fieldsMayHoldLineEnds() throws IOException {
        file("lines.csv", "a,b\r\n1,\"two\r\nlines\"\r\n2,\"\"\"quoted\"\"\"\r\n");
        assertThat(read("lines.csv", "").texts("b")).containsExactly("two\r\nlines", "\"quoted\"");
        file("bad.csv", "a,b\n1,\"two\nlines\"\nx,3\n");
        assertThatThrownBy(() -> read("bad.csv", "fields a integer"))
                .hasMessageStartingWith("bad.csv, line 4: field a: 'x'");
    }

    @Test
    void unknownFormatsAndEncodingsAreRefused() throws IOException {
        file("a.csv", "a\n1\n");
        assertThatThrownBy(() -> read("a.csv", "as scrolls"))
                .hasMessageContaining("'scrolls' is no format that can be read.");
        assertThatThrownBy(() -> read("a.csv", "encoding 'runes'"))
                .hasMessageContaining("There is no encoding 'runes'.");
        Files.write(folder.resolve("w.csv"), new byte[] {'a', '\n', (byte) 0xC3, '\n'});
        assertThatThrownBy(() -> read("w.csv", "encoding 'us-ascii'"))
                .hasMessageContaining("'w.csv' cannot be read as US-ASCII.");
    }

    @Test
    void shortRowsAreFilledHoweverManyThereAre() throws IOException {
        file("short.csv", "a,b,c,d,e\n" + "1\n2,x\n\n3,y,z\n".repeat(20_000));
        Result result = read("short.csv", "short rows as missing");
        assertThat(result.rows()).isEqualTo(60_000);
        assertThat(result.texts("c").subList(0, 3)).containsExactly(null, null, "z");
        assertThat(result.longs("a")[59_999]).isEqualTo(3);
    }
}
