package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Commands with a crew that they need not ask, or that is not there. */
class CrewTest extends CommandTest {
    @BeforeEach
    void write() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), "site,amount\nQuay,3.10\nMeadow,8.40\nQuay,1.00\n");
        Files.writeString(
                folder.resolve("t.brief"), "input s from 'sales.csv'\ntable t from s per site give x = sum(amount)");
        Files.writeString(folder.resolve("usual.conf"), "members 127.0.0.1:19\nfolder shared\n");
        Files.writeString(folder.resolve("always.conf"), "members 127.0.0.1:19\nfolder shared\nalone-below 0\n");
    }

    @Test
    void aSmallInputIsReadAlone() {
        assertThat(fiesta("run", path("t.brief"), "--as", "csv", "--crew", path("usual.conf")))
                .isZero();
        assertThat(out).hasToString("site,x\nMeadow,8.40\nQuay,4.10\n");
        assertThat(err)
                .hasToString(
                        "Note: read on this machine alone: no input is so large that others would help, or only its "
                                + "first records are wanted.\n");
        assertThat(fiesta("run", path("t.brief"), "--as", "csv", "--quiet", "--crew", path("usual.conf")))
                .isZero();
        assertThat(err).asString().isEmpty();
        assertThat(fiesta("run", path("t.brief"), "--as", "csv", "--out", path("out"), "--crew", path("usual.conf")))
                .isZero();
        assertThat(fiesta("repeat", path("out"), "--crew", path("usual.conf"))).isZero();
        assertThat(out).asString().startsWith("Repeated: 1 table came out equal");
        assertThat(fiesta("ask", path("sales.csv"), "only amount > 4", "--as", "csv", "--crew", path("usual.conf")))
                .isZero();
        assertThat(out).hasToString("site,amount\nMeadow,8.40\n");
    }

    @Test
    void aPlanTellsWhatMembersWouldRead() throws IOException {
        Files.writeString(
                folder.resolve("two.brief"),
                "input s from 'sales.csv'\ninput z from 'sales.csv.gz'\ninput n from 'none.csv' fields amount decimal(2)\n"
                        + "table t from s match each z on site bring amount as y match n on site bring amount as x");
        Files.writeString(folder.resolve("none.csv"), "site,amount\n");
        try (OutputStream packed = new GZIPOutputStream(Files.newOutputStream(folder.resolve("sales.csv.gz")))) {
            Files.copy(folder.resolve("sales.csv"), packed);
        }
        assertThat(fiesta("plan", path("two.brief"), "--crew", path("always.conf")))
                .isZero();
        assertThat(out)
                .asString()
                .contains(
                        "  fields read: site text, amount decimal(2)\n  read by members of the crew, in 1 part: what is "
                                + "done while reading, they do\n\nread z")
                .contains(
                        "read z: sales.csv.gz\n  fields read: site text, amount decimal(2)\n  read by members of the crew")
                .contains("  fields read: site empty, amount decimal(2)\n  read on this machine alone\n\ntable t");
        assertThat(fiesta("plan", path("two.brief"), "--crew", path("usual.conf")))
                .isZero();
        assertThat(out).asString().doesNotContain("members");
        Files.writeString(
                folder.resolve("f.brief"), "input s from 'sales.csv'\ntable t from s only amount > 1 first 2");
        assertThat(fiesta("plan", path("f.brief"), "--crew", path("always.conf")))
                .isZero();
        assertThat(out.toString().replaceAll("\\s+", " "))
                .contains("read on this machine until there are enough first records; what is left, read by members of "
                        + "the crew, in 1 part:");
        assertThat(fiesta("plan", path("two.brief"))).isZero();
        assertThat(out).asString().doesNotContain("machine");
    }

    @Test
    void aPlanTellsWhatMembersGoOnWith() throws IOException {
        Files.writeString(folder.resolve("ranks.brief"), """
                input s from 'sales.csv'
                table t from s
                  add   r = rank(within site along amount)
                  only  r <= 1000
                  sort  amount
                table u from s
                  sort  amount desc
                  only  amount > 2
                  add   n = row_number(along amount)
                """);
        assertThat(fiesta("plan", path("ranks.brief"), "--crew", path("always.conf")))
                .isZero();
        assertThat(out)
                .asString()
                .containsSubsequence(
                        "3  add r = rank(",
                        "by members, in parts of equal keys",
                        "4  only r <= 1000",
                        "by members, in parts of equal keys",
                        "5  sort amount",
                        "sort, over all rows",
                        "7  sort amount desc",
                        "sort, by members, range by range",
                        "8  only amount > 2",
                        "by members, range by range",
                        "9  add n =",
                        "over all rows");
        assertThat(fiesta("plan", path("ranks.brief"))).isZero();
        assertThat(out).asString().doesNotContain("members");
    }

    @Test
    void membersWhoAreNotThereAreMissed() {
        assertThat(fiesta("run", path("t.brief"), "--as", "csv", "--crew", path("always.conf")))
                .isEqualTo(4);
        assertThat(out).asString().isEmpty();
        assertThat(err).asString().contains("No member of the crew answers at 127.0.0.1:19.");
    }

    @Test
    void aMemberIsToldOfItsCrew() {
        assertThat(fiesta("member")).isEqualTo(2);
        assertThat(err).hasToString("--crew FILE is missing. See: fiesta help member\n");
        assertThat(fiesta("member", "--crew")).isEqualTo(2);
        assertThat(err).hasToString("After --crew a value is expected: --crew FILE. See: fiesta help member\n");
    }
}
