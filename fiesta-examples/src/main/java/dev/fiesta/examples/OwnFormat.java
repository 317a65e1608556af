package dev.fiesta.examples;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.source.InputFormat;
import dev.fiesta.source.RecordFormat;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;

/**
 * Records in a form that Fiesta does not know: the wardens' book, a block of lines for each visit to a stall. Run it with
 * {@code mvn -q -pl fiesta-examples exec:java -Dexec.mainClass=dev.fiesta.examples.OwnFormat}.
 */
public final class OwnFormat {
    /** Blocks of {@code name: value}, with an empty line behind each; {@code as book}, or files that end in {@code .book}. */
    static final InputFormat BOOK =
            InputFormat.records("book", List.of(".book"), Set.of(), (file, inside, to) -> read(file.path(), to));

    private OwnFormat() {}

    private static void read(Path book, RecordFormat.Records to) throws IOException {
        try (BufferedReader lines = Files.newBufferedReader(book)) {
            long number = 0;
            boolean open = false;
            for (String line = lines.readLine(); line != null; line = lines.readLine()) {
                int colon = line.indexOf(':');
                if (colon > 0) {
                    to.cell(
                            line.substring(0, colon).strip(),
                            line.substring(colon + 1).strip());
                    open = true;
                } else if (open) {
                    to.end(++number);
                    open = false;
                }
            }
            if (open) {
                to.end(++number);
            }
        }
    }

    public static void main(String[] args) {
        run(System.out);
    }

    /** The visits of each warden, with the worst mark that they gave. */
    public static Result run(PrintStream out) {
        try (Fiesta fiesta = Fiesta.with().reads(BOOK).open()) {
            Path book = Files.createTempFile("wardens", ".book");
            Files.writeString(book, """
                    warden: Old Town
                    stall: 013
                    day: 2026-05-02
                    mark: 4

                    warden: Quay
                    stall: 001
                    day: 2026-05-02
                    mark: 2
                    note: awning torn

                    warden: Quay
                    stall: 007
                    day: 2026-05-03
                    mark: 5
                    """);
            Result result = fiesta.read(book)
                    .per("warden")
                    .give("visits = count()", "worst = min(mark)", "at = at_min(stall, mark)")
                    .sort("warden")
                    .run();
            result.forEach(row -> out.println(row.get("warden") + ": " + row.get("visits") + " visits, "
                    + row.get("worst") + " at " + row.get("at")));
            Files.delete(book);
            return result;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
