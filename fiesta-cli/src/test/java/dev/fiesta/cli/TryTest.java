package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import java.io.ByteArrayInputStream;
import java.io.IOError;
import java.io.IOException;
import java.io.InputStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.jline.reader.EndOfFileException;
import org.jline.reader.UserInterruptException;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A session, clause by clause: what each leaves, back and forward, what is wrong, what is saved; and in a real terminal. */
class TryTest {
    @TempDir
    private Path folder;

    private final StringWriter out = new StringWriter();

    @BeforeEach
    void data() throws IOException {
        StringBuilder sales = new StringBuilder("site,stall,status,amount\n");
        for (int i = 0; i < 600; i++) {
            sales.append(i % 3 == 0 ? "Quay" : "Meadow")
                    .append(",s")
                    .append(i % 7)
                    .append(i % 10 == 0 ? ",voided," : ",settled,")
                    .append(i)
                    .append(".50\n");
        }
        Files.writeString(folder.resolve("sales.csv"), sales);
    }

    private int session(String... lines) {
        InputStream before = System.in;
        System.setIn(new ByteArrayInputStream((String.join("\n", lines) + "\n").getBytes(StandardCharsets.UTF_8)));
        try {
            StringWriter err = new StringWriter();
            return Main.run(
                    new PrintWriter(out, true),
                    new PrintWriter(err, true),
                    "try",
                    folder.resolve("sales.csv").toString(),
                    "--quiet");
        } finally {
            System.setIn(before);
        }
    }

    private String saved() {
        return folder.resolve("saved.brief").toString();
    }

    @Test
    void aWholeReportIsMadeFromNothing() throws IOException {
        assertThat(session(
                        "# what was sold",
                        "only status = 'settled'",
                        "per site, stall",
                        "give sales = count(),",
                        "  takings = sum(amount)",
                        "only sales >= 20",
                        "table stalls",
                        "per site give stalls = count(), best = max(takings)",
                        "sort best desc",
                        "save " + saved()))
                .isZero();
        assertThat(out.toString())
                .contains("540 of 600 records")
                .contains("14 groups of site, stall")
                .contains("What stood is the table stalls; clauses go on from it.")
                .contains("2 groups of site; new: stalls, best")
                .contains("Written: ");
        String brief = Files.readString(Path.of(saved()));
        assertThat(brief).contains("# 2 rows when this was written\ntable result from stalls");
        try (Fiesta fiesta = Fiesta.open()) {
            var result = Brief.read(Path.of(saved())).run(fiesta).get("result");
            assertThat(result.texts("site")).containsExactly("Meadow", "Quay");
            String shown = out.toString();
            String last = shown.substring(shown.lastIndexOf("2 groups of site"));
            for (var row : result) {
                assertThat(last)
                        .containsPattern(row.text("site") + " +" + row.integer("stalls") + " +[\\d,]*"
                                + String.format("%,.2f", row.decimal("best")));
            }
        }
    }

