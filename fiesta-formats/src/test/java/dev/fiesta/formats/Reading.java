package dev.fiesta.formats;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Result;
import dev.fiesta.source.InputFormat;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.IntStream;

/** Reads an input of a brief in a folder. */
record Reading(Path folder, InputFormat... formats) {
    /** The table {@code t} of a brief. */
    Result run(String brief, int threads, long memory) {
        FiestaBuilder builder = Fiesta.with().threads(threads).memory(memory);
        for (InputFormat format : formats) {
            builder.reads(format);
        }
        try (Fiesta fiesta = builder.open()) {
            return Brief.of("t.brief", brief, folder).run(fiesta).get("t");
        }
    }

    /** All records of a file. */
    Result read(String file, String options) {
        return run("input s from '" + file + "' " + options + " table t from s", 2, 1 << 20);
    }

    static List<String> types(Result result) {
        return result.schema().fields().stream()
                .map(f -> f.name() + " " + f.type())
                .toList();
    }

    /** The values of a field as texts. */
    static List<String> values(Result result, String field) {
        return IntStream.range(0, result.rows())
                .mapToObj(i -> String.valueOf(result.row(i).get(field)))
                .toList();
    }
}
