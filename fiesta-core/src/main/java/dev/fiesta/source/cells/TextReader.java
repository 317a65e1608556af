package dev.fiesta.source.cells;

import dev.fiesta.source.files.Utf8;
import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.Validity;
import java.util.BitSet;
import org.jspecify.annotations.Nullable;

/** Texts, which keep their codes from block to block. */
final class TextReader extends CellReader {
    /** Texts that hardly repeat get a new dictionary beyond this size: a small one is looked up sooner. */
    private static final int MOST_TEXTS = 1 << 16;

    /** They hardly repeat where fewer than one cell in so many shows a text that was met before. */
    private static final int HARDLY = 64;

    private static final int PART_OF_HEAP = 32;
    private static final int FEWEST_BYTES = 1 << 16;

    private final long mostBytes;
    private NearTexts texts = new NearTexts(new Dictionary());
    private long lookedUp;
    private int checked;
    private @Nullable BitSet broken;

    /** @param texts how many fields of texts share the memory of a worker for them */
    TextReader(FieldSpec field, Dialect dialect, int texts) {
        super(field, dialect);
        this.mostBytes = Math.max(FEWEST_BYTES, Runtime.getRuntime().maxMemory() / PART_OF_HEAP / Math.max(1, texts));
    }

    @Override
    Column column(byte[] bytes, FoundCells cells, int cell, int @Nullable [] rows, int count) {
        Dictionary dictionary = texts.dictionary();
        if (dictionary.memory() > mostBytes || dictionary.size() > MOST_TEXTS && hardlyRepeat(dictionary.size())) {
            dictionary = new Dictionary();
            texts = new NearTexts(dictionary);
            lookedUp = 0;
            checked = 0;
            broken = null;
        }
        lookedUp += count;
        int[] codes = new int[count];
        long[] valid = null;
        byte quote = dialect.quote();
        for (int i = 0; i < count; i++) {
            int row = rows == null ? i : rows[i];
            int s = cells.start(row, cell);
            int e = cells.end(row, cell);
            if (s < e && bytes[s] != quote && missing.length == 0) {
                codes[i] = code(bytes, s, e, s);
                if (codes[i] < 0) {
                    valid = Validity.without(valid, count, i);
                }
                continue;
            }
            take(bytes, s, e);
            boolean empty = start == end && (!quoted || dialect.quotedEmptyAsMissing());
            if (empty && field.byDefault() instanceof String given) {
                codes[i] = dictionary.intern(given);
            } else if (empty || isMissingWord()) {
                codes[i] = -1;
                valid = Validity.without(valid, count, i);
            } else {
                codes[i] = code(from, start, end, s);
                if (codes[i] < 0) {
                    valid = Validity.without(valid, count, i);
                }
            }
        }
        return new TextColumn(codes, dictionary, count, valid);
    }

    private boolean hardlyRepeat(int different) {
        return lookedUp - different < lookedUp / HARDLY;
    }

    /** The code of a text, or -1 when its bytes are not UTF-8; each different text is looked at once. */
    private int code(byte[] bytes, int from, int to, int offset) {
        int code = texts.intern(bytes, from, to);
        if (code >= checked) {
            checked = code + 1;
            if (!Utf8.isValid(bytes, from, to)) {
                broken = broken == null ? new BitSet() : broken;
                broken.set(code);
            }
        }
        if (broken != null && broken.get(code)) {
            this.from = bytes;
            this.start = from;
            this.end = to;
            bad(offset, 0);
            return -1;
        }
        return code;
    }
}