    @Test
    void stepsAreTakenAwayAndBroughtBack() {
        session(
                "only amount > 100",
                "per site give n = count()",
                "back",
                "back",
                "back",
                "forward",
                "forward",
                "forward",
                "brief");
        assertThat(out.toString())
                .containsSubsequence(
                        "500 of 600 records",
                        "2 groups of site",
                        "500 of 600 records",
                        "600 records, 4 fields",
                        "There is no step to take away.",
                        "500 of 600 records",
                        "2 groups of site",
                        "There is no step to bring back.",
                        "table result from sales",
                        "only   amount > 100");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "only amuont > 5 | Did you mean 'amount'?",
                "onyl amount > 5 | Did you mean 'only'?",
                "table | Nothing stands yet that could have a name",
                "table x | Nothing stands yet that could have a name",
                "behind 1 | The rows that stand are records themselves.",
                "behind x | A number of rows is needed, not 'x'.",
                "save | A file is needed: save takings.brief",
                "save x.brief | Nothing stands yet that could be saved: first a clause.",
                "give n = count() | 'give'",
                "chart bars x stall y sales | What stands has no field 'sales'.",
                "chart bras x stall y amount | There is no chart 'bras'. Did you mean 'bars'?",
                "chart boxes x site y amount | In a terminal bars, columns, lines, areas and points are drawn",
                "chart bars x site y stall | holds no numbers",
                "input stalls from 'none.csv' | There is no file 'none.csv'",
            })
    void whatIsWrongLeavesAllAsItWas(String line, String told) {
        assertThat(session(line, "only amount > 100")).isEqualTo(2);
        assertThat(out.toString()).contains(told).contains("500 of 600 records");
    }

    @Test
    void whatIsCountedOnTheWayIsToldOnce() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), "site,amount\nQuay,1.50\nQuay,n/a\nMeadow,\nMeadow,2\n");
        session("add v = try_decimal(amount, 2)", "only v > 0", "per site", "give t = sum(v)");
        String told = out.toString();
        String first =
                "Note: try_decimal(amount, 2): 1 of 3 values could not be converted and became missing, such as 'n/a'";
        assertThat(told).containsOnlyOnce(first);
        assertThat(told)
                .containsOnlyOnce(
                        "Note: only v > 0: 2 of 4 rows were dropped because the condition was missing, not false.");
    }

    @Test
    void namesAreOneWord() {
        assertThat(session("first 3", "table two words", "table so_far", "table three", "brief"))
                .isEqualTo(2);
        assertThat(out.toString())
                .contains("'two words' is no name for a table: write table NAME, one word.")
                .contains("'so_far' is no name")
                .contains("table three from sales");
    }

    @Test
    void recordsStandBehindARow() {
        session("per site give n = count(), most = max(amount) sort site", "behind 2", "show 1", "behind 3");
        assertThat(out.toString())
                .contains("Quay")
                .contains("Rows 1 to 40 of 200.")
                .contains("There are only 2 rows.");
    }

    @Test
    void whatIsThereIsNotWrittenOver() throws IOException {
        Files.writeString(Path.of(saved()), "mine");
        assertThat(session("first 3", "save " + saved())).isEqualTo(2);
        assertThat(out.toString()).contains("is there already; save under another name.");
        assertThat(Files.readString(Path.of(saved()))).isEqualTo("mine");
    }

    @Test
    void whatStandsIsDrawn() {
        session(
                "per site give takings = sum(amount), part = sum(amount) - 100000 sort site",
                "chart bars x site y takings",
                "chart columns x site y part",
                "back",
                "only amount < 4 add day = date('2026-05-0' || text(integer(floor(amount) + 1)))",
                "chart lines x day y amount by site");
        assertThat(out.toString())
                .contains("Meadow  120,200.00  " + "█".repeat(80) + "\n")
                .contains("Quay     59,800.00  " + "█".repeat(39))
                .contains("Quay    -40,200.00  " + "█".repeat(53) + "\n")
                .contains("Meadow   20,200.00  " + " ".repeat(53) + "█".repeat(26))
                .contains("● Quay   ○ Meadow")
                .containsPattern("3.50 │ [ ·]{60,}●")
                .containsPattern("0.50 │ ●")
                .containsPattern("2026-05-01 {20,}2026-05-04");
    }

    @Test
    void labelsOfChartsStayInTheirLine() throws IOException {
        Files.writeString(folder.resolve("sales.csv"), "site,amount\n\"No\u001brth\nQuay\",5\nMeadow,-3\n");
        session("per site give t = sum(amount)", "chart bars x site y t");
        assertThat(out.toString()).containsPattern("(?m)^No.rth Quay +5 +█").doesNotContain("\u001b");
    }

    @Test
    void whatMayStandIsKnownBeforeALineIsTaken() throws IOException {
        try (Fiesta fiesta = Fiesta.open()) {
            Session session = new Session(fiesta, folder, "sales", "input sales from 'sales.csv'", false);
            session.knows(
                    "sales",
                    dev.fiesta.editing.KnownInput.of(
                            fiesta.read(folder.resolve("sales.csv")).survey()));
            assertThat(labels(session, "only am")).first().isEqualTo("amount");
            assertThat(labels(session, "only site = ")).contains("'Meadow'", "'Quay'");
            session.take("per site give total = sum(amount)");
            assertThat(labels(session, "only to")).first().isEqualTo("total");
            assertThat(labels(session, "sor")).containsExactly("sort");
        }
    }

    private static List<String> labels(Session session, String line) {
        return session.candidates(line).stream()
                .map(dev.fiesta.editing.Candidate::label)
                .toList();
    }

    @Test
    void parametersAndFurtherInputsAreTakenToo() throws IOException {
        Files.writeString(folder.resolve("stalls.csv"), "stall,kind\ns1,tea\ns2,tart\n");
        session(
                "parameter least decimal(2) = 590",
                "input stalls from '" + folder.resolve("stalls.csv") + "'",
                "only amount > :least",
                "match stalls on stall bring kind matched only",
                "help match",
                "all",
                "quit",
                "only nothing");
        assertThat(out.toString())
                .contains("10 of 600 records")
                .contains("new: kind")
                .contains("Looks")
                .contains("All records are worked on already.")
                .doesNotContain("nothing");
    }

    @Test
    void inATerminalItCompletesStopsRemembersAndGivesItBack() throws IOException, InterruptedException {
        assumeTrue(new ProcessBuilder("sh", "-c", "command -v tmux").start().waitFor() == 0, "no tmux on this machine");
        String java = Path.of(System.getProperty("java.home"), "bin", "java").toString();
        String command = java + " -Dfiesta.terminal=out,err,in -cp '" + System.getProperty("java.class.path")
                + "' dev.fiesta.cli.Main try sales.csv";
        Files.writeString(
                folder.resolve("go"),
                "cd '" + folder + "'\nexport XDG_STATE_HOME='" + folder + "/state'\nexec " + command + "\n");
        try {
            tmux("new-session", "-d", "-x", "100", "-y", "40", "sh");
            tmux("send-keys", "PS1='here: '; set -m; clear; sh " + folder.resolve("go"), "Enter");
            until("Ctrl-D ends.");
            tmux("send-keys", "onl", "Tab");
            until("> only");
            tmux("send-keys", "amount > 100", "Enter");
            until("500 of 600 records");
            tmux("send-keys", "per sit", "Tab", "give n = count(),", "Enter");
            tmux("send-keys", "most = max(amount)", "Enter");
            until("2 groups of site; new: n, most");
            untilItWaits();
            tmux("send-keys", "not finished", "C-c");
            tmux("send-keys", "Up", "Enter");
            tmux("send-keys", "back", "Enter");
            tmux("send-keys", "brief", "Enter");
            until("table result from sales");
            untilItWaits();
            tmux("send-keys", "C-d");
            until("here:");
            tmux("send-keys", "stty -a | head -1; stty -a | grep -o ' icanon'", "Enter");
            until("rows 40; columns 100");
            until("\n icanon");
            tmux("send-keys", "clear; sh " + folder.resolve("go"), "Enter");
            until("Ctrl-D ends.");
            tmux("send-keys", "only site = ", "Tab");
            until("'Meadow'");
            tmux("send-keys", "C-c");
            untilItWaits();
            tmux("send-keys", "Up", "Up", "Up", "Up", "Enter");
            until("2 groups of site; new: n, most");
            tmux("resize-window", "-x", "60", "-y", "30");
            tmux("set-buffer", "only n > 100\nadd part = share(most within all)\n\nsort most desc\n");
            tmux("paste-buffer", "-p");
            tmux("send-keys", "Enter");
            until("sort most desc");
            tmux("send-keys", "brief", "Enter");
            until("add    part = share(most within all)");
        } finally {
            tmux("kill-server");
        }
    }

    /** Ctrl-C reaches whatever runs in the terminal, so also what is about to set it. */
    @Test
    void anInterruptThatMeetsTheSettingOfTheTerminalEndsNothing() {
        Iterator<RuntimeException> before = List.<RuntimeException>of(
                        new UserInterruptException("onl"), new UserInterruptException(""))
                .iterator();
        AtomicInteger asked = new AtomicInteger();
        assertThat(TryCommand.typed(() -> {
                    if (asked.incrementAndGet() < 4) {
                        throw new IOError(new IOException("Cannot run program: signal 2"));
                    }
                    if (before.hasNext()) {
                        throw before.next();
                    }
                    return "only amount > 1";
                }))
                .isEqualTo("only amount > 1");
        assertThat(asked).hasValue(6);
        assertThat(TryCommand.typed(() -> {
                    throw new EndOfFileException();
                }))
                .isNull();
        asked.set(0);
        assertThatThrownBy(() -> TryCommand.typed(() -> {
                    asked.incrementAndGet();
                    throw new IOError(new IOException("no terminal any more"));
                }))
                .isInstanceOf(IOError.class);
        assertThat(asked).as("it is not tried for ever").hasValue(5);
    }

    private String tmux(String... words) throws IOException, InterruptedException {
        List<String> command =
                new ArrayList<>(List.of("tmux", "-S", folder.resolve("t").toString()));
        command.addAll(List.of(words));
        Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor(60, TimeUnit.SECONDS)).isTrue();
        return said;
    }

    /** An empty line is asked for. */
    private void untilItWaits() throws IOException, InterruptedException {
        String seen = "";
        for (int i = 0; i < 300; i++) {
            seen = tmux("capture-pane", "-p").stripTrailing();
            if (seen.endsWith("\n>")) {
                return;
            }
            Thread.sleep(200);
        }
        throw new AssertionError("no line is asked for:\n" + seen);
    }

    private void until(String wanted) throws IOException, InterruptedException {
        String seen = "";
        for (int i = 0; i < 300; i++) {
            seen = tmux("capture-pane", "-p");
            if (seen.contains(wanted)) {
                return;
            }
            Thread.sleep(200);
        }
        throw new AssertionError("'" + wanted + "' never came:\n" + seen);
    }
}
