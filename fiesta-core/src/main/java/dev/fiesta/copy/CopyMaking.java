package dev.fiesta.copy;

import dev.fiesta.copy.CopyIndex.Block;
import dev.fiesta.copy.CopyIndex.Note;
import dev.fiesta.copy.CopyIndex.Seen;
import dev.fiesta.copy.CopyIndex.Segment;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.Notices;
import dev.fiesta.progress.Watch;
import dev.fiesta.source.Source;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import dev.fiesta.value.ColumnBytes;
import dev.fiesta.value.Dictionary;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import org.jspecify.annotations.Nullable;

/** Writes the records of a source into a copy: workers take batches and write each as a block, wherever the file ends just then. */
final class CopyMaking {
    /** A field with more different texts, or bytes of them, has them block by block. */
    private static final int MOST_TEXTS = 1 << 16;

    private static final long MOST_BYTES = 1 << 21;
    /** A worker whose texts come in many dictionaries forgets what it knew of them. */
    private static final int MOST_REMEMBERED = 16;

    private static final int MOST_NOTES = 100_000;

    private final Source source;
    private final Schema schema;
    private final CopyFile to;
    private final Watch watch;
    private final Map<Long, Block> blocks = new ConcurrentSkipListMap<>();
    private final ConcurrentSkipListMap<Integer, String> names = new ConcurrentSkipListMap<>();
    private final ConcurrentSkipListMap<Long, Throwable> failures = new ConcurrentSkipListMap<>();
    private final Dictionary[] dictionaries;
    private final BitSet open = new BitSet();
    private final AtomicInteger notes = new AtomicInteger();

    /** @param watch is told how far it is */
    CopyMaking(Source source, CopyFile to, Watch watch) {
        this.watch = watch;
        this.source = source;
        this.schema = source.schema();
        this.to = to;
        this.dictionaries = new Dictionary[schema.size()];
        for (int f = 0; f < dictionaries.length; f++) {
            dictionaries[f] = new Dictionary();
            open.set(f);
        }
    }

    /**
     * Copies all records.
     *
     * @param input its name
     * @param numbers of its records
     * @param files that the records come from
     * @param made when this was begun, in milliseconds since 1970
     * @throws IOException when the copy cannot be written, or something in the records cannot be kept
     * @throws dev.fiesta.problem.DataException when a record cannot be read
     * @throws Source.Widened when a value needs a wider type
     */
    void make(String input, Source.Numbering numbers, List<Seen> files, long made, int threads) throws IOException {
        Notices told = new Notices();
        read(input, told, threads);
        List<Block> numbered = numbered(numbers);
        BitSet declared = new BitSet();
        for (int f = 0; f < schema.size(); f++) {
            declared.set(f, source.isDeclared(f));
        }
        to.finish(new CopyIndex(
                made, files, names(), schema, declared, told.warnings(), numbers.counted(), dictionaries(), numbered));
    }

    /** By the numbers of files; of one without records nobody asks the name. */
    private List<String> names() {
        List<String> all = new ArrayList<>();
        names.forEach((file, name) -> {
            while (all.size() < file) {
                all.add("");
            }
            all.add(name);
        });
        return all;
    }

