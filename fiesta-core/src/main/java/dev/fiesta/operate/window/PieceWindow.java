package dev.fiesta.operate.window;

import dev.fiesta.compute.Expression;
import dev.fiesta.gather.GatherFunction;
import dev.fiesta.gather.frames.Far;
import dev.fiesta.operate.group.GatherInput;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.Calculation;
import dev.fiesta.step.WalkSpec;
import dev.fiesta.step.WalksStep;
import dev.fiesta.store.Rows;
import dev.fiesta.store.Runs;
import dev.fiesta.store.SpilledRows;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import dev.fiesta.walk.Frame;
import dev.fiesta.walk.FrameReach;
import dev.fiesta.work.Workers;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * A calculation as it is walked through a partition piece by piece, with what it knows of the partition that is walked. Frames from or to
 * an end of the partition are running ones: backwards where they end at its end, some rows late where they stop before the row; and
 * how many values there are, or where the partition begins, is known apart from the figure.
 */
final class PieceWindow {
    private static final int[] NONE = new int[0];

    private final WalkSpec spec;
    private final WalkSpec walked;
    private final FrameReach reach;
    private final boolean backwards;
    private final int late;
    private final int atLeast;
    private final Frame.@Nullable Span full;

    private Windows.@Nullable Amidst amidst;
    private long different;
    private @Nullable Column tail;
    private boolean[] tailLost = new boolean[0];
    private int[] tailPresent = NONE;
    private int present;
    private @Nullable Column nth;
    private boolean begun;
    private long first;
    private long last;
    /** How many of the rows that were met take part. */
    private long counted;

    PieceWindow(WalkSpec spec) {
        this.spec = spec;
        Calculation calculation = spec.calculation();
        Frame frame = calculation.frame();
        if (frame == null) {
            this.walked = spec;
            this.backwards = false;
            this.late = 0;
            this.atLeast = 0;
            this.full = null;
            this.reach = calculation.walkBound() == null
                    ? FrameReach.ALL
                    : calculation.walkBound().reach();
            return;
        }
        GatherFunction.Bound bound = Objects.requireNonNull(calculation.gatherBound());
        boolean toEnd = frame.span() == null
                && frame.to() == Frame.END
                && frame.from() != Frame.START
                && frame.from() >= 0
                && !Objects.requireNonNull(calculation.gather()).looksAtOrder();
        boolean fromStart =
                frame.span() == null && frame.from() == Frame.START && frame.to() != Frame.START && frame.to() <= 0;
        int rowsLate = toEnd ? frame.from() : fromStart ? -frame.to() : 0;
        boolean moves =
                rowsLate == 0 || !Objects.requireNonNull(calculation.gather()).isPart();
        boolean running = (toEnd || fromStart) && bound.carriesOn() && rowsLate <= FrameReach.FAR && moves;
        this.backwards = running && toEnd;
        this.late = running ? rowsLate : 0;
        this.atLeast = running ? frame.atLeast() : 0;
        this.full = frame.full() ? frame.span() : null;
        Frame plain = running
                ? new Frame(Frame.START, 0, null, false, 0)
                : new Frame(frame.from(), frame.to(), frame.span(), frame.full() && full == null, frame.atLeast());
        this.walked = running ? spec.over(plain).overAll() : spec.over(plain);
        this.reach = FrameReach.of(bound, plain);
    }

    /** As it is asked, for partitions that are worked out whole. */
    WalkSpec spec() {
        return spec;
    }

    FrameReach reach() {
        return reach;
    }

    /** Whether it walks from the last row to the first. */
    boolean isBackwards() {
        return backwards;
    }

    boolean isPiecewise() {
        return reach.isPiecewise(spec.only() != null && spec.calculation().walkBound() != null);
    }

    /** Whether nobody knows how many rows are looked at from a row, or how many values those before have gathered. */
    boolean mayReachFar() {
        GatherFunction.Bound bound = spec.calculation().gatherBound();
        boolean gathersValues =
                bound != null && bound.far() != null && bound.far().told() == Far.Told.RANKS;
        return !isPiecewise() || reach.kind() == FrameReach.Kind.SPAN || gathersValues;
    }

    /** Whether rows level with each other must be in one piece: places are theirs together, and spans reach to the last of them. */
    boolean looksAtPeers() {
        return spec.calculation().walkBound() != null || reach.span() != null;
    }

    /** Whether it asks for something of rows behind the first piece. */
    boolean looksAhead() {
        return reach.kind() == FrameReach.Kind.ROWS_OF_ALL
                || reach.kind() == FrameReach.Kind.NTH
                || (full != null && full.forward());
    }

