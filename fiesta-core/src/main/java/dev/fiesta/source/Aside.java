package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.value.Packing;
import java.io.ByteArrayOutputStream;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** The records of an input that could not be read, and what was wrong with each. Thread-safe. */
public final class Aside {
    private static final int SHOWN = 5;

    /**
     * A file of the input.
     *
     * @param head the bytes before its first record
     * @param encoding what was told of its bytes, which are UTF-8 here; null where nothing was
     */
    record InputFile(
            String name,
            Path path,
            long head,
            byte newline,
            @Nullable Charset encoding) {}

    /**
     * A record set aside.
     *
     * @param part its file, by place in the list; {@code start} and {@code end} the bytes of its line there
     * @param field the field, or empty where the whole record is wrong
     * @param reason what is wrong, without the value
     */
    record Found(int part, long start, long end, String field, String value, String reason) {
        /** The same, with a reason that is known already. */
        private Found because(Map<String, String> known) {
            return new Found(part, start, end, field, value, known.computeIfAbsent(reason, r -> r));
        }
    }

    /**
     * A record set aside, as it is told.
     *
     * @param file its file, {@code line} its line there and {@code lineAside} that in the file of records set aside
     */
    public record Reason(String file, long line, long lineAside, String field, String value, String reason) {
        /** Without the value: {@code sales.csv, line 3, field amount: is not a decimal}. */
        public String text() {
            return file + ", line " + line + (field.isEmpty() ? "" : ", field " + field) + ": " + reason;
        }
    }

    private final String input;
    private final BigDecimal most;
    private final boolean percent;
    /** How many records of a piece are remembered. */
    private final int remembered;

    /** What is wrong, each reason once: there may be many records. */
    private final Map<String, String> reasons = new ConcurrentHashMap<>();

    /** For each piece how many of its rows were judged, and those of them that are set aside. */
    private final Map<Long, AsidePiece> pieces = new ConcurrentSkipListMap<>();

    private List<InputFile> parts = List.of();

    /**
     * @param input the name of the input
     * @param most at most so many records, or so many percent of all, may be set aside
     */
    public Aside(String input, BigDecimal most, boolean percent) {
        this(input, most, percent, Integer.MAX_VALUE);
    }

    private Aside(String input, BigDecimal most, boolean percent, int remembered) {
        this.remembered = remembered;
        this.input = input;
        this.most = most;
        this.percent = percent;
    }

    /** Counts any number of records, and remembers the first of them only; it cannot write them. */
    public static Aside counting(String input) {
        return new Aside(input, BigDecimal.valueOf(100), true, SHOWN);
    }

    void of(List<InputFile> files) {
        parts = files;
    }

    /** Takes note of a piece of which some first rows were judged, and of those that are set aside, by row. */
    void judged(long piece, int rows, Map<Integer, Found> bad) {
        AsidePiece now = new AsidePiece(
                rows,
                bad.entrySet().stream()
                        .filter(e -> e.getKey() < rows)
                        .map(e -> e.getValue().because(reasons))
                        .toList(),
                remembered);
        judged(piece, now);
    }

    private void judged(long piece, AsidePiece now) {
        pieces.merge(piece, now, (one, other) -> one.rows >= other.rows ? one : other);
    }

    /** Lets somebody look at records that are read for the tables later; what is noted meanwhile is forgotten. */
    void unnoticed(Runnable look) {
        Map<Long, AsidePiece> before = Map.copyOf(pieces);
        try {
            look.run();
        } finally {
            pieces.clear();
            pieces.putAll(before);
        }
    }

    /** Tells {@link #ofSetting} how to make one for somebody else who reads the same records, whose notes come back by {@link #write}. */
    void writeSetting(DataOutput out) throws IOException {
        out.writeInt(remembered);
    }

    static Aside ofSetting(DataInput in) throws IOException {
        return new Aside("", BigDecimal.valueOf(100), true, in.readInt());
    }

