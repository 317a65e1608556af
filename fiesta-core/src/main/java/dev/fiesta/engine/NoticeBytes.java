package dev.fiesta.engine;

import dev.fiesta.problem.Notices;
import dev.fiesta.value.Packing;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** What was counted, as bytes. */
final class NoticeBytes {
    private NoticeBytes() {}

    static void write(Notices notices, DataOutput out) throws IOException {
        Packing.list(out, notices.counted(), counted -> {
            out.writeByte(counted.kind().ordinal());
            Packing.text(out, counted.subject());
            out.writeLong(counted.times());
            out.writeLong(counted.of());
            Packing.perhaps(out, counted.example());
            out.writeLong(counted.sequence());
            out.writeLong(counted.row());
            Packing.list(out, List.copyOf(counted.cells().entrySet()), piece -> {
                out.writeLong(piece.getKey());
                Packing.bits(out, piece.getValue());
            });
        });
        Packing.texts(out, notices.warnings());
    }

    /** @param source what the cells counted are cells of here */
    static void read(Notices notices, Object source, DataInput in) throws IOException {
        notices.add(
                source,
                Packing.list(
                        in,
                        () -> new Notices.Counted(
                                Notices.Kind.values()[in.readByte()],
                                Packing.text(in),
                                in.readLong(),
                                in.readLong(),
                                Packing.perhaps(in),
                                in.readLong(),
                                in.readLong(),
                                cells(in))));
        Packing.texts(in).forEach(notices::warn);
    }

    private static Map<Long, BitSet> cells(DataInput in) throws IOException {
        Map<Long, BitSet> cells = new TreeMap<>();
        for (int left = in.readInt(); left > 0; left--) {
            cells.put(in.readLong(), Packing.bits(in));
        }
        return cells;
    }
}
