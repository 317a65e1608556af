package dev.fiesta.engine;

import dev.fiesta.gather.Accumulator;
import dev.fiesta.plan.Step;
import dev.fiesta.plan.Step.OrderKey;
import dev.fiesta.plan.Step.WalkSpec;
import dev.fiesta.problem.Notices;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Reach;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * Calculations over the partitions of rows in a file. The columns they look at are sorted by partition and order; as many whole
 * partitions as fit are then worked out in memory, and a partition that does not fit is walked piece by piece, with the few
 * rows around a piece that its values look at, and with what the pieces before have counted and gathered. The results go back
 * to the order of the rows.
 */
final class FileWalks {
    /** A piece of partitions may take this part of the memory; working it out takes some times as much. */
    private static final int PART = 12;

    private final Notices notices;
    private final Memory memory;
    private final long most;

    FileWalks(Notices notices, Memory memory) {
        this.notices = notices;
        this.memory = memory;
        this.most = Math.max(1, memory.limit() / PART);
    }

    FileRows run(FileRows rows, Step.Walks step, BitSet after) {
        Map<List<Object>, List<WalkSpec>> together = new LinkedHashMap<>();
        step.specs()
                .forEach(s -> together.computeIfAbsent(Walking.signature(s), k -> new ArrayList<>())
                        .add(s));
        FileRows result = rows;
        for (List<WalkSpec> specs : together.values()) {
            FileRows whole = specs.stream().allMatch(FileWholes::isWhole)
                    ? new FileWholes(specs, notices, memory).run(result, after)
                    : null;
            result = whole == null ? worked(result, specs, after) : whole;
        }
        return result;
    }

    private FileRows worked(FileRows rows, List<WalkSpec> specs, BitSet after) {
        BitSet reads = Liveness.reads(new Step.Walks(specs));
        int number = Math.max(reads.length(), 1);
        List<OrderKey> keys = new ArrayList<>();
        specs.get(0).within().forEach(k -> keys.add(new OrderKey(k, false)));
        keys.addAll(specs.get(0).along());
        BitSet wanted = (BitSet) reads.clone();
        wanted.set(number);
        FileRows sorted =
                new ExternalSort(rows.numbered(reads, number), keys, wanted, new Notices(), memory, PART).run();
        Pieces pieces = new Pieces(sorted, specs, number, wanted);
        FileRows results = pieces.run();
        BitSet slots = new BitSet();
        slots.set(0, specs.size() + 1);
        OrderKey byNumber = new OrderKey(new dev.fiesta.compute.FieldRef(specs.size(), Type.INTEGER), false);
        FileRows back = new ExternalSort(results, List.of(byNumber), slots, new Notices(), memory, PART).run();
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
        private final FileRows sorted;
        private final List<WalkSpec> specs;
        private final int number;
        private final BitSet wanted;
        private final boolean piecewise;
        private final int back;
        private final int ahead;
        private final List<FileRows.Block> written = new ArrayList<>();
        private final Map<WalkSpec, Accumulator> gathered = new HashMap<>();
        private final Map<WalkSpec, Long> different = new HashMap<>();
        private Rows waiting = new Rows(0, new Column[0], null);
        private int context;
        private long walked;

        Pieces(FileRows sorted, List<WalkSpec> specs, int number, BitSet wanted) {
            this.sorted = sorted;
            this.specs = specs;
            this.number = number;
            this.wanted = wanted;
            List<Reach> reaches = specs.stream().map(Pieces::reach).toList();
            this.piecewise = reaches.stream().noneMatch(r -> r.kind() == Reach.Kind.ALL)
                    && specs.stream().allMatch(s -> s.only() == null);
            this.back = reaches.stream().mapToInt(Reach::back).max().orElse(0);
            this.ahead = reaches.stream().mapToInt(Reach::ahead).max().orElse(0);
        }

        private static Reach reach(WalkSpec spec) {
            Step.Calculation calculation = spec.calculation();
            if (calculation.walkBound() != null) {
                return calculation.walkBound().reach();
            }
            return calculation.frame() == null
                    ? new Reach(Reach.Kind.ALL, 0, 0)
                    : Reach.of(java.util.Objects.requireNonNull(calculation.gatherBound()), calculation.frame());
        }

        FileRows run() {
            for (int b = 0; b < sorted.blocks(); b++) {
                StepsRun.stopIfInterrupted();
                Rows block = sorted.read(b, wanted);
                waiting = waiting.size() == 0 ? block : Rows.join(List.of(waiting, block));
                boolean end = b + 1 == sorted.blocks();
                if (end || waiting.bytes() > most) {
                    handOver(end);
                }
            }
            return new FileRows(sorted.scratch(), written);
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
                gathered.clear();
                different.clear();
                if (waiting.size() > 0) {
                    handOver(end);
                }
            } else if (walked > 0 || (!end && starts.length == 1)) {
                int cut = piecewise ? cut() : 0;
                if (cut > context) {
                    piece(cut, waiting.size());
                    int from = Math.max(0, cut - back);
                    drop(from);
                    context = cut - from;
                }
            } else {
                int behind = end ? waiting.size() : starts[starts.length - 1];
                Rows whole = waiting.take(range(0, behind));
                Rows worked = new Walking(whole, notices, 1).run(new Step.Walks(specs));
                write(whole, specs.stream().map(s -> worked.column(s.slot())).toList());
                drop(behind);
            }
        }

