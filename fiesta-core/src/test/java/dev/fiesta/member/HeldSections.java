package dev.fiesta.member;

import dev.fiesta.crew.Sections;
import java.io.ByteArrayOutputStream;
import java.util.ArrayList;
import java.util.List;

/** Sections in memory. */
final class HeldSections extends Sections {
    private final List<ByteArrayOutputStream> all = new ArrayList<>(List.of(new ByteArrayOutputStream()));

    @Override
    public void write(int b) {
        all.get(all.size() - 1).write(b);
    }

    @Override
    public void next() {
        all.add(new ByteArrayOutputStream());
    }

    /** The bytes of each. */
    List<byte[]> bytes() {
        return all.stream().map(ByteArrayOutputStream::toByteArray).toList();
    }
}