    /** Writes what was noted. */
    void write(DataOutput out) throws IOException {
        Packing.list(out, List.copyOf(pieces.entrySet()), piece -> {
            out.writeLong(piece.getKey());
            piece.getValue().write(out);
        });
    }

    /** Takes note of what another one wrote. */
    void read(DataInput in) throws IOException {
        for (int left = in.readInt(); left > 0; left--) {
            judged(in.readLong(), new AsidePiece(in));
        }
    }

    /** Those of some files, in their order. */
    private Stream<Found> found(Set<Integer> files) {
        return pieces.values().stream()
                .filter(p -> p.size() > 0 && files.contains(p.part))
                .flatMap(p -> IntStream.range(0, p.size()).mapToObj(p::get));
    }

    /** The name of the input. */
    public String input() {
        return input;
    }

    /** How many records were set aside. */
    public int count() {
        return pieces.values().stream().mapToInt(p -> p.count).sum();
    }

    /** How many records were judged, those set aside among them. */
    public long records() {
        return pieces.values().stream().mapToLong(p -> p.rows).sum();
    }

    /** The first of them, in the order of the files. */
    public List<Reason> first() {
        return reasons(SHOWN);
    }

    /** @throws DataException when more are set aside than may be */
    public void refuse() {
        int aside = count();
        BigDecimal count = BigDecimal.valueOf(aside);
        BigDecimal limit =
                percent ? most.multiply(BigDecimal.valueOf(records())).movePointLeft(2) : most;
        if (count.compareTo(limit) <= 0) {
            return;
        }
        List<Reason> first = first();
        StringBuilder text = new StringBuilder();
        text.append(first.get(0).file() + ": " + aside + " of " + records() + " records cannot be read, more than "
                + (percent
                        ? most.toPlainString() + " percent ("
                                + limit.setScale(0, RoundingMode.FLOOR).toPlainString() + ")"
                        : most.toPlainString())
                + " that may be set aside.");
        for (Reason reason : first) {
            text.append("\n    ").append(reason.text());
        }
        if (aside > first.size()) {
            text.append("\n    … and ").append(aside - first.size()).append(" more");
        }
        text.append("\n  Repair them, or let more be set aside: unreadable aside at most ")
                .append(aside)
                .append('.');
        throw new DataException(
                text.toString(), first.get(0).file(), first.get(0).line(), null, null);
    }

    /** Files with the records, each with the lines before the records of its file; those of the same beginning together. */
    public Map<String, Content> files() {
        Map<String, Content> files = new LinkedHashMap<>();
        for (Set<Integer> group : groups()) {
            String number = files.isEmpty() ? "" : "-" + (files.size() + 1);
            int first = group.iterator().next();
            files.put(number + ending(parts.get(first).name()), out -> write(group, out));
        }
        return files;
    }

    /** What is written to a file. */
    @FunctionalInterface
    public interface Content {
        void write(OutputStream out) throws IOException;
    }

    /** Hands over what was wrong with each, in the order of the files. */
    public void reasons(Consumer<Reason> to) {
        reasons(Long.MAX_VALUE, to);
    }

    /** How many records have which field and reason. */
    public Map<List<String>, Integer> counts() {
        Map<List<String>, Integer> counts = new TreeMap<>(Comparator.comparing(List::toString));
        for (AsidePiece piece : pieces.values()) {
            for (int i = 0; i < piece.size(); i++) {
                counts.merge(List.of(piece.fields[i], piece.reasons[i]), 1, Integer::sum);
            }
        }
        return counts;
    }

    private static String ending(String name) {
        String plain = name.replaceAll("\\.(gz|zst)$", "");
        int dot = plain.lastIndexOf('.');
        String ending = dot < 0 ? "" : plain.substring(dot + 1);
        return ending.matches("[A-Za-z0-9]{1,5}") ? "." + ending : ".csv";
    }

