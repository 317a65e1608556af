package dev.fiesta.brief;

import dev.fiesta.language.BriefTree;
import dev.fiesta.language.BriefTree.InputOptions;
import dev.fiesta.source.Inside;
import dev.fiesta.source.cells.Dialect;
import java.nio.charset.Charset;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** The options of inputs: those that say something to some formats only, and what they tell who reads. */
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

    /** Where to look inside of files. */
    static Inside inside(InputOptions options) {
        BriefTree.Inside inside = options.inside();
        return new Inside(
                inside.sheet(),
                inside.range(),
                inside.items(),
                inside.each(),
                inside.slices().stream()
                        .map(s -> new Inside.Slice(s.name().name(), s.from(), s.to()))
                        .toList(),
                !options.noHeader(),
                options.shortRowsAsMissing(),
                options.fieldsByName());
    }

    /** How cells are written. */
    static Dialect dialect(InputOptions options) {
        char delimiter =
                options.delimiter() != null ? options.delimiter().charAt(0) : "tsv".equals(options.as()) ? '\t' : ',';
        return new Dialect(
                (byte) delimiter,
                (byte) (options.quote() == null ? '"' : options.quote().charAt(0)),
                (byte) '\n',
                (byte) (options.comment() == null ? 0 : options.comment().charAt(0)),
                options.skip(),
                !options.noHeader(),
                options.decimalComma(),
                options.quotedEmptyAsMissing(),
                options.shortRowsAsMissing(),
                options.encoding() == null ? null : Charset.forName(options.encoding()),
                options.missing(),
                options.bracketsNegative());
    }
}
