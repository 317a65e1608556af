package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.problem.FiestaException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Objects;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Mistakes that analysts make, each with the message it gets, all of them read by somebody. In {@code mistakes.txt} clauses stand
 * behind {@code ==} and briefs behind {@code ===}, the message below. What comes out now is written to {@code target/mistakes.txt}.
 */
class MistakesTest {
    private static final String CLAUSES = "== ";
    private static final String BRIEF = "=== ";
    private static final Path SOURCES = Path.of("src/main/java/dev/fiesta");
    private static final String SALES = """
            sold,day,site,item,status,quantity,amount,opened,note
            2026-05-01T10:15,2026-05-01,Quay,tea,settled,1,3.50,01.05.2026,
            2026-05-02T11:30,2026-05-02,Meadow,tart,refunded,2,4.20,13.05.2026,late
            2026-05-02T12:00,2026-05-02,Quay,tea,settled,4,3.50,02.05.2026,
            """;

    @TempDir
    Path folder;

    private static String told() throws IOException {
        try (InputStream in = MistakesTest.class.getResourceAsStream("mistakes.txt")) {
            return new String(Objects.requireNonNull(in).readAllBytes(), StandardCharsets.UTF_8);
        }
    }

    private static String message(String mistake, ThrowingCallable use) {
        FiestaException told = catchThrowableOfType(FiestaException.class, use);
        assertThat(told).as("no mistake any more: " + mistake).isNotNull();
        return told.getMessage();
    }

    @Test
    void eachHasItsMessage() throws IOException {
        String all = told();
        Files.writeString(folder.resolve("sales.csv"), SALES);
        List<String> mistakes = new ArrayList<>();
        StringBuilder now = new StringBuilder();
        try (Fiesta fiesta = Fiesta.with().threads(1).open()) {
            Table table = fiesta.read(folder.resolve("sales.csv"));
            for (String line : all.lines().filter(l -> l.startsWith("==")).toList()) {
                mistakes.add(line);
                String message = line.startsWith(BRIEF)
                        ? message(
                                line,
                                () -> Brief.of("brief", line.substring(BRIEF.length()), folder)
                                        .run(fiesta))
                        : message(
                                line,
                                () -> table.then(line.substring(CLAUSES.length()))
                                        .run());
                now.append(line)
                        .append('\n')
                        .append(message.replace(folder + "/", ""))
                        .append('\n');
            }
        }
        Files.writeString(Path.of("target", "mistakes.txt"), now);
        assertThat(mistakes).hasSizeGreaterThanOrEqualTo(290).doesNotHaveDuplicates();
        assertThat(now.toString()).isEqualTo(all);
    }

    /** What no text of some length, and nothing but a program, can be wrong in. */
    private String further() {
        BriefText condition = new BriefText("condition", "1 = 1 per");
        Table table = Fiesta.open().rows(new dev.fiesta.value.Schema(List.of()), java.util.stream.Stream::of);
        return String.join(
                "\n",
                message("too much", () -> Parser.expression(condition)),
                message("long", () -> table.then("only " + String.join(" + ", Collections.nCopies(1002, "1")))),
                message("deep", () -> table.then("only " + "(".repeat(300) + "1")),
                message(
                        "no such parameter",
                        () -> Brief.of("table t from t").set("nowhere", 1).tables(Fiesta.open())));
    }

    @Test
    void noMessageOfTheLanguageIsMissing() throws IOException {
        String shown = told() + further();
        List<SaidMessages.Said> said = SaidMessages.in(
                SOURCES.resolve("language"),
                SOURCES.resolve("plan"),
                SOURCES.resolve("compute"),
                SOURCES.resolve("gather"),
                SOURCES.resolve("walk"));
        assertThat(said).hasSizeGreaterThan(190);
        assertThat(said.stream().filter(s -> !s.pattern().matcher(shown).find()))
                .as("messages that no mistake of mistakes.txt gets")
                .isEmpty();
    }
}
