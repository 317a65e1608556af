package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.fiesta.problem.FiestaException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Mistakes that analysts make, each with the message it gets, all of them read by somebody. Those of {@code mistakes.txt} stand behind
 * {@code ==}, the message below. What comes out now is written to {@code target/mistakes.txt}.
 */
class MistakesTest {
    private static final String MARK = "== ";
    private static final String SALES = """
            sold,day,site,item,status,quantity,amount,opened,note
            2026-05-01T10:15,2026-05-01,Quay,tea,settled,1,3.50,01.05.2026,
            2026-05-02T11:30,2026-05-02,Meadow,tart,refunded,2,4.20,13.05.2026,late
            2026-05-02T12:00,2026-05-02,Quay,tea,settled,4,3.50,02.05.2026,
            """;

    @TempDir
    Path folder;

    @Test
    void eachHasItsMessage() throws IOException {
        String all;
        try (InputStream in = MistakesTest.class.getResourceAsStream("mistakes.txt")) {
            all = new String(Objects.requireNonNull(in).readAllBytes(), StandardCharsets.UTF_8);
        }
        Path sales = folder.resolve("sales.csv");
        Files.writeString(sales, SALES);
        List<String> mistakes = new ArrayList<>();
        StringBuilder now = new StringBuilder();
        try (Fiesta fiesta = Fiesta.with().threads(1).open()) {
            Table table = fiesta.read(sales);
            for (String line : all.lines().toList()) {
                if (line.startsWith(MARK)) {
                    String clauses = line.substring(MARK.length());
                    mistakes.add(clauses);
                    FiestaException told = catchThrowableOfType(
                            FiestaException.class, () -> table.then(clauses).run());
                    assertThat(told).as("no mistake any more: " + clauses).isNotNull();
                    now.append(line)
                            .append('\n')
                            .append(told.getMessage().replace(folder + "/", ""))
                            .append('\n');
                }
            }
        }
        Files.writeString(Path.of("target", "mistakes.txt"), now);
        assertThat(mistakes).hasSizeGreaterThanOrEqualTo(120).doesNotHaveDuplicates();
        assertThat(now.toString()).isEqualTo(all);
    }
}
