package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;

import dev.fiesta.editing.UnfinishedBrief;
import dev.fiesta.language.BriefText;
import dev.fiesta.output.OutputFile;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is told of what a program, a file or a folder has wrong: of each sort of failure its sentence, to the letter. */
class FailuresToldTest {
    @TempDir
    Path folder;

    private Fiesta fiesta;

    @BeforeEach
    void open() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), "site,day,amount\nQuay,2026-05-01,10\nMeadow,2026-06-01,20\n");
        fiesta = Fiesta.with().threads(1).open();
    }

    @AfterEach
    void close() {
        fiesta.close();
    }

    private void says(Class<? extends FiestaException> sort, String message, ThrowingCallable wrong) {
        Throwable told = catchThrowable(wrong);
        assertThat(told).as(message).isNotNull().isInstanceOf(sort);
        assertThat(told.getMessage().replace(folder + "/", "")).isEqualTo(message);
    }

    private void says(String message, ThrowingCallable wrong) {
        says(RequestException.class, message, wrong);
    }

    private Table sales() {
        return fiesta.read(folder.resolve("sales.csv"));
    }

    private Map<String, Result> run(String brief) {
        return fiesta.brief("t", brief, folder).run(fiesta);
    }

    record Pair(String site, long amount) {}

    record Odd(String site, long amount) {
        Odd {
            if (amount > 10) {
                throw new IllegalStateException("too dear");
            }
        }
    }

    @Test
    void whatAProgramAsks() {
        says("memory: 0 bytes, at least 1 is needed", () -> Fiesta.with().memory(0));
        says("threads: 0, at least 1 is needed", () -> Fiesta.with().threads(0));
        says("threads: 1025, at most 1024 are possible", () -> Fiesta.with().threads(1025));
        says("a file is needed, and the list has none", () -> fiesta.read(List.of()));
        says("a pattern is needed, and the list has none", () -> fiesta.readAll(List.of(), ""));
        says(
                "Only options of an input can be told here, not 'table t from records'.",
                () -> fiesta.read(List.of(folder.resolve("sales.csv")), "table t from records"));
        says("only: a text is needed, not null", () -> sales().only(null));
        says("sort: a text is needed, not null", () -> sales().sort((String[]) null));
        says("a table without clauses has no steps", () -> sales().steps(3));
        says(
                "there is no row 2; 'records' has 2, from 0 on",
                () -> sales().run().row(2));
        says(
                "'two words' can be no name of a function: one letter, then letters, digits and '_'",
                () -> Fiesta.with().define("two words", Long.class, Type.INTEGER, n -> n));
        says(
                "the supplier of rows gave null, not a stream",
                () -> fiesta.rows(new Schema(List.of(new Field("n", Type.INTEGER))), () -> (Stream<Object[]>) null)
                        .run());
        says("'nowhere' is no folder that can be read", () -> Fiesta.with().mayRead(Path.of("nowhere")));
        says("'sales.csv' is no folder", () -> Fiesta.with().mayRead(folder.resolve("sales.csv")));
        says("'/' is a folder; a file is needed to write to", () -> OutputFile.write(Path.of("/"), out -> {}));
    }

    @Test
    @SuppressWarnings({"unchecked", "rawtypes"})
    void classesOfRecords() {
        says(
                "java.lang.String is no record class, so its fields have no names",
                () -> fiesta.records((Class) String.class, List.of()).run());
        says(
                "java.lang.String is no record class, so its fields have no names",
                () -> sales().run().as((Class) String.class));
        says(
                Odd.class.getName() + " refuses row 1: java.lang.IllegalStateException: too dear",
                () -> sales().run().as(Odd.class));
        assertThat(sales().run().as(Pair.class)).containsExactly(new Pair("Quay", 10), new Pair("Meadow", 20));
    }

    @Test
    void filesAndPaths() throws IOException {
        Files.createDirectory(folder.resolve("may"));
        Files.writeString(folder.resolve("empty.csv"), "");
        Files.writeString(folder.resolve("plain.csv.gz"), "site\nQuay\n");
        Files.write(folder.resolve("western.brief"), "# Église\n".getBytes(StandardCharsets.ISO_8859_1));
        Files.writeString(folder.resolve("long.csv"), "x".repeat((16 << 20) + 2));
        says(
                DataException.class,
                "empty.csv is empty: it has no header.",
                () -> run("input s from 'empty.csv' table t from s"));
        says(
                DataException.class,
                "'may' is a folder, not a file. Write 'may/*.csv' for the files in it.",
                () -> run("input s from 'may' table t from s"));
        says(
                DataException.class,
                "'plain.csv.gz' is named like a packed file, but is not packed, or its first bytes are damaged. "
                        + "If it is plain text, rename it without the ending.",
                () -> run("input s from 'plain.csv.gz' table t from s"));
        says(
                DataException.class,
                "long.csv: the first line is longer than 16 MiB.",
                () -> run("input s from 'long.csv' table t from s"));
        says("There is no brief 'none.brief'.", () -> Brief.read(folder.resolve("none.brief")));
        says(MachineException.class, "'western.brief' is not UTF-8", () -> Brief.read(folder.resolve("western.brief")));
        says(
                DataException.class,
                "'a\0b' cannot be a path: Nul character not allowed.",
                () -> fiesta.readAll("a\0b").run());
    }

    @Test
    void linesThatCannotBeRead() throws IOException {
        Files.writeString(folder.resolve("open.csv"), "site,amount\nQuay,1\n\"Meadow,2\n");
        says(
                DataException.class,
                "open.csv, line 3: a quote is opened here and never closed.\n"
                        + "  Close it, or add another quote to the input, such as quote '~', if quotes are just signs.",
                () -> run("input s from 'open.csv' table t from s"));
    }

    @Test
    void whatBriefsAskOfTheirData() throws IOException {
        says(
                DataException.class,
                "'against' makes two columns named 'Total'. Rename one of the keys or values.",
                () -> sales().then("per day, Total = amount against site give s = sum(amount) totals")
                        .run());
        Files.writeString(folder.resolve("far.csv"), "day,n\n0001-01-01,1\n9999-12-31,2\n");
        says(
                DataException.class,
                "'gapless' would make 5,258,963,520 rows, more than 50,000,000. Limit it with 'from … to …', or take a longer step.",
                () -> fiesta.read(folder.resolve("far.csv"))
                        .then("add t = datetime(day) per t give s = sum(n) gapless t every 1 minute")
                        .run());
        says(
                "No input has a field 'size' whose values could be taken; name them.",
                () -> fiesta.brief(
                                "t",
                                "parameter size integer = 3 input s from 'sales.csv' table t from s only amount > :size",
                                folder)
                        .valuesOf("size", fiesta));
        Brief optional = fiesta.brief(
                "t",
                "parameter a integer optional parameter b integer = :a + 1 input s from 'sales.csv' table t from s",
                folder);
        Throwable told = catchThrowable(() -> optional.run(fiesta));
        assertThat(told).hasMessageContaining("The parameter 'b' has no value: what it is worked out from is missing.");
        told = catchThrowable(() -> run("input s from 'sales.csv' fields amount integer 'dd.MM' table t from s"));
        assertThat(told).hasMessageContaining("Only dates and datetimes have a pattern, 'amount' is an integer.");
        Files.write(folder.resolve("q.sql"), new byte[] {(byte) 0xC9});
        told = catchThrowable(() -> run("input s from database 'shop' query from 'q.sql' table t from s"));
        assertThat(told)
                .hasMessageContaining("'q.sql' cannot be read.")
                .hasMessageContaining("A query is plain UTF-8 text.");
    }

    @Test
    void movesOfFigures() throws IOException {
        Files.writeString(
                folder.resolve("parts.csv"),
                "site,day,amount,n\nQuay,2026-05-01,10,0\nMeadow,2026-05-01,1,0\nQuay,2026-06-01,20,2\n");
        String brief = "input s from 'parts.csv'\n"
                + "table rates from s per site, day give rate = sum(amount) / sum(n)\n"
                + "table days from s per day give total = sum(amount)\n"
                + "table hidden from s per day, site = length(site) give total = sum(amount) hide total where total < 5";
        Trace trace = fiesta.brief("t", brief, folder).tables(fiesta).trace();
        says(
                "'rate' of 'rates' divides by nothing on one side, so there is no move to be told.",
                () -> Moved.within(trace.side("rates", "rate"), "day", "2026-05-01", "2026-06-01"));
        says(
                "'days' has no key but 'day', so there are no parts to be told.",
                () -> Moved.within(trace.side("days", "total"), "day", "2026-05-01", "2026-06-01"));
        says(
                "Some of 'total' of 'hidden' is hidden, so its parts are not told.",
                () -> Moved.within(trace.side("hidden", "total"), "day", "2026-05-01", "2026-06-01"));
    }

    @Test
    void otherNames() {
        String text = "input sales from 'sales.csv'\ntable t from sales\n  add net = amount * 2\n  only net > 3\n";
        UnfinishedBrief brief = UnfinishedBrief.of(new BriefText("t.brief", text), UnfinishedBrief.Around.NOTHING);
        says("Here stands no field, table or parameter.", () -> brief.renamed(0, "x"));
        says("' ' is no name.", () -> brief.renamed(text.indexOf("net"), " "));
        says("The brief names something 't' already.", () -> brief.renamed(text.indexOf("sales"), "t"));
    }
}