    private void read(String input, Notices told, int threads) throws IOException {
        ExecutorService workers = Executors.newFixedThreadPool(threads);
        try (Source.Scan scan = source.scan(told)) {
            watch.phase("copying " + input, 0, scan::share);
            List<Future<?>> all = new ArrayList<>();
            for (int i = 0; i < threads; i++) {
                all.add(workers.submit(() -> work(scan)));
            }
            for (Future<?> one : all) {
                one.get();
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new Interrupted();
        } catch (ExecutionException e) {
            throw new IOException(e.getCause());
        } finally {
            workers.shutdownNow();
        }
        if (!failures.isEmpty()) {
            rethrow(failures.firstEntry().getValue());
        }
    }

    /** What stands behind a failure may fail for no other reason: only the earliest is told. */
    private void work(Source.Scan scan) {
        Source.Reader reader = scan.reader(Notices.draft());
        try {
            new Worker().run(reader);
        } catch (IOException | RuntimeException | OutOfMemoryError e) {
            failures.putIfAbsent(reader.sequence(), e);
            scan.stop(reader.sequence());
        }
    }

    private static void rethrow(Throwable failure) throws IOException {
        if (failure instanceof RuntimeException known) {
            throw known;
        }
        throw failure instanceof IOException known ? known : new IOException("memory ended", failure);
    }

    /** Blocks with the numbers of their records, which are known only when all before them are. */
    private List<Block> numbered(Source.Numbering numbers) throws IOException {
        List<Block> numbered = new ArrayList<>();
        for (Block block : blocks.values()) {
            Column origins = ColumnBytes.read(
                    Type.INTEGER, block.rows(), to.read(block.columns().get(schema.size())));
            long[] own = new long[block.rows()];
            for (int i = 0; i < own.length; i++) {
                own[i] = numbers.of(((LongColumn) origins).values()[i]);
            }
            LongColumn column = new LongColumn(Type.INTEGER, own, own.length, null);
            numbered.add(block.with(to.write(ColumnBytes.of(column), false, 1, 0)));
            if (Thread.currentThread().isInterrupted()) {
                throw new Interrupted();
            }
        }
        return numbered;
    }

    private List<Segment> dictionaries() throws IOException {
        List<Segment> written = new ArrayList<>();
        for (Dictionary dictionary : dictionaries) {
            int[] codes = new int[dictionary.size()];
            for (int i = 0; i < codes.length; i++) {
                codes[i] = i;
            }
            ByteBuffer bytes = ColumnBytes.of(TextColumn.of(codes, dictionary, codes.length));
            written.add(to.write(bytes, false, 0, codes.length - 1L));
        }
        return written;
    }

    /** The numbers of texts in the dictionary of a field; null when it has too many. */
    private int @Nullable [] codes(int field, Dictionary texts, int[] known) {
        synchronized (dictionaries[field]) {
            if (!open.get(field)) {
                return null;
            }
            Dictionary all = dictionaries[field];
            if (all.size() + texts.size() - known.length > MOST_TEXTS || all.memory() + texts.memory() > MOST_BYTES) {
                open.clear(field);
                return null;
            }
            int[] codes = Arrays.copyOf(known, texts.size());
            all.translate(texts, codes, known.length);
            return codes;
        }
    }

    /** One of the workers. */
    private final class Worker {
        private final List<Map<Dictionary, int[]>> translated = new ArrayList<>();
        private List<Note> met = new ArrayList<>();

        Worker() {
            for (int f = 0; f < schema.size(); f++) {
                translated.add(new IdentityHashMap<>());
            }
        }

        void run(Source.Reader reader) throws IOException {
            reader.tell(Notices.listening(this::met));
            for (Batch batch = reader.next(); batch != null; batch = reader.next()) {
                if (batch.size() > 0) {
                    blocks.put(batch.sequence(), block(batch));
                    watch.rows(batch.size());
                }
                reader.finish();
                if (Thread.currentThread().isInterrupted()) {
                    throw new Interrupted();
                }
            }
        }

        private void met(Notices.Kind kind, String field, long sequence, int row, String value) {
            met.add(new Note(kind, schema.names().indexOf(field), row, value));
        }

        private Block block(Batch batch) throws IOException {
            met = new ArrayList<>();
            List<Segment> columns = new ArrayList<>();
            for (int f = 0; f < schema.size(); f++) {
                int before = met.size();
                Column column = batch.once(f);
                columns.add(segment(f, column, met.size() == before));
            }
            LongColumn origins = (LongColumn) batch.column(schema.size() + 1).flat();
            columns.add(to.write(ColumnBytes.of(origins), false, 1, 0));
            if (notes.addAndGet(met.size()) > MOST_NOTES) {
                throw new IOException("too many cells are to be told of");
            }
            int file = Source.file(origins.values()[0]);
            names.putIfAbsent(file, String.valueOf(batch.column(schema.size()).get(0)));
            return new Block(batch.sequence(), file, batch.size(), columns, List.copyOf(met));
        }

        /** @param plain whether no cell is to be told of, which would be missed where the values are never looked at */
        private Segment segment(int field, Column given, boolean plain) throws IOException {
            Column column = given.flat();
            if (column instanceof TextColumn texts) {
                LongColumn coded = coded(field, texts);
                return to.write(ColumnBytes.of(coded == null ? texts : coded), coded != null, 1, 0);
            }
            if (!(column instanceof LongColumn longs) || !plain || longs.valid() != null || longs.size() == 0) {
                return to.write(ColumnBytes.of(column), false, 1, 0);
            }
            long least = Long.MAX_VALUE;
            long most = Long.MIN_VALUE;
            for (int i = 0; i < longs.size(); i++) {
                least = Math.min(least, longs.values()[i]);
                most = Math.max(most, longs.values()[i]);
            }
            return to.write(ColumnBytes.of(longs), false, least, most);
        }

        private @Nullable LongColumn coded(int field, TextColumn texts) {
            Dictionary own = texts.dictionary();
            int[] known = translated.get(field).getOrDefault(own, new int[0]);
            if (known.length < own.size()) {
                int[] more = codes(field, own, known);
                if (more == null) {
                    return null;
                }
                known = more;
                if (translated.get(field).size() > MOST_REMEMBERED) {
                    translated.get(field).clear();
                }
                translated.get(field).put(own, known);
            }
            long[] codes = new long[texts.size()];
            for (int i = 0; i < codes.length; i++) {
                int code = texts.codes()[i];
                codes[i] = code < 0 ? 0 : known[code];
            }
            return new LongColumn(Type.INTEGER, codes, codes.length, texts.valid());
        }
    }
}
