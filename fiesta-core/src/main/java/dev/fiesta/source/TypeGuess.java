package dev.fiesta.source;

import dev.fiesta.problem.MachineException;
import dev.fiesta.source.cells.CellFinder;
import dev.fiesta.source.cells.CellType;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.cells.MetCells;
import dev.fiesta.source.files.SampledBytes;
import dev.fiesta.value.Kind;
import dev.fiesta.value.WrittenNumber;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;

/** Works types out from the data: files up to 16 MB whole, larger ones from blocks spread evenly over each. */
final class TypeGuess {
    private static final byte[] NO_NUMBER = {'?'};

    private final List<FieldSpec> fields;
    private final List<MetCells> met;

    private TypeGuess(List<FieldSpec> fields) {
        this.fields = fields;
        this.met = fields.stream().map(f -> new MetCells(f.openScale())).toList();
    }

    /**
     * The fields, those not declared with the types that their cells show.
     *
     * @param remarks gets what whoever reads them must know
     */
    static List<FieldSpec> of(List<DelimitedSource.Part> parts, List<FieldSpec> fields, List<String> remarks) {
        if (fields.stream().noneMatch(FieldSpec::isOpen)) {
            return fields;
        }
        TypeGuess guess = new TypeGuess(fields);
        parts.parallelStream().map(part -> new TypeGuess(fields).look(part)).forEachOrdered(guess::add);
        List<FieldSpec> known = new ArrayList<>();
        for (int i = 0; i < fields.size(); i++) {
            FieldSpec field = fields.get(i);
            known.add(field.isOpen() ? field.as(guess.met.get(i).type()) : field);
            guess.met.get(i).remark(field.name()).ifPresent(remarks::add);
        }
        return List.copyOf(known);
    }

    private void add(TypeGuess other) {
        IntStream.range(0, met.size()).forEach(f -> met.get(f).add(other.met.get(f)));
    }

    private TypeGuess look(DelimitedSource.Part part) {
        try (FileChannel channel = FileChannel.open(part.path(), StandardOpenOption.READ)) {
            for (long[] block : SampledBytes.blocks(part.dataStart(), part.size())) {
                block(part, channel, block[0], (int) block[1], block[0] == part.dataStart());
            }
            return this;
        } catch (IOException e) {
            throw new MachineException("'" + part.name() + "' cannot be read", e);
        }
    }

    private void block(DelimitedSource.Part part, FileChannel channel, long at, int length, boolean first)
            throws IOException {
        byte[] bytes = new byte[length + CellFinder.PADDING];
        ByteBuffer buffer = ByteBuffer.wrap(bytes, 0, length);
        while (buffer.hasRemaining() && channel.read(buffer, at + buffer.position()) > 0) {
            continue;
        }
        int filled = buffer.position();
        int start = 0;
        while (!first && start < filled && bytes[start++] != part.dialect().newline()) {
            continue;
        }
        CellFinder cells = new CellFinder(part.dialect(), part.width());
        cells.find(bytes, start, filled, filled, at + filled >= part.size());
        for (int f = 0; f < met.size(); f++) {
            if (part.cells()[f] >= 0 && fields.get(f).isOpen()) {
                column(part, bytes, cells, part.cells()[f], met.get(f));
            }
        }
    }

    private static void column(DelimitedSource.Part part, byte[] bytes, CellFinder cells, int cell, MetCells met) {
        boolean plain =
                !part.dialect().decimalComma() && part.dialect().missing().isEmpty();
        for (int row = 0; row < cells.rows() && met.kind() != Kind.TEXT; row++) {
            int start = cells.start(row, cell);
            int end = cells.end(row, cell);
            if (start >= end) {
                continue;
            }
            if (plain && bytes[start] != part.dialect().quote()) {
                met.cell(bytes, start, end);
                continue;
            }
            byte[] content = content(part.dialect(), new String(bytes, start, end - start, StandardCharsets.UTF_8));
            if (content.length > 0) {
                met.cell(content, 0, content.length);
            }
        }
    }

    /** A cell without quotes and blanks, a number as a plain decimal; nothing when it is missing. */
    static byte[] content(Dialect dialect, String cell) {
        String quote = String.valueOf((char) dialect.quote());
        String text = cell;
        if (cell.startsWith(quote)) {
            int end = cell.endsWith(quote) && cell.length() > 1 ? cell.length() - 1 : cell.length();
            text = cell.substring(1, end).replace(quote + quote, quote);
        }
        text = text.strip();
        if (dialect.missing().contains(text)) {
            return new byte[0];
        }
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        if (!dialect.decimalComma()) {
            return bytes;
        }
        String number = WrittenNumber.workedOut(text);
        if (number != null) {
            return number.getBytes(StandardCharsets.UTF_8);
        }
        // What would be a number with a point is none where the comma stands before decimals.
        return CellType.of(bytes, 0, bytes.length).isNumeric() ? NO_NUMBER : bytes;
    }
}
