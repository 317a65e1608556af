package dev.fiesta.report;

import dev.fiesta.output.Logging;
import dev.fiesta.value.Texts;
import io.pebbletemplates.pebble.PebbleEngine;
import io.pebbletemplates.pebble.loader.ClasspathLoader;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.util.Locale;
import java.util.Map;
import org.slf4j.LoggerFactory;

/** Pages from templates; all texts put into them are escaped. */
final class Pages {
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

    static String fill(String template, Map<String, Object> values) {
        StringWriter out = new StringWriter();
        try {
            ENGINE.getTemplate("dev/fiesta/report/" + template).evaluate(out, values);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return Texts.printable(out.toString());
    }
}