    /** Forgets the partition that was walked. */
    void end() {
        amidst = null;
        different = 0;
        tail = null;
        present = 0;
        nth = null;
        begun = false;
        counted = 0;
    }

    /**
     * Looks at rows of a partition that begins, one part behind the other.
     *
     * @param behind how many of them belong to it
     */
    void meet(Rows rows, int behind) {
        int[] taking = Arrays.stream(taking(rows)).filter(row -> row < behind).toArray();
        if (reach.kind() == FrameReach.Kind.NTH && nth == null) {
            long place = reach.back() - 1 - counted;
            if (place >= 0 && place < taking.length) {
                nth = argument(rows, 0).take(new int[] {taking[(int) place]}, 1);
            }
        }
        counted += taking.length;
        if (full != null && behind > 0) {
            meetKeys(key(rows), behind);
        }
    }

    /** Missing keys stand behind all others. */
    private void meetKeys(Column key, int behind) {
        for (int i = 0; i < behind && !key.isMissing(i); i++) {
            last = ((LongColumn) key).values()[i];
            first = begun ? first : last;
            begun = true;
        }
    }

    /** Whether nothing is known apart from what it gathers, and rows stand as they are walked. */
    boolean isPlain() {
        return late == 0 && atLeast == 0 && full == null;
    }

    /**
     * Goes through a range of the partition, of which nothing is wanted but what others must know of it.
     *
     * @param slots what it looks at
     */
    void gather(SpilledRows sorted, BitSet slots, RangeWindows.Known known) {
        begin(known);
        Rows last = new Rows(0, new Column[0]);
        for (int b = 0; b < sorted.blocks(); b++) {
            Workers.stopIfInterrupted();
            Rows rows = sorted.read(backwards ? sorted.blocks() - 1 - b : b, slots);
            meet(rows, rows.size());
            if (reach.kind() == FrameReach.Kind.GATHERED) {
                Rows own = backwards ? WindowPieces.reversed(rows) : rows;
                piece(own, 0, own.size(), own, new Notices());
            } else if (reach.kind() == FrameReach.Kind.DIFFERENT_BEFORE) {
                last = differing(last, rows.take(taking(rows)));
            }
        }
        known.rows(counted, different);
    }

    /**
     * Counts rows that do not stand level with the one before.
     *
     * @param last the row before them, or none
     * @return the last of them
     */
    private Rows differing(Rows last, Rows some) {
        if (some.size() == 0) {
            return last;
        }
        Rows all = last.size() == 0 ? some : Rows.join(List.of(last, some));
        Batch batch = all.batch();
        List<Column> order = spec.along().stream()
                .map(k -> k.key().kernel(new Notices()).eval(batch).flat())
                .toList();
        different += last.size() == 0 ? 1 : 0;
        different += IntStream.range(1, all.size())
                .filter(row -> Runs.differ(order, row - 1, order, row))
                .count();
        return all.range(all.size() - 1, all.size());
    }

    /** Goes on behind rows of which so much is known. */
    void begin(RangeWindows.Known known) {
        different = known.different();
        amidst = switch (reach.kind()) {
            case ROWS_BEFORE, ROWS_OF_ALL -> new Windows.Amidst(known.all(), known.before(), null);
            case GATHERED -> new Windows.Amidst(known.all(), known.before(), known.gathered());
            default -> null;
        };
    }

    /** All rows that are wanted have been met: the partition is walked now. */
    void begin() {
        GatherFunction.Bound figure = spec.calculation().gatherBound();
        amidst = switch (reach.kind()) {
            case ROWS_BEFORE, ROWS_OF_ALL, GATHERED ->
                new Windows.Amidst(counted, 0, figure == null ? null : figure.empty(1));
            default -> null;
        };
        if (late > 0) {
            Column empty = Objects.requireNonNull(figure).empty(1).finish(1);
            tail = empty.take(new int[late], late);
            tailLost = new boolean[late];
            tailPresent = new int[late];
        }
    }

