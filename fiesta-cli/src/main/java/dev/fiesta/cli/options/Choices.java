package dev.fiesta.cli.options;

import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import picocli.CommandLine.Model.ArgSpec;

/** The words that an option or argument chooses from, as people type them. */
public final class Choices {
    private Choices() {}

    /** None where any value fits. */
    public static List<String> of(ArgSpec arg) {
        Object[] constants = arg.auxiliaryTypes()[arg.auxiliaryTypes().length - 1].getEnumConstants();
        return constants == null
                ? List.of()
                : Stream.of(constants)
                        .map(c -> c.toString().toLowerCase(Locale.ROOT))
                        .toList();
    }
}
