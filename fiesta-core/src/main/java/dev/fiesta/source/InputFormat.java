package dev.fiesta.source;

import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.Paths;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/** A format of inputs besides delimited text. */
public interface InputFormat {
    /** {@code as fixed day 1 to 8, amount 9 to 20}: lines whose fields stand at fixed characters. Always read. */
    InputFormat FIXED_WIDTH = new LineInput(
            "fixed",
            List.of(),
            Set.of("encoding", "skip", "comment", "decimal comma", "brackets negative", "short rows as missing"),
            inside -> new FixedWidth(inside.slices(), inside.shortLines()));

    /** What a brief calls it: {@code as jsonl}. */
    String name();

    /** The endings of files that are taken for it when nothing is told, such as {@code .jsonl}. */
    List<String> endings();

    /**
     * The options of an input that say something to it, besides those that say something everywhere: {@code encoding},
     * {@code no header}, {@code sheet} …
     */
    default Set<String> options() {
        return Set.of();
    }

    /** Whether a file's name has one of the endings, packed or not. */
    default boolean fits(String file) {
        String plain = file.toLowerCase(Locale.ROOT).replaceFirst("\\.(gz|zst)$", "");
        return endings().stream().anyMatch(plain::endsWith);
    }

    /**
     * Looks at the fields of files.
     *
     * @param dialect how cells are written
     * @param inside where in the files records stand
     * @param fields fields that were told of
     */
    Source open(List<Paths.Named> files, Dialect dialect, Inside inside, List<FieldSpec> fields);

    /**
     * The same source as {@link #open} made, somewhere else; for formats whose sources are {@link Portable}.
     *
     * @param told what {@link PortableSources#write(InputFormat, PortableSources.Told, java.io.DataOutput)} was given
     */
    default Portable portable(PortableSources.Told told) {
        throw new UnsupportedOperationException("inputs 'as " + name() + "' are read by the one who asks");
    }

    /** A format whose records are lines; they are read side by side. */
    static InputFormat lines(String name, List<String> endings, LineFormat lines) {
        return new LineInput(name, endings, Set.of("encoding", "quoted empty as missing"), inside -> lines);
    }

    /** A format whose records can only be read one after another; see {@link RecordFormat}. */
    static InputFormat records(String name, List<String> endings, Set<String> options, RecordFormat records) {
        return new RecordInput(name, endings, options, records);
    }
}
