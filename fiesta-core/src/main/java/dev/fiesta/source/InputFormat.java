package dev.fiesta.source;

import java.util.List;

/**
 * A format of inputs besides delimited text.
 *
 * @param name as a brief calls it: {@code as jsonl}
 * @param endings of files that are taken for it when nothing is told, such as {@code .jsonl}
 */
public record InputFormat(String name, List<String> endings, LineFormat lines) {
    public InputFormat {
        endings = List.copyOf(endings);
    }

    /** Whether a file's name has one of the endings, packed or not. */
    public boolean fits(String file) {
        String plain = file.replaceFirst("\\.(gz|zst)$", "");
        return endings.stream().anyMatch(plain::endsWith);
    }

    /**
     * Looks at the fields of files.
     *
     * @param fields fields that were told of
     */
    public Source open(List<Paths.Named> files, Dialect dialect, List<FieldSpec> fields) {
        return LineSource.open(lines, files, dialect, fields, DelimitedSource.PIECE);
    }
}
