package dev.fiesta.cli.options;

import dev.fiesta.FiestaBuilder;
import dev.fiesta.Result;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.Aside;
import dev.fiesta.value.Texts;
import java.io.PrintWriter;
import java.util.Collection;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ITypeConverter;
import picocli.CommandLine.Option;
import picocli.CommandLine.TypeConversionException;

/** Options that all commands that calculate share. */
public class Common extends Speaking {
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

    @Option(names = "--timing", description = "Tell what each step read, kept, wrote to disk and took.")
    private boolean timing;

    @Override
    void configure(FiestaBuilder builder, PrintWriter err) {
        builder.threads(threads);
        if (memory != null) {
            builder.memory(memory);
        }
    }

    /** Ends what was told of progress, and tells what the steps did where asked, and what was counted, a line each. */
    public void tell(Collection<Result> results, PrintWriter err) {
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

    /** Tells the first records set aside, where no file will have them. */
    public void tellAsides(Collection<Aside> asides, PrintWriter err) {
        for (Aside aside : asides) {
            if (!quiet && aside.count() > 0) {
                aside.first().forEach(r -> err.println(Texts.printable("  " + r.text())));
                err.println("  To have them in a file: --out DIR.");
            }
        }
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
