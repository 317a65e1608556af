package dev.fiesta;

import dev.fiesta.language.BriefTree.InputOptions;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** The options of inputs that say something to some formats only. */
final class ToldOptions {
    /** Those that delimited text knows. */
    static final Set<String> DELIMITED = Set.of(
            "delimiter",
            "quote",
            "comment",
            "skip",
            "no header",
            "encoding",
            "brackets negative",
            "decimal comma",
            "short rows as missing",
            "quoted empty as missing");

    private ToldOptions() {}

    /** Those of an input, as they are written. */
    static List<String> of(InputOptions o) {
        Map<String, Boolean> told = new LinkedHashMap<>();
        told.put("delimiter", o.delimiter() != null);
        told.put("quote", o.quote() != null);
        told.put("comment", o.comment() != null);
        told.put("skip", o.skip() > 0);
        told.put("no header", o.noHeader());
        told.put("encoding", o.encoding() != null);
        told.put("brackets negative", o.bracketsNegative());
        told.put("decimal comma", o.decimalComma());
        told.put("short rows as missing", o.shortRowsAsMissing());
        told.put("quoted empty as missing", o.quotedEmptyAsMissing());
        told.put("sheet", o.inside().sheet() != null);
        told.put("range", o.inside().range() != null);
        told.put("items", o.inside().items() != null);
        told.put("each", o.inside().each() != null);
        return told.entrySet().stream()
                .filter(Map.Entry::getValue)
                .map(Map.Entry::getKey)
                .toList();
    }
}
