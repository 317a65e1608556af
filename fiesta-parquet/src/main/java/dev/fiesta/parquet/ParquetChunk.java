package dev.fiesta.parquet;

import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.apache.parquet.bytes.ByteBufferInputStream;
import org.apache.parquet.bytes.BytesInput;
import org.apache.parquet.column.Encoding;
import org.apache.parquet.column.ValuesType;
import org.apache.parquet.column.page.DataPage;
import org.apache.parquet.column.page.DataPageV1;
import org.apache.parquet.column.page.DataPageV2;
import org.apache.parquet.column.page.DictionaryPage;
import org.apache.parquet.column.page.PageReader;
import org.apache.parquet.column.values.ValuesReader;
import org.jspecify.annotations.Nullable;

/**
 * A column of a group of rows. It is read forwards, a page at a time: values that stand in the dictionary of the group are turned into ours
 * once, and a page of them is but numbers; other values are taken one by one.
 */
final class ParquetChunk {
    /** A dictionary of texts that hardly repeat is left behind when it is so large. */
    private static final long MOST_BYTES = 4 << 20;

    /** The values of a page that are there, close together; those of the kind that the field has. */
    private static final class Values {
        long[] longs = new long[0];
        double[] doubles = new double[0];
        int[] codes = new int[0];
        Dictionary texts;

        Values(Dictionary texts) {
            this.texts = texts;
        }
    }

    private final ParquetField field;
    private final PageReader pages;
    private final org.apache.parquet.column.@Nullable Dictionary dictionary;
    private final Values known = new Values(new Dictionary());
    private final Map<Integer, ParquetField.Unfit> knownUnfit = new TreeMap<>();
    /** The texts of pages that do without the dictionary of the group. */
    private Dictionary texts = new Dictionary();

    /** The page that is read: how many of its rows are left, which have a value, and those values. */
    private int left;

    private int rows;
    private int @Nullable [] levels;
    private Values values = new Values(texts);
    private Map<Integer, ParquetField.Unfit> unfit = new TreeMap<>();
    private int nextValue;

    ParquetChunk(ParquetField field, PageReader pages) throws IOException {
        this.field = field;
        this.pages = pages;
        DictionaryPage page = pages.readDictionaryPage();
        this.dictionary = page == null ? null : page.getEncoding().initDictionary(field.descriptor(), page);
        if (dictionary != null) {
            int size = dictionary.getMaxId() + 1;
            fill(new ParquetRaw.OfDictionary(dictionary), size, known, knownUnfit);
        }
    }

    /** Turns values into ours; those that do not fit are noted by their place. */
    private void fill(ParquetRaw from, int count, Values into, Map<Integer, ParquetField.Unfit> odd) {
        switch (field.type().kind()) {
            case REAL -> {
                into.doubles = new double[count];
                for (int i = 0; i < count; i++) {
                    into.doubles[i] = field.number(from.next());
                }
            }
            case TEXT -> {
                into.codes = new int[count];
                for (int i = 0; i < count; i++) {
                    try {
                        byte[] text = field.text(from.next());
                        into.codes[i] = into.texts.intern(text, 0, text.length);
                    } catch (ParquetField.Unfit e) {
                        into.codes[i] = -1;
                        odd.put(i, e);
                    }
                }
            }
            default -> {
                into.longs = new long[count];
                for (int i = 0; i < count; i++) {
                    try {
                        into.longs[i] = field.whole(from.next());
                    } catch (ParquetField.Unfit e) {
                        odd.put(i, e);
                    }
                }
            }
        }
    }

    /** Reads the next page. */
    private void page() throws IOException {
        DataPage page = pages.readPage();
        if (page == null) {
            throw new IOException("the column ends before its group does");
        }
        rows = page.getValueCount();
        left = rows;
        nextValue = 0;
        unfit = new TreeMap<>();
        if (texts.memory() > MOST_BYTES) {
            texts = new Dictionary();
        }
        if (page instanceof DataPageV1 first) {
            ByteBuffer bytes = buffer(first.getBytes());
            if (isOptional()) {
                if (first.getDlEncoding() != Encoding.RLE) {
                    throw new IOException("levels are packed as " + first.getDlEncoding());
                }
                int length = bytes.getInt(bytes.position());
                bytes.position(bytes.position() + Integer.BYTES);
                levels = ParquetLevels.unpacked(bytes, 1, rows);
                bytes.position(bytes.position() + length);
            }
            values(bytes, first.getValueEncoding());
        } else {
            DataPageV2 second = (DataPageV2) page;
            if (isOptional()) {
                levels = ParquetLevels.unpacked(buffer(second.getDefinitionLevels()), 1, rows);
            }
            values(buffer(second.getData()), second.getDataEncoding());
        }
    }

    private static ByteBuffer buffer(BytesInput input) throws IOException {
        return ByteBuffer.wrap(ParquetCodecs.bytes(input)).order(ByteOrder.LITTLE_ENDIAN);
    }

    private boolean isOptional() {
        return field.descriptor().getMaxDefinitionLevel() > 0;
    }

    private int there() {
        int count = 0;
        int[] all = levels;
        if (all == null) {
            return rows;
        }
        for (int level : all) {
            count += level;
        }
        return count;
    }

    @SuppressWarnings("deprecation") // older files name it so
    private void values(ByteBuffer bytes, Encoding encoding) throws IOException {
        int count = there();
        values = new Values(texts);
        if (count == 0) {
            return;
        }
        if (encoding == Encoding.RLE_DICTIONARY || encoding == Encoding.PLAIN_DICTIONARY) {
            int bits = bytes.get();
            ofDictionary(ParquetLevels.unpacked(bytes, bits, count));
            return;
        }
        ValuesReader reader = encoding.getValuesReader(field.descriptor(), ValuesType.VALUES);
        reader.initFromPage(count, ByteBufferInputStream.wrap(bytes));
        fill(new ParquetRaw.OfPage(reader, field.descriptor()), count, values, unfit);
    }

