package dev.fiesta.cli.options;

import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.formats.JdbcDatabases;
import dev.fiesta.formats.JsonDocuments;
import dev.fiesta.formats.JsonLines;
import dev.fiesta.formats.OpenSheets;
import dev.fiesta.formats.Workbooks;
import dev.fiesta.parquet.ParquetFiles;
import dev.fiesta.source.InputFormat;
import java.io.PrintWriter;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** Options of all commands that look at briefs or data. */
public class Speaking {
    @Option(names = "--quiet", description = "Tell problems only.")
    public boolean quiet;

    @Option(
            names = {"--colour", "--color"},
            paramLabel = "WHEN",
            description = "auto, always or never (default: auto).")
    public Window.Colour colour = Window.Colour.AUTO;

    private @Nullable ProgressLine line;

    /** @param err where progress is told, when it is a terminal */
    public Fiesta open(PrintWriter err) {
        return settings(err).open();
    }

    /** As {@link #open(PrintWriter)}, with a crew, where there is one. */
    public Fiesta open(PrintWriter err, Crewing.Joined crew) {
        FiestaBuilder settings = settings(err);
        crew.to(settings);
        return settings.open();
    }

    /** What is read besides delimited text, by members of a crew as by whoever asks them. */
    public static List<InputFormat> formats() {
        return List.of(
                JsonLines.FORMAT, JsonDocuments.FORMAT, Workbooks.FORMAT, OpenSheets.FORMAT, ParquetFiles.FORMAT);
    }

    private FiestaBuilder settings(PrintWriter err) {
        FiestaBuilder builder = Fiesta.with().asks(JdbcDatabases.ofUser());
        formats().forEach(builder::reads);
        if (!quiet && Window.isTerminal("err")) {
            line = new ProgressLine(err, Window.size(colour).width(), System::currentTimeMillis);
            builder.progress(line);
            Runtime.getRuntime().addShutdownHook(new Thread(line::end, "fiesta-progress")); // after Ctrl-C too
        }
        configure(builder, err);
        return builder;
    }

    /** What further options say. */
    void configure(FiestaBuilder builder, PrintWriter err) {}

    /** Wipes what was told of progress, before anything else is told. */
    public void endProgress() {
        if (line != null) {
            line.end();
        }
    }
}
