package dev.fiesta.engine;

import dev.fiesta.compute.Types;
import dev.fiesta.gather.Image;
import dev.fiesta.language.Clause.Unmatched;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Notices;
import dev.fiesta.step.MatchStep;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * A look-up over rows in a file. Where the other table does not fit into memory, both are split by a hash of their keys, so that
 * rows with equal keys come into the same part; the parts are looked up one by one, and what they give is put back into the
 * order of the rows.
 */
final class FileMatch {
    /** What the keys of a row take beside its columns. */
    private static final int BYTES_A_ROW = 48;

    private static final int MOST_PARTS = 256;
    private static final int FEWEST_ROWS = 8;
    private static final int WAITING_PART = 4;

    private final MatchStep step;
    private final Stored theirs;
    private final Notices notices;
    private final Memory memory;

    FileMatch(MatchStep step, Stored theirs, Notices notices, Memory memory) {
        this.step = step;
        this.theirs = theirs;
        this.notices = notices;
        this.memory = memory;
    }

    /** How many parts the other table must be split into: 1 where it fits into memory. */
    static int parts(MatchStep step, Stored theirs, Memory memory) {
        long bytes = theirs instanceof FileRows file
                ? file.bytes(step.fieldsOf(step.table()))
                : theirs.load().bytes();
        long whole = bytes + BYTES_A_ROW * theirs.rows();
        long parts = 1 + whole / Math.max(1, memory.limit() / 2);
        return (int) Math.min(Math.min(parts, MOST_PARTS), 1 + theirs.rows() / FEWEST_ROWS);
    }

    /**
     * Looks rows up.
     *
     * @param before the slots needed before it
     * @param after the slots needed behind it
     */
    FileRows run(FileRows rows, BitSet before, BitSet after) {
        int parts = parts(step, theirs, memory);
        return parts == 1 ? whole(rows, before, after) : new Split(rows, before, after, parts).run();
    }

    private FileRows whole(FileRows rows, BitSet before, BitSet after) {
        Rows held = theirs instanceof FileRows file ? file.load(step.fieldsOf(step.table())) : theirs.load();
        Matching matching = new Matching(step, held);
        MatchStage stage = new MatchStage(matching, notices, 1);
        FileRows matched =
                step.each() ? multiplied(rows, stage, before, after) : FileRunner.each(rows, stage::apply, after);
        matching.refuse();
        if (step.unmatched() != Unmatched.ALSO_UNMATCHED) {
            return matched;
        }
        Rows below = RowsRunner.without(step, matched.read(0, after), held, stage.matched());
        return matched.with(FileRows.of(memory, below));
    }

    private FileRows multiplied(FileRows rows, MatchStage stage, BitSet before, BitSet after) {
        List<FileRows.Block> blocks = new ArrayList<>();
        for (int b = 0; b < rows.blocks(); b++) {
            StepsRun.stopIfInterrupted();
            Batch batch = Batch.of(rows.block(b).rows(), rows.read(b, before).slots(), b);
            stage.each(batch, made -> add(made, after, blocks));
        }
        return new FileRows(memory.scratch(), blocks);
    }

    /** Writes rows down, where there are any; one block there must be, so that columns have their types. */
    private Rows add(Batch rows, BitSet kept, List<FileRows.Block> blocks) {
        @Nullable Column[] slots = new Column[kept.length()];
        kept.stream().forEach(s -> slots[s] = rows.column(s).flat());
        if (rows.size() > 0 || blocks.isEmpty()) {
            blocks.add(FileRows.write(memory.scratch(), rows.size(), slots));
        }
        return new Rows(rows.size(), slots);
    }

    /** A look-up part by part. */
    private final class Split {
        private final FileRows rows;
        private final BitSet before;
        private final BitSet after;
        private final int parts;
        private final int number;
        private final int theirNumber;
        private final Matching all;
        private final List<FileRows.Block> found = new ArrayList<>();
        private final List<FileRows.Block> below = new ArrayList<>();
        private long failedAt = Long.MAX_VALUE;
        private @Nullable DataException failure;

        Split(FileRows rows, BitSet before, BitSet after, int parts) {
            this.rows = rows;
            this.before = before;
            this.after = after;
            this.parts = parts;
            this.number = Math.max(
                    Math.max(before.length(), after.length()),
                    step.bring().stream().mapToInt(b -> b.slot() + 1).max().orElse(0));
            this.theirNumber = step.fieldsOf(step.table()).length();
            this.all = new Matching(step, new Rows(0, new Column[0]));
        }

        FileRows run() {
            FileRows file = theirs instanceof FileRows known ? known : FileRows.of(memory, theirs.load());
            FileRows others = file.numbered(step.fieldsOf(step.table()), theirNumber);
            FileRows own = rows.numbered(before, number);
            Type[] types = types(own, others);
            List<FileRows> ours = split(own, step.ours(), types);
            List<FileRows> partners = split(others, step.theirs(), types);
            for (int p = 0; p < parts; p++) {
                part(ours.get(p), partners.get(p).load());
            }
            if (failure != null) {
                throw failure;
            }
            all.refuse();
            FileRows matched = inOrder(found);
            return below.isEmpty() ? matched : matched.with(inOrder(below));
        }

