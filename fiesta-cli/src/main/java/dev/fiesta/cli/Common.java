package dev.fiesta.cli;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.formats.JsonLines;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Texts;
import java.io.PrintWriter;
import java.util.Collection;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ITypeConverter;
import picocli.CommandLine.Option;
import picocli.CommandLine.TypeConversionException;

/** Options that all commands that calculate share. */
final class Common {
    @Option(
            names = "--threads",
            paramLabel = "N",
            description = "Threads that read and calculate (default: all processors).")
    int threads = Runtime.getRuntime().availableProcessors();

    @Option(
            names = "--memory",
            paramLabel = "SIZE",
            converter = Size.class,
            description = "What a run may hold, such as 512m or 2g; the rest goes to a temporary file.")
    private @Nullable Long memory;

    @Option(names = "--quiet", description = "Tell problems only.")
    boolean quiet;

    @Option(
            names = {"--colour", "--color"},
            paramLabel = "WHEN",
            description = "auto, always or never (default: auto).")
    Window.Colour colour = Window.Colour.AUTO;

    @Option(names = "--timing", description = "Tell what each step read, kept, wrote to disk and took.")
    private boolean timing;

    private @Nullable ProgressLine line;

    /** @param err where progress is told, when it is a terminal */
    Fiesta open(PrintWriter err) {
        Fiesta.Builder builder = Fiesta.with().threads(threads).reads(JsonLines.FORMAT);
        if (!quiet && Window.isTerminal("err")) {
            line = new ProgressLine(err, Window.size(colour).width(), System::currentTimeMillis);
            builder.progress(line);
            Runtime.getRuntime().addShutdownHook(new Thread(line::end, "fiesta-progress")); // after Ctrl-C too
        }
        return (memory == null ? builder : builder.memory(memory)).open();
    }

    /** Wipes what was told of progress, before anything else is told. */
    void endProgress() {
        if (line != null) {
            line.end();
        }
    }

    /** Ends what was told of progress, and tells what the steps did where asked, and what was counted, a line each. */
    void tell(Collection<Result> results, PrintWriter err) {
        endProgress();
        if (timing && !results.isEmpty()) {
            TimingTable.print(results.iterator().next().timings(), err);
        }
        if (quiet || results.isEmpty()) {
            return;
        }
        Notices notices = results.iterator().next().notices();
        notices.warnings().forEach(w -> err.println(Texts.printable(w)));
        notices.list().forEach(n -> err.println(Texts.printable("Note: " + n.text() + ".")));
    }

    /** {@code 512m}: bytes, or thousands, millions, milliards of 1024. */
    static final class Size implements ITypeConverter<Long> {
        private static final String UNITS = "kmg";

        @Override
        public Long convert(String value) {
            String text = value.toLowerCase(Locale.ROOT);
            if (!text.matches("[1-9][0-9]{0,9}[kmg]?")) {
                throw new TypeConversionException("'" + value + "' is no size; write for instance 512m or 2g");
            }
            int unit = UNITS.indexOf(text.charAt(text.length() - 1));
            long number = Long.parseLong(unit < 0 ? text : text.substring(0, text.length() - 1));
            return number << 10 * (unit + 1);
        }
    }
}
