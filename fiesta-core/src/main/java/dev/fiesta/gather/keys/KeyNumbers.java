package dev.fiesta.gather.keys;

import dev.fiesta.gather.values.Image;
import dev.fiesta.value.Column;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.Validity;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/** Gives the values of one key numbers, from 0, in the order in which they are met; missing has a number of its own. */
final class KeyNumbers {
    private static final int MOST_DERIVED = 1 << 12;

    private final Image image;
    private final LongNumbers numbers = new LongNumbers();
    private final DirectNumbers own = new DirectNumbers(this::number, Integer.MAX_VALUE);
    private @Nullable DirectNumbers derived;

    KeyNumbers(Image image) {
        this.image = image;
    }

    int size() {
        return numbers.size();
    }

    /** The numbers of the values of a key. */
    void number(Column key, int rows, int[] into) {
        if (own.number(key, rows, into)) {
            return;
        }
        long[] images = image.of(key);
        if (key.valid() == null) {
            for (int i = 0; i < rows; i++) {
                into[i] = numbers.of(images[i]);
            }
            return;
        }
        for (int i = 0; i < rows; i++) {
            into[i] = key.isMissing(i) ? numbers.another() : numbers.of(images[i]);
        }
    }

    /** The numbers of a key that is worked out from a field, once for each value where the field has few. */
    void number(Column field, UnaryOperator<Column> key, int rows, int[] into) {
        if (derived == null) {
            derived = new DirectNumbers(value -> number(key.apply(value)), MOST_DERIVED);
        }
        if (!derived.number(field, rows, into)) {
            number(key.apply(field), rows, into);
        }
    }

    /** Looks values up without adding any, while nobody adds; belongs to one worker. */
    final class Finder {
        private final DirectNumbers direct = new DirectNumbers(this::number, Integer.MAX_VALUE);

        /** The numbers of the values of a key, -1 for those that have none. */
        void find(Column key, int rows, int[] into) {
            if (direct.number(key, rows, into)) {
                return;
            }
            long[] images = image.of(key);
            for (int i = 0; i < rows; i++) {
                into[i] = key.isMissing(i) ? numbers.findAnother() : numbers.find(images[i]);
            }
        }

        private int number(Column one) {
            if (one.isMissing(0)) {
                return numbers.findAnother();
            }
            if (one instanceof TextColumn text) {
                int code = image.find(text);
                return code < 0 ? -1 : numbers.find(code);
            }
            return numbers.find(image.of(one)[0]);
        }
    }

    private int number(Column one) {
        return one.isMissing(0) ? numbers.another() : numbers.of(image.of(one)[0]);
    }

    long memory() {
        return image.memory() + numbers.memory() + own.memory() + (derived == null ? 0 : derived.memory());
    }

    /** The values that have some numbers. */
    Column column(int[] ofRows) {
        long[] images = new long[ofRows.length];
        long[] valid = null;
        for (int i = 0; i < ofRows.length; i++) {
            images[i] = numbers.key(ofRows[i]);
            if (numbers.isAnother(ofRows[i])) {
                valid = Validity.without(valid, ofRows.length, i);
            }
        }
        return image.column(images, ofRows.length, valid);
    }
}
