package dev.fiesta.gather.frames;

import dev.fiesta.gather.values.Image;
import dev.fiesta.gather.values.Shelf;
import dev.fiesta.value.Column;
import dev.fiesta.value.Halving;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.util.Arrays;
import java.util.function.Function;

/** Figures that need for each value its rank among all, over frames of rows that stand in memory. */
public final class RankedFrames {
    private RankedFrames() {}

    public static Column over(Frames frames, Column x, Function<Shelf.Pages, Sliding> maker) {
        Image image = new Image(x.type());
        long[] images = image.of(x);
        int size = x.size();
        long[] sorted = new long[size];
        int present = 0;
        for (int i = 0; i < size; i++) {
            if (!x.isMissing(i)) {
                sorted[present++] = images[i];
            }
        }
        Arrays.sort(sorted, 0, present);
        if (x.type().kind() == Kind.TEXT) {
            inOrder(image, sorted, present);
        }
        long[] ranks = ranks(x, image, images, sorted, present);
        Column all = image.column(sorted, present, null);
        Column[] values = {x, new LongColumn(Type.INTEGER, ranks, size, x.valid())};
        return Sliding.over(frames, values, new Present(maker.apply(new OnePage(all)), x));
    }

    /** Images of texts are codes, whose order says nothing; equal ones stand together. */
    private static void inOrder(Image image, long[] codes, int count) {
        long[] texts = Arrays.stream(codes, 0, count)
                .boxed()
                .sorted(image::compare)
                .mapToLong(Long::longValue)
                .toArray();
        System.arraycopy(texts, 0, codes, 0, count);
    }

    /** Ranks of their own for equal values, in the order of their rows. */
    private static long[] ranks(Column x, Image image, long[] images, long[] sorted, int present) {
        long[] ranks = new long[images.length];
        int[] met = new int[present];
        for (int i = 0; i < images.length; i++) {
            if (!x.isMissing(i)) {
                int first = first(image, sorted, present, images[i]);
                ranks[i] = first + met[first]++;
            }
        }
        return ranks;
    }

    private static int first(Image image, long[] sorted, int present, long value) {
        return Halving.behind(0, present, i -> image.compare(sorted[i], value) < 0);
    }

    /** All values on one page. */
    private record OnePage(Column values) implements Shelf.Pages {
        @Override
        public int pages() {
            return 1;
        }

        @Override
        public int before(int page) {
            return page == 0 ? 0 : values.size();
        }

        @Override
        public Column page(int page) {
            return values;
        }
    }

    /** Tells a figure of rows that have a value only. */
    private record Present(Sliding figure, Column x) implements Sliding {
        @Override
        public void coming(Column[] values) {
            figure.coming(values);
        }

        @Override
        public void going(Column[] values) {
            figure.going(values);
        }

        @Override
        public void own(Column[] values, int rows) {
            figure.own(values, rows);
        }

        @Override
        public void come(int row) {
            if (!x.isMissing(row)) {
                figure.come(row);
            }
        }

        @Override
        public void go(int row) {
            if (!x.isMissing(row)) {
                figure.go(row);
            }
        }

        @Override
        public void look(int row) {
            figure.look(row);
        }

        @Override
        public Column figures() {
            return figure.figures();
        }
    }
}
