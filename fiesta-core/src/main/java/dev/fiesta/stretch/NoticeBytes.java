package dev.fiesta.stretch;

import dev.fiesta.problem.Notices;
import dev.fiesta.source.FilePlace;
import dev.fiesta.value.Packing;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/** What was counted, as bytes. */
public final class NoticeBytes {
    private NoticeBytes() {}

    public static void write(Notices notices, DataOutput out) throws IOException {
        Packing.list(out, notices.counted(), counted -> {
            out.writeByte(counted.kind().ordinal());
            Packing.text(out, counted.subject());
            out.writeLong(counted.times());
            out.writeLong(counted.of());
            writeExample(counted.example(), out);
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
    public static void read(Notices notices, Object source, DataInput in) throws IOException {
        notices.add(
                source,
                Packing.list(
                        in,
                        () -> new Notices.Counted(
                                Notices.Kind.values()[in.readByte()],
                                Packing.text(in),
                                in.readLong(),
                                in.readLong(),
                                example(in),
                                in.readLong(),
                                in.readLong(),
                                cells(in))));
        Packing.texts(in).forEach(notices::warn);
    }

    /** Where it stands in a file is not looked up before somebody asks: lines are counted from the start of the file. */
    private static void writeExample(@Nullable Supplier<@Nullable String> example, DataOutput out) throws IOException {
        boolean placed = example instanceof Notices.Met met && met.place() instanceof FilePlace;
        out.writeBoolean(placed);
        if (placed) {
            Notices.Met met = (Notices.Met) Objects.requireNonNull(example);
            Packing.text(out, met.shown());
            ((FilePlace) met.place()).write(out);
        } else {
            Packing.perhaps(out, example == null ? null : example.get());
        }
    }

    private static @Nullable Supplier<@Nullable String> example(DataInput in) throws IOException {
        if (in.readBoolean()) {
            return new Notices.Met(Packing.text(in), FilePlace.read(in));
        }
        String text = Packing.perhaps(in);
        return text == null ? null : () -> text;
    }

    private static Map<Long, BitSet> cells(DataInput in) throws IOException {
        Map<Long, BitSet> cells = new TreeMap<>();
        for (int left = in.readInt(); left > 0; left--) {
            cells.put(in.readLong(), Packing.bits(in));
        }
        return cells;
    }
}
