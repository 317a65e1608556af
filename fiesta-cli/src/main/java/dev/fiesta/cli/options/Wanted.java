package dev.fiesta.cli.options;

import dev.fiesta.Brief;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** The brief that a command is about, with the values given for its parameters. */
public final class Wanted {
    @Parameters(paramLabel = "BRIEF", description = "The brief.")
    public Path file;

    @Option(
            names = "--set",
            paramLabel = "NAME=VALUE",
            description = "A value for a parameter; the values of a list with commas between.")
    private Map<String, String> set = new LinkedHashMap<>();

    public Brief brief() {
        return brief(null);
    }

    /** @param except a parameter whose value is left open */
    public Brief brief(@Nullable String except) {
        Brief brief = Brief.read(file);
        for (Map.Entry<String, String> value : set.entrySet()) {
            brief = value.getKey().equals(except) ? brief : brief.set(value.getKey(), value.getValue());
        }
        return brief;
    }

    /** The values given for a parameter, with commas between. */
    public List<String> values(String parameter) {
        String given = set.get(parameter);
        return given == null ? List.of() : List.of(given.split(",", -1));
    }
}
