package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.io.OutputStream;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentSkipListMap;

/** The records of an input that could not be read, and what was wrong with each. Thread-safe. */
public final class Aside {
    private static final int SHOWN = 5;
    private static final int ROW_BITS = 38;

    /**
     * A file of the input.
     *
     * @param head the bytes before its first record
     */
    record InputFile(String name, Path path, long head, byte newline) {}

    /**
     * A record set aside.
     *
     * @param part its file, by place in the list; {@code start} and {@code end} the bytes of its line there
     * @param field the field, or empty where the whole record is wrong
     * @param reason what is wrong, without the value
     */
    record Found(int part, long start, long end, String field, String value, String reason) {}

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
    private final Map<Long, Found> found = new ConcurrentSkipListMap<>();
    private final Map<Long, Integer> judged = new ConcurrentHashMap<>();
    private List<InputFile> parts = List.of();

    /**
     * @param input the name of the input
     * @param most at most so many records, or so many percent of all, may be set aside
     */
    public Aside(String input, BigDecimal most, boolean percent) {
        this.input = input;
        this.most = most;
        this.percent = percent;
    }

    void of(List<InputFile> files) {
        parts = files;
    }

    /** Takes note of a piece of which some rows were judged, and of those of them that are set aside, by row. */
    void judged(long piece, int rows, Map<Integer, Found> bad) {
        judged.merge(piece, rows, Math::max);
        bad.forEach((row, record) -> {
            if (row < rows) {
                found.put(piece << ROW_BITS | row, record);
            }
        });
    }

    /** The name of the input. */
    public String input() {
        return input;
    }

    /** How many records were set aside. */
    public int count() {
        return found.size();
    }

    /** How many records were judged, those set aside among them. */
    public long records() {
        return judged.values().stream().mapToLong(Integer::longValue).sum();
    }

    /** The first of them, in the order of the files. */
    public List<Reason> first() {
        return reasons(SHOWN);
    }

    /** @throws DataException when more are set aside than may be */
    public void refuse() {
        BigDecimal count = BigDecimal.valueOf(found.size());
        BigDecimal limit =
                percent ? most.multiply(BigDecimal.valueOf(records())).movePointLeft(2) : most;
        if (count.compareTo(limit) <= 0) {
            return;
        }
        List<Reason> first = first();
        StringBuilder text = new StringBuilder();
        text.append(
                first.get(0).file() + ": " + found.size() + " of " + records() + " records cannot be read, more than "
                        + (percent
                                ? most.toPlainString() + " percent ("
                                        + limit.setScale(0, RoundingMode.FLOOR).toPlainString() + ")"
                                : most.toPlainString())
                        + " that may be set aside.");
        for (Reason reason : first) {
            text.append("\n    ").append(reason.text());
        }
        if (found.size() > first.size()) {
            text.append("\n    … and ").append(found.size() - first.size()).append(" more");
        }
        text.append("\n  Repair them, or let more be set aside: unreadable aside at most ")
                .append(found.size())
                .append('.');
        throw new DataException(
                text.toString(), first.get(0).file(), first.get(0).line(), null, null);
    }

    /** Files with the records, each with the lines before the records of its file; those of the same beginning together. */
    public Map<String, Content> files() {
        Map<String, Content> files = new LinkedHashMap<>();
        for (List<Found> group : groups()) {
            String number = files.isEmpty() ? "" : "-" + (files.size() + 1);
            files.put(number + ending(parts.get(group.get(0).part()).name()), out -> write(group, out));
        }
        return files;
    }

    /** What is written to a file. */
    @FunctionalInterface
    public interface Content {
        void write(OutputStream out) throws IOException;
    }

    /** What was wrong with each, in the order of the files. */
    public List<Reason> reasons() {
        return reasons(Integer.MAX_VALUE);
    }

    private static String ending(String name) {
        String plain = name.replaceAll("\\.(gz|zst)$", "");
        int dot = plain.lastIndexOf('.');
        String ending = dot < 0 ? "" : plain.substring(dot + 1);
        return ending.matches("[A-Za-z0-9]{1,5}") ? "." + ending : ".csv";
    }

    /** Records whose files begin with the same lines, in the order in which they are met. */
    private List<List<Found>> groups() {
        Map<String, List<Found>> groups = new LinkedHashMap<>();
        Map<Integer, String> heads = new LinkedHashMap<>();
        found.values()
                .forEach(
                        f -> groups.computeIfAbsent(heads.computeIfAbsent(f.part(), this::head), h -> new ArrayList<>())
                                .add(f));
        return List.copyOf(groups.values());
    }

    private String head(int part) {
        return new String(bytes(part, 0, parts.get(part).head()), StandardCharsets.ISO_8859_1);
    }

    private void write(List<Found> records, OutputStream out) throws IOException {
        byte[] head =
                bytes(records.get(0).part(), 0, parts.get(records.get(0).part()).head());
        out.write(head);
        for (Found record : records) {
            out.write(bytes(record.part(), record.start(), record.end()));
            out.write(parts.get(record.part()).newline());
        }
    }

    private byte[] bytes(int part, long from, long to) {
        ByteBuffer buffer = ByteBuffer.allocate(Math.toIntExact(to - from));
        try (FileChannel channel = FileChannel.open(parts.get(part).path(), StandardOpenOption.READ)) {
            while (buffer.hasRemaining() && channel.read(buffer, from + buffer.position()) >= 0) {
                continue;
            }
        } catch (IOException e) {
            throw new MachineException("'" + parts.get(part).name() + "' cannot be read", e);
        }
        return buffer.array();
    }

    private List<Reason> reasons(int count) {
        List<Reason> all = new ArrayList<>();
        for (List<Found> group : groups()) {
            long aside = 1
                    + lines(
                            group.get(0).part(),
                            0,
                            parts.get(group.get(0).part()).head());
            int part = -1;
            long at = 0;
            long line = 1;
            for (Found record : group) {
                if (all.size() >= count) {
                    return all;
                }
                if (record.part() != part) {
                    part = record.part();
                    at = 0;
                    line = 1;
                }
                line += lines(part, at, record.start());
                at = record.start();
                all.add(new Reason(
                        parts.get(part).name(), line, aside, record.field(), record.value(), record.reason()));
                aside += 1 + lines(part, record.start(), record.end());
            }
        }
        return all;
    }

    /** The line ends in some bytes of a file. */
    private long lines(int part, long from, long to) {
        byte end = parts.get(part).newline();
        long lines = 0;
        for (long at = from; at < to; at += DelimitedSource.PIECE) {
            for (byte b : bytes(part, at, Math.min(to, at + DelimitedSource.PIECE))) {
                lines += b == end ? 1 : 0;
            }
        }
        return lines;
    }
}
