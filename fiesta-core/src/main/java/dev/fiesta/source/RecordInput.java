package dev.fiesta.source;

import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.Paths;
import dev.fiesta.source.files.Spool;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/** A format of records that are read one after another, once, into a file of their own, which is then read as any other. */
record RecordInput(String name, List<String> endings, Set<String> options, RecordFormat format) implements InputFormat {
    @Override
    public Source open(List<Paths.Named> files, Dialect dialect, Inside inside, List<FieldSpec> fields) {
        List<RecordSpool> spools = new ArrayList<>();
        for (Paths.Named file : files) {
            Paths.Named plain = Spool.unpacked(file);
            spools.add(RecordSpool.of(
                    file.name(), format.counted(), dialect, fields, to -> format.read(plain, inside, to)));
        }
        return LineSource.of(spools, dialect, fields, DelimitedSource.PIECE);
    }
}
