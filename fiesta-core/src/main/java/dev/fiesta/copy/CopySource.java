package dev.fiesta.copy;

import dev.fiesta.copy.CopyIndex.Block;
import dev.fiesta.copy.CopyIndex.Segment;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.CellNotes;
import dev.fiesta.source.PieceTurns;
import dev.fiesta.source.ScanInTurns;
import dev.fiesta.source.Source;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Bounds;
import dev.fiesta.value.Column;
import dev.fiesta.value.ColumnBytes;
import dev.fiesta.value.Halving;
import dev.fiesta.value.Kind;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.nio.channels.ClosedChannelException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Records in a copy: the batches that their files give, with the places of the records there. */
final class CopySource implements Source {
    /** Where the records stand in their files, for when the copy cannot be read any more. */
    interface Files {
        /** @param damaged whether the copy is, and not only gone or replaced by another */
        Source instead(boolean damaged);
    }

    private final Path file;
    private final int check;
    private final CopyIndex index;
    private final Files files;
    private final TextColumn[] dictionaries;
    private @Nullable Source instead;

    /** @param check of the index in the file */
    CopySource(Path file, int check, CopyIndex index, Files files) {
        this.file = file;
        this.check = check;
        this.index = index;
        this.files = files;
        this.dictionaries = new TextColumn[index.fields().size()];
    }

    @Override
    public Schema schema() {
        return index.fields();
    }

    @Override
    public boolean isDeclared(int field) {
        return index.declared().get(field);
    }

    @Override
    public Map<String, String> sums() {
        Map<String, String> sums = new LinkedHashMap<>();
        index.files().forEach(f -> sums.put(f.name(), f.sum()));
        return sums;
    }

    @Override
    public List<Bounds.Known> groups() {
        return index.blocks().stream()
                .<Bounds.Known>map(block -> field -> bounds(block, field))
                .toList();
    }

    private @Nullable Bounds bounds(Block block, int field) {
        if (field >= schema().size() || !block.columns().get(field).isBounded()) {
            return null;
        }
        Segment ends = block.columns().get(field);
        return new Bounds(new LongColumn(schema().type(field), new long[] {ends.least(), ends.most()}, 2, null));
    }

    @Override
    public Scan scan(Notices notices) {
        index.remarks().forEach(notices::warn);
        try {
            return new BlockScan(CopyFile.reading(file, check));
        } catch (IOException e) {
            throw fromFiles(e);
        }
    }

    private RuntimeException fromFiles(IOException why) {
        if (why instanceof ClosedChannelException) { // by an interrupt, whichever worker had it
            return new Interrupted();
        }
        synchronized (this) {
            if (instead == null) {
                instead = files.instead(why instanceof CopyFile.Damaged);
            }
            return new Widened(this, instead, List.of());
        }
    }

    /** The texts of a field that its blocks have in common; read when somebody needs them. */
    private TextColumn dictionary(CopyFile from, int field) throws IOException {
        synchronized (dictionaries) {
            if (dictionaries[field] == null) {
                Segment texts = index.dictionaries().get(field);
                int size = (int) texts.most() + 1;
                dictionaries[field] = (TextColumn) ColumnBytes.read(Type.TEXT, size, from.read(texts));
            }
            return dictionaries[field];
        }
    }

    private Column column(CopyFile from, Block block, int field) throws IOException {
        Segment segment = block.columns().get(field);
        if (!segment.coded()) {
            Type type = field < schema().size() ? schema().type(field) : Type.INTEGER;
            return ColumnBytes.read(type, block.rows(), from.read(segment));
        }
        LongColumn coded = (LongColumn) ColumnBytes.read(Type.INTEGER, block.rows(), from.read(segment));
        TextColumn texts = dictionary(from, field);
        int[] codes = new int[block.rows()];
        int[] known = texts.codes();
        long[] values = coded.values();
        for (int i = 0; i < codes.length; i++) {
            codes[i] = coded.isMissing(i) ? -1 : known[(int) values[i]];
        }
        return TextColumn.of(codes, texts.dictionary(), codes.length);
    }