        /** Where partitions start in the rows that wait. */
        private int[] starts() {
            Batch batch = waiting.batch();
            List<Column> keys = specs.get(0).within().stream()
                    .map(k -> k.kernel(new Notices()).eval(batch).flat())
                    .toList();
            return IntStream.range(0, Math.max(1, waiting.size()))
                    .filter(i -> i == 0 || Runs.differ(keys, i - 1, keys, i))
                    .toArray();
        }

        /** The last row that starts rows level with each other and has all rows behind it that a piece looks at. */
        private int cut() {
            Batch batch = waiting.batch();
            List<Column> order = specs.get(0).along().stream()
                    .map(k -> k.key().kernel(new Notices()).eval(batch).flat())
                    .toList();
            int cut = Math.min(waiting.size() - ahead, waiting.size() - 1);
            while (cut > context && !Runs.differ(order, cut - 1, order, cut)) {
                cut--;
            }
            return cut;
        }

        private void drop(int rows) {
            waiting = waiting.take(range(rows, waiting.size()));
        }

        /** Works out the rows from behind the context to before a cut; those to before {@code behind} may be looked at. */
        private void piece(int cut, int behind) {
            Rows own = waiting.take(range(context, cut));
            Rows around = waiting.take(range(0, Math.min(behind, cut + ahead)));
            Walking near = new Walking(around, notices, 1, context, cut, Map.of());
            Walking far = new Walking(own, notices, 1, 0, Integer.MAX_VALUE, gathered);
            List<Column> results = new ArrayList<>();
            for (WalkSpec spec : specs) {
                Reach.Kind kind = reach(spec).kind();
                if (kind == Reach.Kind.GATHERED) {
                    gathered.computeIfAbsent(spec, Pieces::nothing);
                }
                Step.Walks one = new Step.Walks(List.of(spec));
                Column column = kind == Reach.Kind.NEAR
                        ? near.run(one).column(spec.slot()).take(range(context, cut), own.size())
                        : far.run(one).column(spec.slot());
                results.add(carriedOn(spec, kind, column));
            }
            write(own, results);
            walked += own.size();
        }

        private static Accumulator nothing(WalkSpec spec) {
            return java.util.Objects.requireNonNull(spec.calculation().gatherBound())
                    .empty(1);
        }

        /** Places that count from the start of the partition, not of the piece. */
        private Column carriedOn(WalkSpec spec, Reach.Kind kind, Column column) {
            if (kind == Reach.Kind.NEAR || kind == Reach.Kind.GATHERED) {
                return column;
            }
            boolean rows = kind == Reach.Kind.ROWS_BEFORE;
            long before = rows ? walked : different.getOrDefault(spec, 0L);
            long[] places = ((LongColumn) column).values().clone();
            for (int i = 0; i < places.length; i++) {
                places[i] += before;
            }
            if (!rows) {
                different.put(spec, places[places.length - 1]);
            }
            return new LongColumn(Type.INTEGER, places, places.length, null);
        }

        /** @param results one column for each calculation */
        private void write(Rows rows, List<Column> results) {
            @Nullable Column[] slots = results.toArray(new Column[specs.size() + 1]);
            slots[specs.size()] = rows.column(number);
            Rows all = new Rows(rows.size(), slots, null);
            for (int start = 0; start < all.size() || written.isEmpty(); start += memory.blockRows()) {
                Rows part = all.take(range(start, Math.min(all.size(), start + memory.blockRows())));
                written.add(FileRows.write(sorted.scratch(), part.size(), part.slots()));
            }
        }
    }
}
