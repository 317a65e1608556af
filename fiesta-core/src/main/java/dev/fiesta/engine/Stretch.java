package dev.fiesta.engine;

import dev.fiesta.value.Packing;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.BitSet;
import java.util.List;

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
 * @param answers the names of those whose pieces these are together, in order, where they have been read; they are merged
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
        List<String> answers) {
    /** Of no pieces yet. */
    Stretch(int input, List<Integer> fed, BitSet held) {
        this(input, fed, held, List.of(), new BitSet(), 0, 0, 0, 0, List.of());
    }

    Stretch of(BitSet shut, int signed, List<String> laid) {
        return new Stretch(input, fed, held, laid, shut, signed, from, to, start, List.of());
    }

    Stretch of(int first, int behind, long begin, List<String> read) {
        return new Stretch(input, fed, held, looked, closed, sign, first, behind, begin, read);
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
                Packing.texts(in));
    }
}
