package dev.fiesta.source.cells;

import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Validity;
import org.jspecify.annotations.Nullable;

/** True and false. */
final class TruthReader extends CellReader {
    TruthReader(FieldSpec field, Dialect dialect) {
        super(field, dialect);
    }

    @Override
    Column column(byte[] bytes, FoundCells cells, int cell, int @Nullable [] rows, int count) {
        long[] bits = Bits.none(count);
        long[] valid = null;
        for (int i = 0; i < count; i++) {
            int row = rows == null ? i : rows[i];
            int s = cells.start(row, cell);
            int e = cells.end(row, cell);
            boolean there = carefully(bytes, s, e);
            boolean isTrue = there && isWord("true");
            if (!there && field.byDefault() instanceof Boolean given && isEmpty(bytes, s, e)) {
                isTrue = given;
                there = true;
            } else if (there && !isTrue && !isWord("false")) {
                bad(s, 0);
                there = false;
            }
            if (isTrue) {
                Bits.set(bits, i);
            } else if (!there) {
                valid = Validity.without(valid, count, i);
            }
        }
        return new TruthColumn(bits, count, valid);
    }

    private boolean isWord(String word) {
        boolean same = end - start == word.length();
        for (int i = 0; same && i < word.length(); i++) {
            same = (from[start + i] | 32) == word.charAt(i);
        }
        return same;
    }
}