    /** Values by their numbers in the dictionary. */
    private void ofDictionary(int[] ids) {
        values = new Values(known.texts);
        switch (field.type().kind()) {
            case REAL -> {
                values.doubles = new double[ids.length];
                for (int i = 0; i < ids.length; i++) {
                    values.doubles[i] = known.doubles[ids[i]];
                }
            }
            case TEXT -> {
                values.codes = new int[ids.length];
                for (int i = 0; i < ids.length; i++) {
                    values.codes[i] = known.codes[ids[i]];
                }
            }
            default -> {
                values.longs = new long[ids.length];
                for (int i = 0; i < ids.length; i++) {
                    values.longs[i] = known.longs[ids[i]];
                }
            }
        }
        if (!knownUnfit.isEmpty()) {
            for (int i = 0; i < ids.length; i++) {
                if (knownUnfit.containsKey(ids[i])) {
                    unfit.put(i, Objects.requireNonNull(knownUnfit.get(ids[i])));
                }
            }
        }
    }

    /** Passes over rows. */
    void skip(int count) throws IOException {
        for (int open = count; open > 0; ) {
            if (left == 0) {
                page();
            }
            int some = Math.min(open, left);
            nextValue += thereFrom(rows - left, some);
            left -= some;
            open -= some;
        }
    }

    private int thereFrom(int from, int count) {
        int[] all = levels;
        if (all == null) {
            return count;
        }
        int there = 0;
        for (int i = from; i < from + count; i++) {
            there += all[i];
        }
        return there;
    }

    /**
     * The next rows.
     *
     * @param odd gets, by row, why a value is none of the type; the column has nothing there that means something
     * @param lost gets, by row, numbers that are none or infinite, and so are missing
     */
    Column take(int count, Map<Integer, ParquetField.Unfit> odd, Map<Integer, String> lost) throws IOException {
        List<Column> parts = new ArrayList<>();
        for (int open = count; open > 0; ) {
            if (left == 0) {
                page();
            }
            int some = Math.min(open, left);
            parts.add(part(some, count - open, odd, lost));
            left -= some;
            open -= some;
        }
        return parts.size() == 1 ? parts.get(0) : Column.join(field.type(), parts);
    }

    private Column part(int count, int before, Map<Integer, ParquetField.Unfit> odd, Map<Integer, String> lost) {
        int from = rows - left;
        int[] all = levels;
        int[] at = null; // where the value of each row stands
        long[] valid = null;
        if (all != null) {
            at = new int[count];
            valid = Bits.none(count);
            for (int i = 0; i < count; i++) {
                at[i] = nextValue;
                if (all[from + i] == 1) {
                    Bits.set(valid, i);
                    nextValue++;
                }
            }
            valid = Bits.count(valid) == count ? null : valid;
        }
        int first = at == null ? nextValue : at[0];
        nextValue = all == null ? nextValue + count : nextValue;
        if (!unfit.isEmpty()) {
            for (int i = 0; i < count; i++) {
                ParquetField.Unfit why = unfit.get(at == null ? first + i : at[i]);
                if (why != null && (valid == null || Bits.get(valid, i))) {
                    odd.put(before + i, why);
                }
            }
        }
        return column(count, first, valid == null ? null : at, valid, before, lost);
    }

    /** @param at where the value of each row stands; null where they stand one behind the other */
    private Column column(
            int count, int first, int @Nullable [] at, long @Nullable [] valid, int before, Map<Integer, String> lost) {
        switch (field.type().kind()) {
            case REAL:
                return finite(count, first, at, valid, before, lost);
            case TEXT:
                int[] codes = new int[count];
                for (int i = 0; i < count; i++) {
                    boolean there = valid == null || Bits.get(valid, i);
                    codes[i] = there ? values.codes[at == null ? first + i : at[i]] : -1;
                }
                return TextColumn.of(codes, values.texts, count);
            default:
                long[] longs = new long[count];
                if (at == null) {
                    System.arraycopy(values.longs, first, longs, 0, count);
                } else {
                    for (int i = 0; i < count; i++) {
                        longs[i] = Bits.get(Objects.requireNonNull(valid), i) ? values.longs[at[i]] : 0;
                    }
                }
                return field.type().kind() == Kind.TRUTH
                        ? truths(longs, count, valid)
                        : new LongColumn(field.type(), longs, count, valid);
        }
    }

    /** Numbers that are none, or infinite, are missing. */
    private Column finite(
            int count, int first, int @Nullable [] at, long @Nullable [] valid, int before, Map<Integer, String> lost) {
        double[] numbers = new double[count];
        long[] finite = Bits.none(count);
        boolean all = true;
        for (int i = 0; i < count; i++) {
            boolean there = valid == null || Bits.get(valid, i);
            double number = there ? values.doubles[at == null ? first + i : at[i]] : 0;
            if (there && Double.isFinite(number)) {
                numbers[i] = number;
                Bits.set(finite, i);
            } else {
                all = false;
                if (there) {
                    lost.put(before + i, Double.toString(number));
                }
            }
        }
        return new DoubleColumn(numbers, count, all ? null : finite);
    }

    private static Column truths(long[] longs, int count, long @Nullable [] valid) {
        long[] bits = Bits.none(count);
        for (int i = 0; i < count; i++) {
            if (longs[i] != 0) {
                Bits.set(bits, i);
            }
        }
        return new TruthColumn(bits, count, valid);
    }
}
