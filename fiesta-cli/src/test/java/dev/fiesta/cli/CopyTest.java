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
