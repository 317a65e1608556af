package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What commands do not do, and what they say then; a word of the way out is always there. {@code @} stands for the folder. */
class RefusalsTest extends CommandTest {
    @BeforeEach
    void data() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), "site,month,amount\nQuay,5,3.10\n,6,8.40\nQuay,6,1.00\n");
        Files.writeString(folder.resolve("other.csv"), "site,month,amount\nQuay,5\n");
        Files.writeString(folder.resolve("torn.csv.gz"), "not packed");
        Files.writeString(folder.resolve("quote.csv"), "site,month,amount\n\"Quay,5,1\n");
        Files.writeString(folder.resolve("bare.csv"), "site,n\n,1\n");
        Files.writeString(
                folder.resolve("empty.brief"),
                "parameter site text = 'x' input s from 'bare.csv' table u from s only site = :site");
        Files.writeString(folder.resolve("odd.json"), "{\"a\": 1}");
        Files.writeString(folder.resolve("none.json"), "[");
        Files.writeString(
                folder.resolve("t.brief"),
                "parameter sites text list optional parameter size integer = 1\ninput s from 'sales.csv'\n"
                        + "table u from s per site, month give x = sum(amount)");
        Files.writeString(folder.resolve("inputs.brief"), "input s from 'sales.csv'");
        Files.writeString(folder.resolve("record.json"), "{}");
        Files.writeString(folder.resolve("far.conf"), "members 192.0.2.1\nfolder shared");
        Files.writeString(folder.resolve("bad.conf"), "member 192.0.2.1");
        Files.createDirectories(folder.resolve("full"));
        Files.writeString(folder.resolve("full/note.txt"), "mine");
    }

    private String refused(String line) {
        String[] args = line.replace("@", folder.toString()).split(" (?=(?:[^']*'[^']*')*[^']*$)");
        for (int i = 0; i < args.length; i++) {
            args[i] = args[i].replace("'", "");
        }
        int status = fiesta(args);
        assertThat(status).as(line + ": " + out + err).isIn(2, 3, 4);
        assertThat(out.toString()).as("nothing is printed beside it").isEmpty();
        return err.toString()
                .replace(folder + "/", "")
                .replace(folder.toString(), "@")
                .strip();
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "ask @/sales.csv 'first 1' --as pdf | 'ask' answers as terminal, csv, tsv, json or jsonl; for a document write a brief and use 'fiesta run'.",
                "compare @/sales.csv @/sales.csv --period month | --period, --between and --set say something with --parts only.",
                "compare @/t.brief --parts --table u --figure x | The parts are those between two runs, or of a brief with --period KEY --between A B.",
                "compare @/t.brief @/t.brief --parts --table u --figure x --period month --between 5 6 | --period is a key of one brief, and --between has two of its values.",
                "compare @/sales.csv @/other.csv | 'other', line 2: 2 cells, but the header has 3.",
                "compare @/sales.csv @/quote.csv | 'quote', line 2: 1 cell, but the header has 3.",
                "run @/empty.brief --each site --as csv --out @/out | There is no value of 'site' to run the brief for.",
                "compare @/sales.csv @/torn.csv.gz | 'torn.csv.gz' is packed, but cut off or damaged.",
                "compare @/sales.csv @/nowhere.csv | There is no file or folder '@/nowhere.csv'.",
                "compare @/sales.csv @/sales.csv --as xlsx | 'compare' shows differences as terminal, csv, json or html.",
                "run @/t.brief --resume run-1 | --resume says something with --crew only.",
                "ask @/sales.csv 'first 1' --insecure | --insecure says something with --crew only.",
                "run @/t.brief --crew @/bad.conf | bad.conf, line 1: member: no setting of a crew. Did you mean 'members'?",
                "member --crew @/far.conf | The crew at 192.0.2.1:47500 is on other machines and has no certificates: name 'keys' and 'trusted' in its file, or say --insecure on every machine.",
                "copy --list --clear | --list and --clear stand alone: fiesta copy --list, fiesta copy --clear.",
                "copy --to @/x.fiesta | The files to be copied are missing: fiesta copy FILE… --to FILE",
                "demo @/full | The folder '@/full' holds other files. Name another: fiesta demo DIR.",
                "run @/t.brief --into shop.weekly --each sites --out @/out | --into writes one table, and --each makes several: leave one of them out.",
                "run @/t.brief --each sites --as csv --out @/out | No input has a field 'sites' whose values could be taken; name them.",
                "run @/t.brief --each colour --as csv --out @/out | The brief has no parameter 'colour'.",
                "try - | A session reads its files again and again; standard input comes but once.",
                "run @/inputs.brief | 'inputs.brief' has no table, so there is nothing to work out. Write one: table NAME from INPUT …",
                "run @/inputs.brief --as csv --out @/out | 'inputs.brief' has no table, so there is nothing to work out. Write one: table NAME from INPUT …",
                "run @/record.json | '@/record.json' is JSON and no brief; the record of a run names its brief.",
                "repeat @/nowhere | There is no run record '@/nowhere'.",
                "repeat @/odd.json | '@/odd.json' is no run record.",
                "repeat @/none.json | '@/none.json' is no run record: it is no JSON.",
            })
    void whatIsNotDoneIsSaid(String line, String message) {
        String told = refused(line);
        assertThat(told.replace("'" + folder, "'@")).startsWith(message.replace("@/", ""));
    }

    @Test
    void aBriefWithoutTablesIsNoMistake() {
        assertThat(fiesta("check", folder.resolve("inputs.brief").toString())).isZero();
        assertThat(out).hasToString("inputs.brief: no problems, and no tables\n");
    }

    @Test
    void aFileThatIsOneEndlessCellIsNoTable() throws IOException {
        Files.writeString(folder.resolve("endless.csv"), "site\n\"" + "x".repeat(17 << 20));
        assertThat(refused("compare @/sales.csv @/endless.csv")).startsWith("'endless.csv' is not delimited text: ");
    }

    /** A table kept beside a record that somebody has changed is not taken for the one that was recorded. */
    @Test
    void aKeptTableThatWasChangedIsNoneOfTheRun() throws IOException {
        assertThat(fiesta("run", path("t.brief"), "--as", "csv", "--out", path("one")))
                .isZero();
        assertThat(fiesta("run", path("t.brief"), "--as", "csv", "--out", path("two")))
                .isZero();
        try (var packed =
                new java.util.zip.GZIPOutputStream(Files.newOutputStream(folder.resolve("one/run/u.csv.gz")))) {
            packed.write("site,month,x\nQuay,5,1000.00\n".getBytes(java.nio.charset.StandardCharsets.UTF_8));
        }
        assertThat(refused("compare @/one @/two"))
                .isEqualTo(
                        "The kept table 'u' is not the one that the record tells of: another run wrote it, or it was "
                                + "changed by hand. Run the brief again into a folder of its own.");
    }

    @Test
    void aRecordThatWasChangedIsNone() throws IOException {
        assertThat(fiesta("run", path("t.brief"), "--as", "csv", "--out", path("one")))
                .isZero();
        Path record = folder.resolve("one/run.json");
        String whole = Files.readString(record);
        for (String[] change : new String[][] {
            {"\"name\" : \"t.brief\"", "\"name\" : [1]"},
            {"\"inputs\" : [", "\"inputs\" : [ {\"name\" : {}},"},
            {"\"tables\" : [", "\"tables\" : [ {\"checksum\" : \"\", \"keys\" : [[]]},"},
            {"\"parameters\" : {", "\"parameters\" : {\"least\" : {},"},
            {"\"folder\" : \"..\"", "\"folder\" : \"\\u0000\""}
        }) {
            assertThat(whole).contains(change[0]);
            Files.writeString(record, whole.replace(change[0], change[1]));
            assertThat(refused("repeat @/one"))
                    .isEqualTo("'one' is no run record: it was changed by hand, or damaged.");
        }
    }

    @Test
    void recordsWithoutACommonTableCannotBeCompared() throws IOException {
        Files.writeString(
                folder.resolve("v.brief"),
                "input s from 'sales.csv' table v from s per site give x = sum(amount) table w from s per site give x = sum(amount)");
        assertThat(fiesta("run", path("t.brief"), "--as", "csv", "--out", path("one")))
                .isZero();
        assertThat(fiesta("run", path("v.brief"), "--as", "csv", "--out", path("two")))
                .isZero();
        assertThat(refused("compare @/one @/two")).isEqualTo("No table stands on both sides: u there, v, w here.");
        assertThat(fiesta("run", path("v.brief"), "--as", "csv", "--out", path("bare"), "--no-kept-tables"))
                .isZero();
        assertThat(refused("compare @/bare @/two"))
                .startsWith("The record keeps no tables; it was written without them.");
    }
}
