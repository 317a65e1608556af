package dev.fiesta.engine;

import dev.fiesta.value.Column;
import dev.fiesta.value.Packing;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Some pieces of an input, to be read for tables of a run by somebody who has planned the same tables.
 *
 * @param input its number among all tables of the run
 * @param fed the numbers of the tables that are fed
 * @param held the look-ups that do not work batch by batch, by their numbers among all
 * @param looked for each look-up on the way the name under which the other table lies, in the order of the lanes
 * @param closed the sinks that want no more rows, by their order
 * @param sign tells whether both have planned the same
 * @param from the first piece, {@code to} the first behind them
 * @param start where the first record of the first piece starts, or {@link dev.fiesta.source.PiecedScan#UNKNOWN}
 * @param parts into how many parts rows are put that others go on with
 * @param bounds for each that takes such rows in the bounds of the ranges that its parts are; null where they are none
 * @param part the one that is gone on with, or null
 * @param answers the names of those whose pieces these are together, in order, where they have been read; they are merged, or a part of
 *     them is gone on with
 */
record Stretch(
        int input,
        List<Integer> fed,
        BitSet held,
        List<String> looked,
        BitSet closed,
        int sign,
        int from,
        int to,
        long start,
        int parts,
        @Nullable Column[] bounds,
        @Nullable Part part,
        List<String> answers) {
    /**
     * A part of rows that have been read.
     *
     * @param sink the number of what took them in, among those whose rows are in parts
     * @param number of the part
     * @param more rows that came and need not be seen
     * @param known under which name it lies what each part must know of the others; null where that is nothing, or to be told first
     */
    record Part(int sink, int number, long more, @Nullable String known) {}

    /** Of no pieces yet. */
    Stretch(int input, List<Integer> fed, BitSet held) {
        this(input, fed, held, List.of(), new BitSet(), 0, 0, 0, 0, 0, new Column[0], null, List.of());
    }

    Stretch of(BitSet shut, int signed, List<String> laid, int many, @Nullable Column[] between) {
        return new Stretch(input, fed, held, laid, shut, signed, from, to, start, many, between, null, List.of());
    }

    Stretch of(int first, int behind, long begin, List<String> read) {
        return new Stretch(input, fed, held, looked, closed, sign, first, behind, begin, parts, bounds, null, read);
    }

    Stretch of(Part one, List<String> read) {
        return new Stretch(input, fed, held, looked, closed, sign, 0, 1, 0, parts, bounds, one, read);
    }

    void write(DataOutput out) throws IOException {
        out.writeInt(input);
        Packing.list(out, fed, out::writeInt);
        Packing.bits(out, held);
        Packing.texts(out, looked);
        Packing.bits(out, closed);
        out.writeInt(sign);
        out.writeInt(from);
        out.writeInt(to);
        out.writeLong(start);
        out.writeInt(parts);
        Packing.slots(out, bounds);
        out.writeBoolean(part != null);
        if (part != null) {
            out.writeInt(part.sink);
            out.writeInt(part.number);
            out.writeLong(part.more);
            Packing.perhaps(out, part.known);
        }
        Packing.texts(out, answers);
    }

    static Stretch read(DataInput in) throws IOException {
        return new Stretch(
                in.readInt(),
                Packing.list(in, in::readInt),
                Packing.bits(in),
                Packing.texts(in),
                Packing.bits(in),
                in.readInt(),
                in.readInt(),
                in.readInt(),
                in.readLong(),
                in.readInt(),
                Packing.slots(in),
                in.readBoolean() ? new Part(in.readInt(), in.readInt(), in.readLong(), Packing.perhaps(in)) : null,
                Packing.texts(in));
    }
}
