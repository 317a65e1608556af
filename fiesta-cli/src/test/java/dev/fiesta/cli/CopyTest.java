package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Copies of records as columns, tables written as such, and tables for databases. */
class CopyTest extends CommandTest {

    @BeforeEach
    void data() throws IOException {
        Files.writeString(
                folder.resolve("s.csv"),
                "site;amount;day\nQuay;1.234,50;2026-05-03\n;8,40;2026-05-01\nQuay;;2026-05-02\n");
    }

    @Test
    void aCopyIsTheSameRecordsWithTheirTypes() {
        assertThat(fiesta("copy", path("s.csv"), "--to", path("s.parquet"), "--input-options", "decimal comma"))
                .isZero();
        assertThat(err.toString()).endsWith("Written: " + path("s.parquet") + ", 3 records\n");
        assertThat(fiesta("ask", path("s.parquet"), "add n = amount", "--as", "csv"))
                .isZero();
        assertThat(out.toString())
                .isEqualTo(
                        "site,amount,day,n\nQuay,1234.50,2026-05-03,1234.50\n,8.40,2026-05-01,8.40\nQuay,,2026-05-02,\n");
        assertThat(fiesta("copy", path("s.parquet"), "--to", path("t.parquet"), "--along", "day", "--quiet"))
                .isZero();
        assertThat(err.toString()).isEmpty();
        assertThat(fiesta("ask", path("t.parquet"), "columns day", "--as", "csv"))
                .isZero();
        assertThat(out.toString()).isEqualTo("day\n2026-05-01\n2026-05-02\n2026-05-03\n");
    }

    @Test
    void aDraftKeepsTheOptionsItWasTold() throws IOException {
        assertThat(fiesta("draft", path("s.csv"), "--input-options", "decimal comma missing 'Quay'"))
                .isZero();
        assertThat(out.toString())
                .contains("input s from '" + path("s.csv") + "' decimal comma missing 'Quay'")
                .contains("amount decimal(2)");
        Files.writeString(folder.resolve("s.brief"), out.toString());
        assertThat(fiesta("run", path("s.brief"))).isZero();
    }

    /** Where the start script, or the environment, says nothing else, copies are kept in the user's folder. */
    @Test
    void runsKeepCopiesThatAreListedAndRemoved() throws IOException {
        StringBuilder text = new StringBuilder("site,amount\n");
        for (int i = 0; i < 20_000; i++) {
            text.append(i % 3 == 0 ? "Quay" : "Meadow")
                    .append(",")
                    .append(i % 100)
                    .append(".50\n");
        }
        Files.writeString(folder.resolve("sales.csv"), text);
        Files.writeString(
                folder.resolve("s.brief"),
                "input sales from 'sales.csv'\ntable by_site from sales per site give takings = sum(amount)\n");
        System.setProperty("fiesta.cache", path("cache"));
        try {
            assertThat(fiesta("copy", "--list")).isZero();
            assertThat(out.toString()).isEqualTo("No copies are kept. They are by: fiesta run BRIEF --copies\n");
            assertThat(fiesta("run", path("s.brief"), "--as", "csv")).isZero();
            String files = out.toString();
            for (int i = 0; i < 2; i++) {
                assertThat(fiesta("run", path("s.brief"), "--as", "csv", "--copies"))
                        .isZero();
                assertThat(out.toString()).isEqualTo(files);
                assertThat(err.toString()).isEmpty();
            }
            assertThat(fiesta("run", path("s.brief"), "--as", "csv", "--copies", "--out", path("out"), "--quiet"))
                    .isZero();
            assertThat(folder.resolve("out/run.json")).content().contains("\"from_copy\" : true");
            assertThat(fiesta("repeat", path("out"))).isZero();
            assertThat(fiesta("ask", path("sales.csv"), "per site give n = count()", "--copies", "--as", "csv"))
                    .isZero();
            assertThat(out.toString()).isEqualTo("site,n\nMeadow,13333\nQuay,6667\n");
            assertThat(fiesta("copy", "--list")).isZero();
            assertThat(out.toString())
                    .containsPattern("(?m)^sales\\.csv +20,000 +0\\.\\d  \\d{4}-\\d\\d-\\d\\d \\d\\d:\\d\\d$")
                    .containsPattern("(?m)^.*[/\\\\]sales\\.csv +20,000 ")
                    .endsWith("\nIn " + path("cache/fiesta") + "; together they may take 10 GB.\n");
            assertThat(fiesta("copy", "--clear")).isZero();
            assertThat(out.toString()).isEqualTo("2 copies were removed.\n");
            assertThat(folder.resolve("cache/fiesta")).isEmptyDirectory();
        } finally {
            System.clearProperty("fiesta.cache");
        }
        assertThat(fiesta("copy", "--list", "--clear")).isEqualTo(2);
        assertThat(err.toString()).contains("--list and --clear stand alone");
        assertThat(fiesta("copy")).isEqualTo(2);
        assertThat(err.toString()).contains("The files to be copied are missing");
        assertThat(fiesta("copy", path("sales.csv"))).isEqualTo(2);
        assertThat(err.toString()).contains("Where the copy goes is missing: add --to FILE.parquet.");
    }

