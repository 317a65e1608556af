package dev.fiesta.cli.options;

import dev.fiesta.FiestaBuilder;
import dev.fiesta.copy.Copies;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Texts;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.function.Consumer;
import picocli.CommandLine.Option;

/** Options of commands that may read inputs from copies. */
public final class Copying extends Common {
    private static final long MOST = 10L << 30;

    @Option(
            names = "--copies",
            description = "Keep copies of the inputs, and read these as long as the files are what they were.")
    private boolean copies;

    @Override
    void configure(FiestaBuilder builder, PrintWriter err) {
        super.configure(builder, err);
        if (copies) {
            builder.copies(ofUser(sentence -> {
                endProgress();
                if (!quiet) {
                    err.println(Texts.printable("Note: " + sentence));
                    err.flush();
                }
            }));
        }
    }

    /** The copies in the user's folder for what can be made again. */
    public static Copies ofUser(Consumer<String> told) {
        String cache = System.getProperty("fiesta.cache", System.getenv().getOrDefault("XDG_CACHE_HOME", ""));
        String home = System.getProperty("user.home", "");
        boolean named = Path.of(cache).isAbsolute(); // relative ones mean nothing, says the standard of these folders
        if (!named && !Path.of(home).isAbsolute()) {
            throw new RequestException("There is no folder for copies: set XDG_CACHE_HOME to one.");
        }
        Path folder = (named ? Path.of(cache) : Path.of(home, ".cache")).resolve("fiesta");
        return Copies.in(folder, MOST, told);
    }
}
