package dev.fiesta.source;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.cells.CellType;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.TemporaryFiles;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Records that were handed over one after another, as lines of a temporary file: the number by which a record is told of, then for each
 * of its fields the number of the field, what sort of value it is, and the value.
 */
final class RecordSpool implements RecordFormat.Records {
    private static final int CHECKED = 1 << 12;

    private final String name;
    private final String counted;
    private final Path path;
    private final BufferedWriter out;
    private final LineGuess guess;
    /** The fields whose types nobody has to work out. */
    private final Set<String> told;

    /**
     * A field met.
     *
     * @param told whether nobody has to work its type out
     */
    private record Slot(int place, boolean told) {}

    private final Map<String, Slot> slots = new HashMap<>();
    private final List<String> names = new ArrayList<>();
    private final List<String> remarks = new ArrayList<>();
    private final StringBuilder record = new StringBuilder();
    private long records;

    private RecordSpool(String name, String counted, Dialect dialect, List<FieldSpec> fields) throws IOException {
        this.told =
                fields.stream().filter(f -> !f.isOpen()).map(FieldSpec::column).collect(Collectors.toSet());
        this.name = name;
        this.counted = counted;
        this.path = TemporaryFiles.create(".records");
        this.out = Files.newBufferedWriter(path, StandardCharsets.UTF_8);
        this.guess = new LineGuess(dialect);
    }

    /**
     * Takes all records of a file.
     *
     * @param name of what they come from, as it is told
     * @param counted what they are counted in, {@code row}
     * @param fields what was told of fields
     */
    static RecordSpool of(String name, String counted, Dialect dialect, List<FieldSpec> fields, Spooled.Feed feed) {
        RecordSpool spool;
        try {
            spool = new RecordSpool(name, counted, dialect, fields);
        } catch (IOException e) {
            throw unwritable(name, e);
        }
        boolean whole = false;
        try (BufferedWriter closed = spool.out) {
            feed.to(spool);
            if (spool.record.length() > 0) {
                throw new RequestException(
                        "'" + name + "': whoever reads it handed fields over and ended no record with them.");
            }
            spool.flush(closed);
            whole = true;
            return spool;
        } catch (FiestaException e) {
            throw e;
        } catch (UncheckedIOException e) {
            throw new MachineException("'" + name + "' cannot be read", e);
        } catch (RuntimeException e) {
            throw new RequestException("'" + name + "': whoever reads it failed: " + e, e);
        } catch (IOException e) {
            throw new MachineException("'" + name + "' cannot be read", e);
        } finally {
            if (!whole) {
                TemporaryFiles.drop(spool.path);
            }
        }
    }

    private static RuntimeException unwritable(String name, IOException e) {
        return e instanceof CharacterCodingException
                ? new RequestException("Whoever reads the records handed a text over that holds half of a character.")
                : TemporaryFiles.unwritable("What '" + name + "' holds", e);
    }

    private void flush(BufferedWriter writer) {
        try {
            writer.flush();
        } catch (IOException e) {
            throw unwritable(name, e);
        }
    }

    String name() {
        return name;
    }

    /** What records are counted in. */
    String counted() {
        return counted;
    }

    Path path() {
        return path;
    }

    /** The fields met with their types, of all values. */
    LineGuess guess() {
        return guess;
    }

    List<String> remarks() {
        return remarks;
    }

    /** How its lines are read. */
    SpooledLines lines() {
        return new SpooledLines(List.copyOf(names));
    }

    @Override
    public void field(String field) {
        slot(field);
    }

    private Slot slot(String field) {
        Slot known = slots.get(field);
        if (known == null) {
            known = new Slot(names.size(), told.contains(field));
            slots.put(field, known);
            names.add(field);
            guess.missing(field);
        }
        return known;
    }

    /** Puts a value down; true where its type is to be worked out. */
    private boolean put(String field, char kind, String value) {
        Slot slot = slot(field);
        record.append('\t').append(slot.place()).append(kind);
        for (int i = 0; i < value.length(); i++) {
            char c = value.charAt(i);
            switch (c) {
                case '\t' -> record.append("\\t");
                case '\n' -> record.append("\\n");
                case '\r' -> record.append("\\r");
                case '\\' -> record.append("\\\\");
                default -> record.append(c);
            }
        }
        return !slot.told();
    }

    @Override
    public void text(String field, String value) {
        if (put(field, SpooledLines.TEXT, value)) {
            guess.text(field, value);
        }
    }

    @Override
    public void cell(String field, String written) {
        if (put(field, SpooledLines.WRITTEN, written)) {
            guess.cell(field, written);
        }
    }

    @Override
    public void number(String field, String digits) {
        if (put(field, SpooledLines.NUMBER, digits)) {
            if (!CellType.ofNumber(digits.getBytes(StandardCharsets.UTF_8)).isNumeric()) {
                throw new RequestException("'" + name + "': whoever reads it handed '" + digits
                        + "' over as the number " + field + ", which is none.");
            }
            guess.number(field, digits);
        }
    }

    @Override
    public void truth(String field, boolean value) {
        if (put(field, value ? SpooledLines.TRUE : SpooledLines.FALSE, "")) {
            guess.truth(field, value);
        }
    }

    @Override
    public void missing(String field) {
        put(field, SpooledLines.MISSING, "");
    }

    @Override
    public void end(long number) {
        if (++records % CHECKED == 0 && Thread.currentThread().isInterrupted()) {
            throw new Interrupted();
        }
        if (record.length() > LineReader.MOST_IN_A_LINE / 4) {
            throw new DataException(
                    name + ", " + counted + " " + number + ": a record holds at most 4 million characters.",
                    name,
                    number,
                    null,
                    null);
        }
        try {
            out.write(Long.toString(number));
            out.append(record).write('\n');
        } catch (IOException e) {
            throw unwritable(name, e);
        }
        record.setLength(0);
    }

    @Override
    public void remark(String sentence) {
        remarks.add(sentence);
    }
}
