package dev.fiesta.operate.window;

import dev.fiesta.problem.Notices;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.step.WalksStep;
import dev.fiesta.store.Memory;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Runs;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Frame;
import dev.fiesta.walk.FrameReach;
import dev.fiesta.work.Workers;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Sorted rows on their way through memory: as many whole partitions as fit are worked out together, and one that does not fit is walked
 * piece by piece, with the few rows around a piece that its values look at. Where that is asked for, from the last row to the first.
 */
final class WindowPieces {
    private final SpilledRows sorted;
    private final List<PieceWindow> windows;
    private final List<WalkSpec> specs;
    private final int number;
    private final BitSet wanted;
    private final Notices notices;
    private final Memory memory;
    private final long most;
    private final boolean backwards;
    private final boolean piecewise;
    private final int back;
    private final int ahead;
    private final RangeWindows.@Nullable Carry carry;
    private final List<Frame.Span> spans = new ArrayList<>();
    private final List<SpilledRows.Block> written = new ArrayList<>();
    private int next;
    private Rows waiting = new Rows(0, new Column[0]);
    private int context;
    private int beyond;
    private long walked;

    /**
     * @param windows calculations over the same partitions in the same order, all in one direction
     * @param number the slot that tells where a row stood
     * @param most what a piece may take
     * @param carry what is known of the rows around these, which are a range of all; null for none
     */
    WindowPieces(
            SpilledRows sorted,
            List<PieceWindow> windows,
            int number,
            BitSet wanted,
            Notices notices,
            Memory memory,
            long most,
            RangeWindows.@Nullable Carry carry) {
        this.carry = carry;
        this.sorted = sorted;
        this.windows = windows;
        this.specs = windows.stream().map(PieceWindow::spec).toList();
        this.number = number;
        this.wanted = wanted;
        this.notices = notices;
        this.memory = memory;
        this.most = most;
        this.backwards = windows.get(0).isBackwards();
        this.piecewise = windows.stream().allMatch(PieceWindow::isPiecewise);
        int mostBack = 0;
        int mostAhead = 0;
        for (PieceWindow window : windows) {
            FrameReach reach = window.reach();
            mostBack = reach.kind() == FrameReach.Kind.NEAR ? Math.max(mostBack, reach.back()) : mostBack;
            mostAhead = Math.max(mostAhead, reach.ahead());
            if (reach.span() != null) {
                spans.add(reach.span());
            }
        }
        this.back = mostBack;
        this.ahead = mostAhead;
    }

    SpilledRows run() {
        List<Rows> blocks = new ArrayList<>();
        long bytes = 0;
        long enough = most;
        if (carry != null) {
            windows.forEach(w -> w.begin(carry.of(w.spec())));
            Rows before = around(carry.before());
            waiting = before == null ? waiting : before;
            context = waiting.size();
            walked = 1; // it is amidst the one partition
        }
        for (next = 0; next < sorted.blocks(); ) {
            Workers.stopIfInterrupted();
            Rows block = block(next++);
            blocks.add(block);
            bytes += block.bytes();
            boolean end = next == sorted.blocks();
            Rows behind = end && carry != null ? around(carry.behind()) : null;
            if (behind != null) {
                blocks.add(behind);
                beyond = behind.size();
            }
            if (end || bytes > enough) {
                blocks.add(0, waiting);
                waiting = Rows.join(waiting.size() == 0 ? blocks.subList(1, blocks.size()) : blocks);
                blocks.clear();
                int before = waiting.size();
                handOver(end);
                bytes = waiting.bytes();
                // What cannot be handed over yet is looked at again when it has doubled.
                enough = waiting.size() < before ? bytes + most : 2 * bytes;
            }
        }
        return new SpilledRows(sorted.scratch(), written);
    }

    /** Rows around these; those that walk back look at none. */
    private @Nullable Rows around(@Nullable Rows rows) {
        return rows == null || backwards
                ? null
                : rows.with(number, new LongColumn(Type.INTEGER, new long[rows.size()], rows.size(), null))
                        .keep(wanted);
    }

    /** The next block in the direction that is walked. */
    private Rows block(int place) {
        return backwards ? reversed(sorted.read(sorted.blocks() - 1 - place, wanted)) : sorted.read(place, wanted);
    }

    static Rows reversed(Rows rows) {
        return rows.take(
                IntStream.range(0, rows.size()).map(i -> rows.size() - 1 - i).toArray());
    }

    private static int[] range(int from, int to) {
        return IntStream.range(from, to).toArray();
    }

    /** Works out what is complete: partitions that have ended, or a piece of a large one. */
    private void handOver(boolean end) {
        int[] starts = starts();
        if (walked > 0 && (end || starts.length > 1)) {
            int behind = starts.length > 1 ? starts[1] : waiting.size();
            piece(behind - beyond, behind);
            drop(behind);
            walked = 0;
            context = 0;
            windows.forEach(PieceWindow::end);
            if (waiting.size() > 0) {
                handOver(end);
            }
        } else if (walked > 0 || (!end && starts.length == 1)) {
            int cut = piecewise ? cut() : 0;
            if (cut > context) {
                if (walked == 0) {
                    begin();
                }
                piece(cut, waiting.size());
                int from = lookedBackTo(cut);
                drop(from);
                context = cut - from;
            }
        } else {
            int behind = end ? waiting.size() : starts[starts.length - 1];
            whole(waiting.take(range(0, behind)));
            drop(behind);
        }
    }