        private Type[] types(FileRows own, FileRows others) {
            Column[] ours = own.read(0, before).columns(step.ours());
            Column[] partners = others.read(0, step.fieldsOf(step.table())).columns(step.theirs());
            Type[] types = new Type[ours.length];
            Arrays.setAll(types, k -> Objects.requireNonNull(Types.common(ours[k].type(), partners[k].type())));
            return types;
        }

        private void part(FileRows ours, Rows partners) {
            StepsRun.stopIfInterrupted();
            Matching matching = new Matching(step, partners);
            MatchStage stage = new MatchStage(matching, notices, 1, number, theirNumber);
            BitSet kept = (BitSet) after.clone();
            kept.set(number);
            BitSet read = (BitSet) before.clone();
            read.set(number);
            try {
                Rows[] last = {new Rows(0, new Column[0])};
                for (int b = 0; b < ours.blocks(); b++) {
                    Batch batch =
                            Batch.of(ours.block(b).rows(), ours.read(b, read).slots(), b);
                    stage.each(batch, made -> last[0] = add(made, kept, found));
                }
                if (step.unmatched() == Unmatched.ALSO_UNMATCHED) {
                    Rows left = RowsRunner.without(step, last[0], partners, stage.matched());
                    int[] extra = RowsRunner.unmatched(partners, stage.matched());
                    Column places = partners.column(theirNumber).take(extra, extra.length);
                    below.addAll(blocks(left.with(number, places)));
                }
            } catch (DataException e) {
                if (stage.failedAt() < failedAt) {
                    failedAt = stage.failedAt();
                    failure = e;
                }
            }
            all.add(matching);
        }

        private List<FileRows.Block> blocks(Rows some) {
            FileRows written = FileRows.of(memory, some);
            List<FileRows.Block> blocks = new ArrayList<>();
            for (int b = 0; b < written.blocks(); b++) {
                blocks.add(written.block(b));
            }
            return blocks;
        }

        private FileRows inOrder(List<FileRows.Block> blocks) {
            return FileFirsts.backInOrder(new FileRows(memory.scratch(), blocks), number, after, memory);
        }

        /** Rows by part, in their order; every part has a block, so that its columns have their types. */
        private List<FileRows> split(FileRows from, List<Integer> keys, Type[] types) {
            List<List<Rows>> waiting = new ArrayList<>();
            List<List<FileRows.Block>> blocks = new ArrayList<>();
            for (int p = 0; p < parts; p++) {
                waiting.add(new ArrayList<>());
                blocks.add(new ArrayList<>());
            }
            BitSet every = new BitSet();
            every.set(0, from.block(0).slots().length);
            long bytes = 0;
            for (int b = 0; b < from.blocks(); b++) {
                Rows some = from.read(b, every);
                List<int[]> picked = picked(some.columns(keys), types, some.size());
                for (int p = 0; p < parts; p++) {
                    if (picked.get(p).length > 0 || b == 0) {
                        waiting.get(p).add(some.take(picked.get(p)));
                    }
                }
                bytes += some.bytes();
                if (bytes > memory.limit() / WAITING_PART || b == from.blocks() - 1) {
                    write(waiting, blocks);
                    bytes = 0;
                }
            }
            return blocks.stream().map(b -> new FileRows(memory.scratch(), b)).toList();
        }

        private void write(List<List<Rows>> waiting, List<List<FileRows.Block>> blocks) {
            for (int p = 0; p < parts; p++) {
                if (!waiting.get(p).isEmpty()) {
                    blocks.get(p).addAll(blocks(Rows.join(waiting.get(p))));
                    waiting.get(p).clear();
                }
            }
        }

        private List<int[]> picked(Column[] keys, Type[] types, int size) {
            int[] part = new int[size];
            for (int k = 0; k < keys.length; k++) {
                mix(Types.keys(keys[k], types[k]).flat(), part);
            }
            int[] counts = new int[parts];
            for (int i = 0; i < size; i++) {
                part[i] = Integer.remainderUnsigned(part[i], parts);
                counts[part[i]]++;
            }
            List<int[]> picked = new ArrayList<>();
            for (int count : counts) {
                picked.add(new int[count]);
            }
            int[] next = new int[parts];
            for (int i = 0; i < size; i++) {
                picked.get(part[i])[next[part[i]]++] = i;
            }
            return picked;
        }

        /** Mixes a key into hashes; equal values of one type have equal hashes, whatever column they stand in. */
        private static void mix(Column key, int[] hashes) {
            for (int i = 0; i < hashes.length; i++) {
                long value = key.isMissing(i) ? 0 : hash(key, i);
                long mixed = (hashes[i] * 31L + value) * 0x9E3779B97F4A7C15L;
                hashes[i] = (int) (mixed >>> 32);
            }
        }

        private static long hash(Column key, int row) {
            if (key instanceof LongColumn longs) {
                return longs.values()[row];
            }
            if (key instanceof DoubleColumn numbers) {
                return Image.ordered(numbers.values()[row]);
            }
            if (key instanceof TextColumn texts) {
                return texts.dictionary().hash(texts.codes()[row]);
            }
            return ((TruthColumn) key).isTrue(row) ? 1 : 0;
        }
    }
}
