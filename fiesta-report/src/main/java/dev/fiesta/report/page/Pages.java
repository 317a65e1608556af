package dev.fiesta.report.page;

import dev.fiesta.output.Logging;
import dev.fiesta.value.Texts;
import io.pebbletemplates.pebble.PebbleEngine;
import io.pebbletemplates.pebble.loader.ClasspathLoader;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.util.Locale;
import java.util.Map;
import org.slf4j.LoggerFactory;

/** Pages from templates; all texts put into them are escaped. */
public final class Pages {
    static {
        Logging.find(LoggerFactory::getILoggerFactory);
    }

    private static final PebbleEngine ENGINE = new PebbleEngine.Builder()
            .loader(new ClasspathLoader(Pages.class.getClassLoader()))
            .autoEscaping(true)
            .defaultLocale(Locale.ROOT)
            .strictVariables(true)
            .build();

    private Pages() {}

    public static String fill(String template, Map<String, Object> values) {
        StringWriter out = new StringWriter();
        try {
            fill(template, values, out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toString();
    }

    /** Fills a template as it is written. */
    public static void fill(String template, Map<String, Object> values, Writer out) throws IOException {
        Writer printable = new PrintableWriter(out);
        ENGINE.getTemplate("dev/fiesta/report/" + template).evaluate(printable, values);
        printable.flush();
    }

    /** Shows what no page has in another way; what it is given may come letter by letter. */
    private static final class PrintableWriter extends Writer {
        private static final int SIZE = 1 << 13;

        private final Writer out;
        private final StringBuilder waiting = new StringBuilder();

        PrintableWriter(Writer out) {
            this.out = out;
        }

        @Override
        public void write(char[] letters, int from, int count) throws IOException {
            waiting.append(letters, from, count);
            if (waiting.length() >= SIZE) {
                boolean half = Character.isHighSurrogate(waiting.charAt(waiting.length() - 1));
                pass(waiting.length() - (half ? 1 : 0));
            }
        }

        private void pass(int count) throws IOException {
            out.write(Texts.printable(waiting.substring(0, count)));
            waiting.delete(0, count);
        }

        @Override
        public void flush() throws IOException {
            pass(waiting.length());
            out.flush();
        }

        @Override
        public void close() throws IOException {
            flush();
        }
    }
}