    /** Files that begin with the same lines before their records, of those that have records set aside. */
    private Collection<Set<Integer>> groups() {
        Map<String, Set<Integer>> groups = new LinkedHashMap<>();
        try (Files files = new Files()) {
            for (AsidePiece piece : pieces.values()) {
                if (piece.size() > 0) {
                    String head = new String(files.head(piece.part), StandardCharsets.ISO_8859_1);
                    groups.computeIfAbsent(head, h -> new LinkedHashSet<>()).add(piece.part);
                }
            }
        }
        return groups.values();
    }

    /** Where an encoding was told, it is told of the file with the records too, once that is a path of the input. */
    private void write(Set<Integer> group, OutputStream to) throws IOException {
        Charset encoding = parts.get(group.iterator().next()).encoding();
        if (encoding == null) {
            writeBytes(group, to);
            return;
        }
        ByteArrayOutputStream plain = new ByteArrayOutputStream();
        writeBytes(group, plain);
        Writer encoded = new OutputStreamWriter(to, encoding);
        encoded.write(plain.toString(StandardCharsets.UTF_8));
        encoded.flush();
    }

    private void writeBytes(Set<Integer> group, OutputStream out) throws IOException {
        try (Files files = new Files()) {
            out.write(files.head(group.iterator().next()));
            for (Iterator<Found> all = found(group).iterator(); all.hasNext(); ) {
                Found record = all.next();
                out.write(files.bytes(record.part(), record.start(), record.end()));
                out.write(parts.get(record.part()).newline());
            }
        }
    }

    private List<Reason> reasons(long count) {
        List<Reason> first = new ArrayList<>();
        reasons(count, first::add);
        return first;
    }

    private void reasons(long count, Consumer<Reason> to) {
        long left = count;
        try (Files files = new Files()) {
            for (Set<Integer> group : groups()) {
                int head = group.iterator().next();
                long aside = 1 + files.lines(head, 0, parts.get(head).head());
                int part = -1;
                long at = 0;
                long line = 1;
                for (Iterator<Found> all = found(group).iterator(); all.hasNext() && left > 0; left--) {
                    Found record = all.next();
                    if (record.part() != part) {
                        part = record.part();
                        at = 0;
                        line = 1;
                    }
                    line += files.lines(part, at, record.start());
                    at = record.start();
                    to.accept(new Reason(
                            parts.get(part).name(), line, aside, record.field(), record.value(), record.reason()));
                    aside += 1 + files.lines(part, record.start(), record.end());
                }
            }
        }
    }

    /** The files of the input, each opened when something of it is asked for. */
    private final class Files implements AutoCloseable {
        private final Map<Integer, FileChannel> open = new HashMap<>();

        byte[] head(int part) {
            return bytes(part, 0, parts.get(part).head());
        }

        byte[] bytes(int part, long from, long to) {
            ByteBuffer buffer = ByteBuffer.allocate(Math.toIntExact(to - from));
            try {
                FileChannel channel = open.get(part);
                if (channel == null) {
                    channel = FileChannel.open(parts.get(part).path(), StandardOpenOption.READ);
                    open.put(part, channel);
                }
                while (buffer.hasRemaining() && channel.read(buffer, from + buffer.position()) >= 0) {
                    continue;
                }
            } catch (IOException e) {
                throw new MachineException("'" + parts.get(part).name() + "' cannot be read", e);
            }
            return buffer.array();
        }

        /** The line ends in some bytes of a file. */
        long lines(int part, long from, long to) {
            byte end = parts.get(part).newline();
            long lines = 0;
            for (long at = from; at < to; at += DelimitedSource.PIECE) {
                for (byte b : bytes(part, at, Math.min(to, at + DelimitedSource.PIECE))) {
                    lines += b == end ? 1 : 0;
                }
            }
            return lines;
        }

        @Override
        public void close() {
            DelimitedScan.close(List.copyOf(open.values()));
        }
    }
}