    @Test
    void whatCannotBeCopiedIsTold() {
        assertThat(fiesta("copy", path("s.csv"), "--to", path("s.csv"))).isEqualTo(2);
        assertThat(err.toString()).contains("A copy is a file of columns: give it a name that ends in .parquet, not '");
        assertThat(fiesta("copy", path("s.csv"))).isEqualTo(2);
        assertThat(fiesta("copy", path("no.csv"), "--to", path("s.parquet"))).isEqualTo(3);
        assertThat(fiesta("copy", path("s.csv"), "--to", path("s.parquet"), "--along", "dya"))
                .isEqualTo(2);
        assertThat(err.toString()).contains("There is no field 'dya'");
        assertThat(folder.resolve("s.parquet")).doesNotExist();
    }

    @Test
    void tablesAreWrittenAsColumnsIntoFoldersOnly() throws IOException {
        Files.writeString(
                folder.resolve("t.brief"),
                "input s from 's.csv' decimal comma table t from s per site give a = sum(amount) totals");
        assertThat(fiesta("run", path("t.brief"), "--as", "parquet")).isEqualTo(2);
        assertThat(err.toString()).contains("Files need a folder: add --out DIR.");
        assertThat(fiesta("ask", path("s.csv"), "per site", "--as", "parquet")).isEqualTo(2);
        assertThat(err.toString()).contains("'ask' answers as terminal, csv, tsv, json or jsonl");
        assertThat(fiesta("run", path("t.brief"), "--as", "parquet,csv", "--out", path("o")))
                .isZero();
        assertThat(fiesta("ask", path("o/t.parquet"), "add x = a", "--as", "csv"))
                .isZero();
        assertThat(out.toString()).isEqualTo("site,a,x\nQuay,1234.50,1234.50\n,8.40,8.40\n");
    }

    @Test
    void tablesForDatabasesAreRefusedBeforeAnythingIsRead() throws IOException {
        Files.writeString(folder.resolve("t.brief"), "input s from 'no.csv' table t from s table u from s");
        assertThat(fiesta("run", path("t.brief"), "--replace")).isEqualTo(2);
        assertThat(err.toString()).contains("--replace says something with --into only.");
        assertThat(fiesta("run", path("t.brief"), "--into", "shop.t", "--each", "x", "--out", path("o")))
                .isEqualTo(2);
        assertThat(err.toString()).contains("--into writes one table, and --each makes several");
        Files.writeString(folder.resolve("t.brief"), "input s from 's.csv' table t from s table u from s");
        assertThat(fiesta("run", path("t.brief"), "--into", "shop.t")).isEqualTo(2);
        assertThat(err.toString()).contains("--into takes one table, the brief shows t, u. Choose one with --table.");
        assertThat(fiesta("run", path("t.brief"), "--into", "nowhere.t", "--table", "t"))
                .isEqualTo(2);
        assertThat(err.toString()).contains("There is no connection 'nowhere'.");
    }
}