    /**
     * The values of some rows.
     *
     * @param around rows with those around them that are looked at
     * @param from where these start among them, {@code to} where they end
     * @param own these rows alone
     */
    Column piece(Rows around, int from, int to, Rows own, Notices notices) {
        WalksStep one = new WalksStep(List.of(walked));
        FrameReach.Kind kind = reach.kind();
        if (kind == FrameReach.Kind.NEAR || kind == FrameReach.Kind.SPAN) {
            Column column = new Windows(around, notices, 1, from, to, Map.of())
                    .run(one)
                    .column(spec.slot())
                    .take(IntStream.range(from, to).toArray(), own.size());
            return full == null ? column : insideOnly(column, own, full);
        }
        Windows.Amidst here = amidst;
        Windows far = new Windows(
                own,
                late > 0 ? new Notices() : notices,
                1,
                0,
                Integer.MAX_VALUE,
                here == null ? Map.of() : Map.of(walked, here));
        Column column = far.run(one).column(spec.slot());
        return switch (kind) {
            case DIFFERENT_BEFORE -> carriedOn(column);
            case NTH -> nth(own);
            case GATHERED -> guarded(late > 0 ? late(column, notices) : column, own);
            default -> column;
        };
    }

    /** Places that count from the start of the partition, not of the piece. */
    private Column carriedOn(Column column) {
        long before = different;
        long[] places = ((LongColumn) column).values().clone();
        for (int i = 0; i < places.length; i++) {
            places[i] += before;
            if (!column.isMissing(i)) {
                different = Math.max(different, places[i]);
            }
        }
        return new LongColumn(Type.INTEGER, places, places.length, column.valid());
    }

    private Column nth(Rows own) {
        int[] pick = new int[own.size()];
        Arrays.fill(pick, -1);
        if (nth == null) {
            return argument(own, 0).take(pick, pick.length);
        }
        for (int row : taking(own)) {
            pick[row] = 0;
        }
        return nth.take(pick, pick.length);
    }

    /** Values some rows late; those that nobody sees at the end of the partition are not told of. */
    private Column late(Column column, Notices notices) {
        Column before = Objects.requireNonNull(tail);
        int size = column.size();
        Column all = Column.join(column.type(), List.of(before, column.flat()));
        boolean[] lost = Arrays.copyOf(tailLost, late + size);
        for (int i = 0; column instanceof DoubleColumn numbers && i < size; i++) {
            lost[late + i] = numbers.lost(i, i + 1) > 0;
        }
        long told = IntStream.range(0, size).filter(i -> lost[i]).count();
        notices.count(Notices.Kind.NO_NUMBER, spec.place().text(), told);
        tailLost = Arrays.copyOfRange(lost, size, late + size);
        tail = all.take(IntStream.range(size, late + size).toArray(), late);
        return all.take(IntStream.range(0, size).toArray(), size);
    }

    /** Missing where the frame holds fewer values than are wanted. */
    private Column guarded(Column column, Rows own) {
        if (atLeast == 0) {
            return column;
        }
        int size = own.size();
        int[] counts = Arrays.copyOf(tailPresent, late + size);
        boolean[] takes = new boolean[size];
        for (int row : taking(own)) {
            takes[row] = true;
        }
        Column value = spec.args().isEmpty() ? null : argument(own, 0);
        for (int i = 0; i < size; i++) {
            present += takes[i] && (value == null || !value.isMissing(i)) ? 1 : 0;
            counts[late + i] = present;
        }
        tailPresent = Arrays.copyOfRange(counts, size, late + size);
        return column.take(
                IntStream.range(0, size).map(i -> counts[i] >= atLeast ? i : -1).toArray(), size);
    }

    /** Missing where the frame reaches beyond the partition. */
    private Column insideOnly(Column column, Rows own, Frame.Span span) {
        Column key = key(own);
        int[] pick = new int[own.size()];
        for (int i = 0; i < pick.length; i++) {
            boolean inside = !key.isMissing(i) && isInside(span, key.type(), ((LongColumn) key).values()[i]);
            pick[i] = inside ? i : -1;
        }
        return column.take(pick, pick.length);
    }

    private boolean isInside(Frame.Span span, Type type, long value) {
        long limit = span.reach(type, value, span.forward());
        return span.forward() ? last >= limit - 1 : first <= limit + 1;
    }

    private Column key(Rows rows) {
        return spec.along()
                .get(0)
                .key()
                .kernel(new Notices())
                .eval(rows.batch())
                .flat();
    }

    private Column argument(Rows rows, int place) {
        return spec.args().get(place).kernel(new Notices()).eval(rows.batch()).flat();
    }

    /** The rows that take part. */
    private int[] taking(Rows rows) {
        Expression only = spec.only();
        return only == null
                ? IntStream.range(0, rows.size()).toArray()
                : GatherInput.met(only.kernel(new Notices()), rows.batch());
    }
}
