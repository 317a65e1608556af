package dev.fiesta.engine;

import dev.fiesta.gather.Shelf;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Order;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** Values in sorted runs. When all runs are read in order, equal values come one behind the other, whatever their groups. */
final class FileShelf implements Shelf {
    private static final int VALUE = 0;
    private static final int GROUP = 1;

    /** @param into the group here of each group of the run; null for the same */
    private record Run(FileRows rows, int @Nullable [] into) {
        int group(long own) {
            return into == null ? (int) own : into[(int) own];
        }

        Run moved(int[] further) {
            if (into == null) {
                return new Run(rows, further);
            }
            int[] both = new int[into.length];
            Arrays.setAll(both, i -> into[i] < 0 ? -1 : further[into[i]]);
            return new Run(rows, both);
        }
    }

    private final Memory memory;
    private final List<Run> runs = new ArrayList<>();

    FileShelf(Memory memory) {
        this.memory = memory;
    }

    @Override
    public void put(Column values, int[] groups) {
        int size = values.size();
        Column[] slots = {values, numbers(groups, size)};
        Rows all = new Rows(size, slots, null);
        int[] order = Order.sort(Order.asTheyStand(size), List.of(new Order.Key(values, false)));
        List<FileRows.Block> blocks = new ArrayList<>();
        for (int start = 0; start < size; start += memory.blockRows()) {
            int[] part = Arrays.copyOfRange(order, start, Math.min(size, start + memory.blockRows()));
            blocks.add(
                    FileRows.write(memory.scratch(), part.length, all.take(part).slots()));
        }
        runs.add(new Run(new FileRows(memory.scratch(), blocks), null));
    }

    private static LongColumn numbers(int[] groups, int size) {
        long[] numbers = Arrays.stream(groups, 0, size).asLongStream().toArray();
        return new LongColumn(Type.INTEGER, numbers, size, null);
    }

    @Override
    public void adopt(Shelf other, int[] into) {
        ((FileShelf) other).runs.forEach(r -> runs.add(r.moved(into)));
    }

    @Override
    public Shelf another() {
        return new FileShelf(memory);
    }

    @Override
    public void inOrder(Look look) {
        BitSet wanted = new BitSet();
        wanted.set(VALUE);
        wanted.set(GROUP);
        Runs merged = new Runs(runs.stream().map(Run::rows).toList(), List.of(VALUE), new boolean[1], wanted);
        Rows before = new Rows(0, new Column[0], null);
        int row = -1;
        for (long seen = 0; !merged.isEmpty(); merged.advance(), seen++) {
            if (seen % memory.blockRows() == 0) {
                StepsRun.stopIfInterrupted();
            }
            Runs.Cursor next = merged.first();
            boolean other = row < 0 || !Runs.same(before, row, next.rows(), next.row(), List.of(VALUE));
            before = next.rows();
            row = next.row();
            int group = runs.get(next.number()).group(((LongColumn) before.column(GROUP)).values()[row]);
            if (group >= 0) {
                look.at(group, before.column(VALUE), row, other);
            }
        }
    }

    /** Values come in their order, so that each group's do; they are written page by page, the groups of a page in turn. */
    @Override
    public List<Pages> byGroup(int groups) {
        List<Written> all =
                IntStream.range(0, groups).mapToObj(g -> new Written()).toList();
        int most = Math.max(1, memory.blockRows());
        Buffer buffer = new Buffer(all, most);
        inOrder((group, values, row, other) -> buffer.add(group, values, row));
        buffer.write();
        return List.copyOf(all);
    }

    /** Values on their way to their groups' pages. */
    private final class Buffer {
        private final List<Written> all;
        private final Column[] values;
        private final int[] rows;
        private final int[] groups;
        private int size;

        Buffer(List<Written> all, int most) {
            this.all = all;
            this.values = new Column[most];
            this.rows = new int[most];
            this.groups = new int[most];
        }

        void add(int group, Column column, int row) {
            if (size == rows.length) {
                write();
            }
            groups[size] = group;
            values[size] = column;
            rows[size++] = row;
        }

        void write() {
            int[] order = Order.sort(Order.asTheyStand(size), List.of(new Order.Key(numbers(groups, size), false)));
            for (int from = 0, to; from < size; from = to) {
                to = from + 1;
                while (to < size && groups[order[to]] == groups[order[from]]) {
                    to++;
                }
                int count = to - from;
                Column[] parts = new Column[count];
                int[] places = new int[count];
                for (int i = 0; i < count; i++) {
                    parts[i] = values[order[from + i]];
                    places[i] = rows[order[from + i]];
                }
                Column page = ColumnBuilder.of(parts[0].type(), parts, places, count);
                all.get(groups[order[from]]).add(memory.scratch().write(page), count);
            }
            size = 0;
        }
    }

    /** The pages of a group in the file. */
    private final class Written implements Pages {
        private final List<Scratch.Place> places = new ArrayList<>();
        private int[] before = new int[2];

        void add(Scratch.Place place, int values) {
            places.add(place);
            int pages = places.size();
            before = pages < before.length ? before : Arrays.copyOf(before, 2 * pages);
            before[pages] = before[pages - 1] + values;
        }

        @Override
        public int pages() {
            return places.size();
        }

        @Override
        public int before(int page) {
            return before[page];
        }

        @Override
        public Column page(int page) {
            return memory.scratch().read(places.get(page));
        }
    }
}