    private @Nullable String place(Block block, int row) {
        try (CopyFile from = CopyFile.reading(file, check)) {
            LongColumn numbers = (LongColumn) column(from, block, schema().size() + 1);
            return index.names().get(block.file()) + ", " + index.counted() + " " + numbers.values()[row];
        } catch (IOException e) {
            RuntimeException failure = fromFiles(e);
            return failure instanceof Widened instead
                    ? place(instead.source(), block.sequence(), row)
                    : index.names().get(block.file());
        }
    }

    /** As the files tell it, which are gone through for that. */
    private static @Nullable String place(Source files, long sequence, int row) {
        try (Scan scan = files.scan(new Notices())) {
            Reader reader = scan.reader(new Notices());
            Batch batch = reader.next();
            while (batch != null && batch.sequence() < sequence) {
                batch = reader.next();
            }
            return batch == null ? null : batch.place(row).get();
        }
    }

    /** One reading: blocks are given out in order. */
    private final class BlockScan implements ScanInTurns {
        private final PieceTurns turns = new PieceTurns(
                index.blocks().size(), block -> index.blocks().get(block).sequence());
        private final CopyFile from;

        BlockScan(CopyFile from) {
            this.from = from;
        }

        @Override
        public PieceTurns turns() {
            return turns;
        }

        @Override
        public Reader reader(Notices notices) {
            return new BlockReader(this, notices);
        }

        @Nullable
        Block claim() {
            int block = turns.claim();
            return block < 0 ? null : index.blocks().get(block);
        }

        @Override
        public void close() {
            stop(0);
            try {
                from.close();
            } catch (IOException e) {
                return; // nothing was written: there is nothing to lose
            }
        }
    }

    /** The reading of one worker. */
    private final class BlockReader implements Reader {
        private final BlockScan scan;
        private final CellNotes notes = new CellNotes(CopySource.this);
        private long sequence;

        BlockReader(BlockScan scan, Notices notices) {
            this.scan = scan;
            notes.tell(notices);
        }

        @Override
        public void tell(Notices notices) {
            notes.tell(notices);
        }

        @Override
        public long sequence() {
            return sequence;
        }

        @Override
        public @Nullable Batch next() {
            Block block = scan.claim();
            return block == null ? null : batch(block);
        }

        @Override
        public Batch again(long wanted) {
            List<Block> blocks = index.blocks();
            int behind = Halving.behind(1, blocks.size(), b -> blocks.get(b).sequence() <= wanted);
            return batch(blocks.get(behind - 1));
        }

        private Batch batch(Block block) {
            sequence = block.sequence();
            notes.begin(sequence);
            block.notes()
                    .forEach(n -> notes.met(
                            n.kind(),
                            n.field(),
                            schema().field(n.field()).name(),
                            n.row(),
                            n.value(),
                            () -> place(block, n.row())));
            return Batch.lazy(
                    block.rows(),
                    schema().size() + HIDDEN,
                    notes.loader(new Batch.Loader() {
                        @Override
                        public Column load(int field, int @Nullable [] rows, int count) {
                            return CopySource.this.load(scan.from, block, field, rows, count);
                        }

                        @Override
                        public @Nullable Bounds bounds(int field) {
                            return CopySource.this.bounds(block, field);
                        }
                    }),
                    sequence,
                    row -> () -> place(block, row));
        }
    }

    private Column load(CopyFile from, Block block, int field, int @Nullable [] rows, int count) {
        if (field == schema().size()) {
            return Column.constant(Type.TEXT, index.names().get(block.file()), count);
        }
        if (field < schema().size() && schema().type(field).kind() == Kind.EMPTY) {
            return Column.missing(Type.EMPTY, count);
        }
        try {
            Column all = column(from, block, field < schema().size() ? field : field - 1);
            return rows == null ? all : all.take(rows, count);
        } catch (IOException e) {
            throw fromFiles(e);
        }
    }
}
