package dev.fiesta.value;

import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Values, types and columns as bytes that another process reads: what one method writes, the one of the same name reads. */
public final class Packing {
    /** Parts of a list, one after the other. */
    @FunctionalInterface
    public interface Writing<T> {
        void write(T part) throws IOException;
    }

    /** The next part of a list. */
    @FunctionalInterface
    public interface Reading<T> {
        T read() throws IOException;
    }

    private static final int NONE = -1;
    private static final List<Class<?>> CLASSES = List.of(
            Long.class,
            BigDecimal.class,
            Double.class,
            Boolean.class,
            LocalDate.class,
            LocalDateTime.class,
            Instant.class,
            String.class);

    private Packing() {}

    public static <T> void list(DataOutput out, List<? extends T> parts, Writing<T> each) throws IOException {
        out.writeInt(parts.size());
        for (T part : parts) {
            each.write(part);
        }
    }

    public static <T> List<T> list(DataInput in, Reading<T> each) throws IOException {
        int size = in.readInt();
        List<T> parts = new ArrayList<>();
        for (int i = 0; i < size; i++) {
            parts.add(each.read());
        }
        return parts;
    }

    public static void text(DataOutput out, String text) throws IOException {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        out.writeInt(bytes.length);
        out.write(bytes);
    }

    public static String text(DataInput in) throws IOException {
        return text(in, in.readInt());
    }

    private static String text(DataInput in, int length) throws IOException {
        byte[] bytes = new byte[length];
        in.readFully(bytes);
        return new String(bytes, StandardCharsets.UTF_8);
    }

    public static void perhaps(DataOutput out, @Nullable String text) throws IOException {
        if (text == null) {
            out.writeInt(NONE);
        } else {
            text(out, text);
        }
    }

    public static @Nullable String perhaps(DataInput in) throws IOException {
        int length = in.readInt();
        return length == NONE ? null : text(in, length);
    }

    public static void texts(DataOutput out, List<String> texts) throws IOException {
        list(out, texts, t -> text(out, t));
    }

    public static List<String> texts(DataInput in) throws IOException {
        return List.copyOf(list(in, () -> text(in)));
    }

    public static void bits(DataOutput out, BitSet bits) throws IOException {
        byte[] bytes = bits.toByteArray();
        out.writeInt(bytes.length);
        out.write(bytes);
    }

    public static BitSet bits(DataInput in) throws IOException {
        byte[] bytes = new byte[in.readInt()];
        in.readFully(bytes);
        return BitSet.valueOf(bytes);
    }

    public static void type(DataOutput out, Type type) throws IOException {
        out.writeByte(type.kind().ordinal());
        out.writeByte(type.scale());
    }

    public static Type type(DataInput in) throws IOException {
        return new Type(Kind.values()[in.readByte()], in.readByte());
    }

    public static void schema(DataOutput out, Schema schema) throws IOException {
        list(out, schema.fields(), field -> {
            text(out, field.name());
            type(out, field.type());
        });
    }

    public static Schema schema(DataInput in) throws IOException {
        return new Schema(list(in, () -> new Field(text(in), type(in))));
    }

    /** A value of one of the classes that columns hold, or null. */
    public static void value(DataOutput out, @Nullable Object value) throws IOException {
        if (value != null && !CLASSES.contains(value.getClass())) {
            throw new IllegalArgumentException("no column holds a " + value.getClass());
        }
        out.writeByte(value == null ? 0 : 1 + CLASSES.indexOf(value.getClass()));
        if (value != null) {
            text(out, value.toString());
        }
    }

    public static @Nullable Object value(DataInput in) throws IOException {
        int kind = in.readByte();
        if (kind == 0) {
            return null;
        }
        String text = text(in);
        return switch (kind) {
            case 1 -> (Object) Long.valueOf(text);
            case 2 -> new BigDecimal(text);
            case 3 -> Double.valueOf(text);
            case 4 -> Boolean.valueOf(text);
            case 5 -> LocalDate.parse(text);
            case 6 -> LocalDateTime.parse(text);
            case 7 -> Instant.parse(text);
            case 8 -> text;
            default -> throw new IOException("a value of an unknown class");
        };
    }

    public static void column(DataOutput out, Column column) throws IOException {
        ByteBuffer bytes = ColumnBytes.of(column);
        type(out, column.type());
        out.writeInt(column.size());
        out.writeInt(bytes.remaining());
        out.write(bytes.array(), bytes.arrayOffset() + bytes.position(), bytes.remaining());
    }

    public static Column column(DataInput in) throws IOException {
        Type type = type(in);
        int rows = in.readInt();
        byte[] bytes = new byte[in.readInt()];
        in.readFully(bytes);
        return ColumnBytes.read(type, rows, ByteBuffer.wrap(bytes));
    }

    /** Columns by slot; null where nobody needs one. */
    public static void slots(DataOutput out, @Nullable Column[] slots) throws IOException {
        out.writeInt(slots.length);
        for (Column slot : slots) {
            out.writeBoolean(slot != null);
            if (slot != null) {
                column(out, slot);
            }
        }
    }

    public static @Nullable Column[] slots(DataInput in) throws IOException {
        @Nullable Column[] slots = new Column[in.readInt()];
        for (int s = 0; s < slots.length; s++) {
            slots[s] = in.readBoolean() ? column(in) : null;
        }
        return slots;
    }
}
