package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.cells.BadCell;
import dev.fiesta.source.cells.CellReader;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.cells.FoundCells;
import dev.fiesta.value.Column;
import dev.fiesta.value.Texts;
import java.util.List;
import java.util.function.IntFunction;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** Reads values that have a type already as what was declared, by the same hands as cells of text. For one worker. */
public final class Recast {
    /** Takes what is to be told of a value. */
    @FunctionalInterface
    public interface Counted {
        /** @param row of those handed over */
        void note(Notices.Kind kind, int row, String value);
    }

    private final FieldSpec field;
    private final CellReader reader;
    private final Dialect dialect;

    public Recast(FieldSpec field, Dialect dialect) {
        this.field = field;
        this.dialect = dialect;
        this.reader = CellReader.of(field, dialect, 1);
    }

    /**
     * The values as the field's type.
     *
     * @param place tells where a row stands: file, and its number there
     * @throws DataException when a value is none of the type
     */
    public Column of(Column values, IntFunction<Supplier<@Nullable String>> place, Counted counted) {
        LineCells cells = new LineCells(List.of(field));
        boolean quoted = values.type().kind() == dev.fiesta.value.Kind.TEXT;
        for (int i = 0; i < values.size(); i++) {
            Object value = values.get(i);
            if (value == null) {
                cells.missing(field.column());
            } else if (quoted) {
                cells.text(field.column(), (String) value);
            } else {
                cells.number(field.column(), Texts.of(value));
            }
            cells.endRow(i, i);
        }
        cells.gather();
        FoundCells found = new FoundCells(1);
        cells.column(0, found);
        try {
            return reader.read(
                    cells.bytes(),
                    found,
                    0,
                    null,
                    values.size(),
                    (kind, spec, offset, value) -> counted.note(kind, cells.row(offset), value));
        } catch (BadCell bad) {
            String where = String.valueOf(place.apply(cells.row(bad.offset)).get());
            throw new DataException(
                    where + ": field " + field.name() + ": " + bad.shown() + " is not "
                            + field.type().withArticle() + ".",
                    where,
                    0,
                    field.name(),
                    bad.value);
        }
    }
}
