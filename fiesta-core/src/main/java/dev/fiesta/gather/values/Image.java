package dev.fiesta.gather.values;

import dev.fiesta.value.Bits;
import dev.fiesta.value.Column;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * Values of any type as longs, for accumulators that keep single values: equal values have equal images. Images of numbers
 * compare as the numbers do; those of texts are codes and are compared by {@link #compare}.
 */
public final class Image {
    private final Type type;
    private final Dictionary dictionary = new Dictionary();
    private @Nullable Dictionary known;
    private int[] translation = new int[0];
    private int translated;

    public Image(Type type) {
        this.type = type;
    }

    public Type type() {
        return type;
    }

    /** The images of a column; what stands at missing rows means nothing. */
    public long[] of(Column column) {
        int size = column.size();
        if (column instanceof LongColumn longs && !column.isConstant()) {
            return longs.values();
        }
        long[] images = new long[size];
        int mask = column.mask();
        if (column instanceof LongColumn longs) {
            Arrays.fill(images, longs.values()[0]);
        } else if (column instanceof DoubleColumn numbers) {
            double[] values = numbers.values();
            for (int i = 0; i < size; i++) {
                images[i] = ordered(values[i & mask]);
            }
        } else if (column instanceof TruthColumn truths) {
            for (int i = 0; i < size; i++) {
                images[i] = truths.isTrue(i) ? 1 : 0;
            }
        } else if (column instanceof TextColumn texts) {
            translate(texts.dictionary());
            int[] codes = texts.codes();
            for (int i = 0; i < size; i++) {
                int code = codes[i & mask];
                images[i] = code < 0 ? -1 : translation[code];
            }
        }
        return images;
    }

    /** The code here of the only text of a column, or -1. */
    public int find(TextColumn one) {
        return dictionary.find(one.dictionary(), one.codes()[0]);
    }

    /** A double as a long in the same order. */
    public static long ordered(double value) {
        long bits = Double.doubleToRawLongBits(value + 0.0);
        return bits ^ bits >> 63 & Long.MAX_VALUE;
    }

    /** The double of {@link #ordered}. */
    public static double number(long image) {
        return Double.longBitsToDouble(image ^ image >> 63 & Long.MAX_VALUE);
    }

    private void translate(Dictionary from) {
        if (known != from) {
            known = from;
            translation = new int[0];
            translated = 0;
        }
        if (translated < from.size()) {
            translation = Grow.to(translation, from.size());
            dictionary.translate(from, translation, translated);
            translated = from.size();
        }
    }

    /** For each image of another of the same type, the image here; null when images are the same everywhere. */
    public int @Nullable [] translation(Image other) {
        return type.kind() == dev.fiesta.value.Kind.TEXT ? dictionary.translate(other.dictionary) : null;
    }

    /** An image of another, here. */
    public static long here(int @Nullable [] translation, long image) {
        return translation == null ? image : translation[(int) image];
    }

    /** An image of another of the same type, here, whose text may not be known here yet. */
    public long take(Image other, long image) {
        if (type.kind() != dev.fiesta.value.Kind.TEXT) {
            return image;
        }
        byte[] bytes = other.dictionary.text((int) image).getBytes(StandardCharsets.UTF_8);
        return dictionary.intern(bytes, 0, bytes.length);
    }

    public int compare(long a, long b) {
        return type.kind() == dev.fiesta.value.Kind.TEXT ? dictionary.compare((int) a, (int) b) : Long.compare(a, b);
    }

    /**
     * The column of images.
     *
     * @param valid the rows that have one, or null
     */
    public Column column(long[] images, int size, long @Nullable [] valid) {
        switch (type.kind()) {
            case REAL -> {
                double[] values = new double[size];
                for (int i = 0; i < size; i++) {
                    values[i] = number(images[i]);
                }
                return new DoubleColumn(values, size, valid);
            }
            case TRUTH -> {
                long[] bits = Bits.none(size);
                for (int i = 0; i < size; i++) {
                    if (images[i] == 1 && dev.fiesta.value.Validity.has(valid, i)) {
                        Bits.set(bits, i);
                    }
                }
                return new TruthColumn(bits, size, valid);
            }
            case TEXT -> {
                int[] codes = new int[size];
                for (int i = 0; i < size; i++) {
                    codes[i] = dev.fiesta.value.Validity.has(valid, i) ? (int) images[i] : -1;
                }
                return TextColumn.of(codes, dictionary, size);
            }
            default -> {
                return new LongColumn(type, Arrays.copyOf(images, size), size, valid);
            }
        }
    }

    /** About the memory that its texts take, in bytes. */
    public long memory() {
        return dictionary.memory() + 4L * translation.length;
    }

    /** The value of an image, for texts that are put together. */
    public Object value(long image) {
        return Objects.requireNonNull(column(new long[] {image}, 1, null).get(0));
    }

    public void write(long image, DataOutput out) throws IOException {
        if (type.kind() == dev.fiesta.value.Kind.TEXT) {
            byte[] bytes = dictionary.text((int) image).getBytes(StandardCharsets.UTF_8);
            out.writeInt(bytes.length);
            out.write(bytes);
        } else {
            out.writeLong(image);
        }
    }

    public long read(DataInput in) throws IOException {
        if (type.kind() != dev.fiesta.value.Kind.TEXT) {
            return in.readLong();
        }
        byte[] bytes = new byte[in.readInt()];
        in.readFully(bytes);
        return dictionary.intern(bytes, 0, bytes.length);
    }
}