    /** Partitions that are there from their first row to their last. */
    private void whole(Rows rows) {
        Rows inOrder = backwards ? reversed(rows) : rows;
        Rows worked = new Windows(inOrder, notices, 1).run(new WalksStep(specs));
        write(inOrder, specs.stream().map(s -> worked.column(s.slot())).toList());
    }

    /** Where partitions start in the rows that wait. */
    private int[] starts() {
        List<Column> keys = keys(waiting);
        return IntStream.range(0, Math.max(1, waiting.size()))
                .filter(i -> i == 0 || Runs.differ(keys, i - 1, keys, i))
                .toArray();
    }

    private List<Column> keys(Rows rows) {
        Batch batch = rows.batch();
        return specs.get(0).within().stream()
                .map(k -> k.kernel(new Notices()).eval(batch).flat())
                .toList();
    }

    /** For calculations that ask for more of the partition that has begun than what waits of it. */
    private void begin() {
        windows.forEach(w -> w.meet(waiting, waiting.size()));
        List<PieceWindow> asking =
                windows.stream().filter(PieceWindow::looksAhead).toList();
        List<Column> first = keys(waiting);
        boolean same = !asking.isEmpty();
        for (int b = next; same && b < sorted.blocks(); b++) {
            Workers.stopIfInterrupted();
            Rows block = block(b);
            List<Column> keys = keys(block);
            int behind = 0;
            while (behind < block.size() && !Runs.differ(first, 0, keys, behind)) {
                behind++;
            }
            for (PieceWindow window : asking) {
                window.meet(block, behind);
            }
            same = behind == block.size();
        }
        windows.forEach(PieceWindow::begin);
    }

    /** The last row that has all rows behind it that a piece looks at, and where that matters is the first of rows level with each other. */
    private int cut() {
        List<Column> order = order();
        int cut = Math.min(waiting.size() - ahead, waiting.size() - 1);
        if (windows.stream().noneMatch(PieceWindow::looksAtPeers)) {
            return cut;
        }
        while (cut > context && (!Runs.differ(order, cut - 1, order, cut) || looksBeyond(order.get(0), cut - 1))) {
            cut--;
        }
        return cut;
    }

    private List<Column> order() {
        Batch batch = waiting.batch();
        return specs.get(0).along().stream()
                .map(k -> k.key().kernel(new Notices()).eval(batch).flat())
                .toList();
    }

    /** Whether rows may be missing here that lie within a span ahead of a row. */
    private boolean looksBeyond(Column key, int row) {
        int last = waiting.size() - 1;
        if (spans.isEmpty() || key.isMissing(row) || key.isMissing(last)) {
            return false; // what is missing stands behind all others
        }
        long[] values = ((LongColumn) key).values();
        return spans.stream()
                .anyMatch(span -> span.forward() && values[last] <= span.reach(key.type(), values[row], true));
    }

    /** The first row that rows from a cut on may look back to. */
    private int lookedBackTo(int cut) {
        int from = Math.max(0, cut - back);
        if (spans.isEmpty()) {
            return from;
        }
        Column key = order().get(0);
        if (key.isMissing(cut)) {
            return from;
        }
        long[] values = ((LongColumn) key).values();
        for (Frame.Span span : spans) {
            long least = span.forward() ? values[cut] : span.reach(key.type(), values[cut], false);
            while (from > 0 && values[from - 1] >= least) {
                from--;
            }
        }
        return from;
    }

    private void drop(int rows) {
        waiting = waiting.take(range(rows, waiting.size()));
    }

    /** Works out the rows from behind the context to before a cut; those to before {@code behind} may be looked at. */
    private void piece(int cut, int behind) {
        Rows own = waiting.take(range(context, cut));
        Rows around = waiting.take(range(0, spans.isEmpty() ? Math.min(behind, cut + ahead) : behind));
        write(
                own,
                windows.stream()
                        .map(w -> w.piece(around, context, cut, own, notices))
                        .toList());
        walked += own.size();
    }

    /** @param results one column for each calculation */
    private void write(Rows rows, List<Column> results) {
        @Nullable Column[] slots = results.toArray(new Column[specs.size() + 1]);
        slots[specs.size()] = rows.column(number);
        Rows all = new Rows(rows.size(), slots);
        for (int start = 0; start < all.size() || written.isEmpty(); start += memory.blockRows()) {
            Rows part = all.take(range(start, Math.min(all.size(), start + memory.blockRows())));
            written.add(SpilledRows.write(sorted.scratch(), part.size(), part.slots()));
        }
    }
}
