package dev.fiesta.engine;

import dev.fiesta.compute.Expression;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.Calculation;
import dev.fiesta.step.OrderKey;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.step.WalksStep;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Frame;
import dev.fiesta.walk.FrameReach;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Calculations over the partitions of rows in a file. The columns they look at are sorted by partition and order; as many whole
 * partitions as fit are then worked out in memory, and a partition that does not fit is walked piece by piece, with the few
 * rows around a piece that its values look at, and with what the pieces before have counted and gathered. The results go back
 * to the order of the rows.
 */
final class SpilledWindows {
    /** A piece of partitions may take this part of the memory; working it out takes some times as much. */
    private static final int PART = 12;

    private final Notices notices;
    private final Memory memory;
    private final long most;

    SpilledWindows(Notices notices, Memory memory) {
        this.notices = notices;
        this.memory = memory;
        this.most = Math.max(1, memory.limit() / PART);
    }

    SpilledRows run(SpilledRows rows, WalksStep step, BitSet after) {
        Map<List<Object>, List<WalkSpec>> together = new LinkedHashMap<>();
        step.specs()
                .forEach(s -> together.computeIfAbsent(Windows.signature(s), k -> new ArrayList<>())
                        .add(s));
        SpilledRows result = rows;
        for (List<WalkSpec> specs : together.values()) {
            List<WalkSpec> wholes =
                    specs.stream().filter(SpilledWholes::isWhole).toList();
            SpilledRows whole = wholes.isEmpty() ? null : new SpilledWholes(wholes, notices, memory).run(result, after);
            List<WalkSpec> others = whole == null
                    ? specs
                    : specs.stream().filter(s -> !SpilledWholes.isWhole(s)).toList();
            result = whole == null ? result : whole;
            result = others.isEmpty() ? result : worked(result, others, after);
        }
        return result;
    }

    private SpilledRows worked(SpilledRows rows, List<WalkSpec> specs, BitSet after) {
        BitSet reads = new WalksStep(specs).before(new BitSet());
        int number = Math.max(reads.length(), 1);
        List<OrderKey> keys = new ArrayList<>();
        specs.get(0).within().forEach(k -> keys.add(new OrderKey(k, false)));
        keys.addAll(specs.get(0).along());
        BitSet wanted = (BitSet) reads.clone();
        wanted.set(number);
        SpilledRows sorted =
                new ExternalSort(rows.numbered(reads, number), keys, wanted, new Notices(), memory, PART).run();
        Pieces pieces = new Pieces(sorted, specs, number, wanted);
        SpilledRows results = pieces.run();
        BitSet slots = new BitSet();
        slots.set(0, specs.size() + 1);
        OrderKey byNumber = new OrderKey(new dev.fiesta.compute.FieldRef(specs.size(), Type.INTEGER), false);
        SpilledRows back = new ExternalSort(results, List.of(byNumber), slots, new Notices(), memory, PART).run();
        Map<Integer, Integer> wantedResults = new LinkedHashMap<>();
        for (int i = 0; i < specs.size(); i++) {
            if (after.get(specs.get(i).slot())) {
                wantedResults.put(i, specs.get(i).slot());
            }
        }
        return rows.beside(back, wantedResults);
    }

    private static int[] range(int from, int to) {
        return IntStream.range(from, to).toArray();
    }

    /** Sorted rows on their way through memory. */
    private final class Pieces {
        private final SpilledRows sorted;
        private final List<WalkSpec> specs;
        private final int number;
        private final BitSet wanted;
        private final List<Frame.Span> spans = new ArrayList<>();
        private boolean piecewise = true;
        private int back;
        private int ahead;
        private int next;
        private final List<SpilledRows.Block> written = new ArrayList<>();
        private final Map<WalkSpec, Long> different = new HashMap<>();
        private final Map<WalkSpec, Windows.Amidst> amidst = new HashMap<>();
        private Rows waiting = new Rows(0, new Column[0]);
        private int context;
        private long walked;

        Pieces(SpilledRows sorted, List<WalkSpec> specs, int number, BitSet wanted) {
            this.sorted = sorted;
            this.specs = specs;
            this.number = number;
            this.wanted = wanted;
            for (WalkSpec spec : specs) {
                FrameReach reach = reach(spec);
                boolean leavesOut = spec.only() != null && spec.calculation().walkBound() != null;
                piecewise &= reach.isPiecewise(leavesOut);
                back = Math.max(back, reach.back());
                ahead = Math.max(ahead, reach.ahead());
                if (reach.span() != null) {
                    spans.add(reach.span());
                }
            }
        }

        private static FrameReach reach(WalkSpec spec) {
            Calculation calculation = spec.calculation();
            if (calculation.walkBound() != null) {
                return calculation.walkBound().reach();
            }
            return calculation.frame() == null
                    ? FrameReach.ALL
                    : FrameReach.of(Objects.requireNonNull(calculation.gatherBound()), calculation.frame());
        }

        SpilledRows run() {
            List<Rows> blocks = new ArrayList<>();
            long bytes = 0;
            long enough = most;
            for (next = 0; next < sorted.blocks(); ) {
                StepsRun.stopIfInterrupted();
                Rows block = sorted.read(next++, wanted);
                blocks.add(block);
                bytes += block.bytes();
                boolean end = next == sorted.blocks();
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

        /** Works out what is complete: partitions that have ended, or a piece of a large one. */
        private void handOver(boolean end) {
            int[] starts = starts();
            if (walked > 0 && (end || starts.length > 1)) {
                int behind = starts.length > 1 ? starts[1] : waiting.size();
                piece(behind, behind);
                drop(behind);
                walked = 0;
                context = 0;
                different.clear();
                amidst.clear();
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
                Rows whole = waiting.take(range(0, behind));
                Rows worked = new Windows(whole, notices, 1).run(new WalksStep(specs));
                write(whole, specs.stream().map(s -> worked.column(s.slot())).toList());
                drop(behind);
            }
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

        /** For calculations that ask where in the partition that has begun a piece stands. */
        private void begin() {
            List<WalkSpec> asking = specs.stream().filter(Pieces::asks).toList();
            boolean looksAhead = asking.stream().anyMatch(s -> reach(s).kind() == FrameReach.Kind.ROWS_OF_ALL);
            long[] rows = asking.stream()
                    .mapToLong(s -> taking(s, waiting, waiting.size()))
                    .toArray();
            List<Column> first = keys(waiting);
            boolean same = looksAhead;
            for (int b = next; same && b < sorted.blocks(); b++) {
                StepsRun.stopIfInterrupted();
                Rows block = sorted.read(b, wanted);
                List<Column> keys = keys(block);
                int behind = 0;
                while (behind < block.size() && !Runs.differ(first, 0, keys, behind)) {
                    behind++;
                }
                for (int s = 0; s < rows.length; s++) {
                    rows[s] += taking(asking.get(s), block, behind);
                }
                same = behind == block.size();
            }
            for (int s = 0; s < rows.length; s++) {
                GatherFunction.Bound figure = asking.get(s).calculation().gatherBound();
                amidst.put(asking.get(s), new Windows.Amidst(rows[s], figure == null ? null : figure.empty(1)));
            }
        }

        private static boolean asks(WalkSpec spec) {
            return switch (reach(spec).kind()) {
                case ROWS_BEFORE, ROWS_OF_ALL, GATHERED -> true;
                default -> false;
            };
        }

        /** How many of the first rows take part in a calculation. */
        private static long taking(WalkSpec spec, Rows rows, int behind) {
            Expression only = spec.only();
            return only == null
                    ? behind
                    : Arrays.stream(GatherInput.met(only.kernel(new Notices()), rows.batch()))
                            .filter(row -> row < behind)
                            .count();
        }

        /** The last row that starts rows level with each other and has all rows behind it that a piece looks at. */
        private int cut() {
            List<Column> order = order();
            int cut = Math.min(waiting.size() - ahead, waiting.size() - 1);
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
            Windows near = new Windows(around, notices, 1, context, cut, Map.of());
            Windows far = new Windows(own, notices, 1, 0, Integer.MAX_VALUE, amidst);
            List<Column> results = new ArrayList<>();
            for (WalkSpec spec : specs) {
                FrameReach.Kind kind = reach(spec).kind();
                WalksStep one = new WalksStep(List.of(spec));
                Column column = kind == FrameReach.Kind.NEAR || kind == FrameReach.Kind.SPAN
                        ? near.run(one).column(spec.slot()).take(range(context, cut), own.size())
                        : far.run(one).column(spec.slot());
                results.add(carriedOn(spec, kind, column));
            }
            write(own, results);
            walked += own.size();
        }

        /** Places that count from the start of the partition, not of the piece. */
        private Column carriedOn(WalkSpec spec, FrameReach.Kind kind, Column column) {
            if (kind != FrameReach.Kind.DIFFERENT_BEFORE) {
                return column;
            }
            long before = different.getOrDefault(spec, 0L);
            long[] places = ((LongColumn) column).values().clone();
            for (int i = 0; i < places.length; i++) {
                places[i] += before;
                if (!column.isMissing(i)) {
                    different.merge(spec, places[i], Math::max);
                }
            }
            return new LongColumn(Type.INTEGER, places, places.length, column.valid());
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
}
