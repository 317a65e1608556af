package dev.fiesta.formats;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.Names;
import dev.fiesta.source.Dialect;
import dev.fiesta.source.FieldSpec;
import dev.fiesta.source.InputFormat;
import dev.fiesta.source.Inside;
import dev.fiesta.source.Paths;
import dev.fiesta.source.Source;
import dev.fiesta.value.Kind;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.schema.MessageType;

/**
 * Files of columns (Parquet): read column by column, as they are wanted, groups of rows side by side; values have the types that the files
 * tell. Columns that hold records or lists are left out, which is told.
 *
 * <pre>{@code
 * Fiesta fiesta = Fiesta.with().reads(ParquetFiles.FORMAT).open();
 * }</pre>
 */
public final class ParquetFiles implements InputFormat {
    /** {@code as parquet}, and files that end in {@code .parquet}. */
    public static final InputFormat FORMAT = new ParquetFiles();

    private ParquetFiles() {}

    @Override
    public String name() {
        return "parquet";
    }

    @Override
    public List<String> endings() {
        return List.of(".parquet");
    }

    @Override
    public Source open(List<Paths.Named> files, Dialect dialect, Inside inside, List<FieldSpec> fields) {
        List<ParquetSource.Part> parts = new ArrayList<>();
        List<String> remarks = new ArrayList<>();
        Map<String, Type> types = new LinkedHashMap<>();
        for (Paths.Named file : files) {
            ParquetSource.Part part = part(file, remarks);
            if (!parts.isEmpty() && !inside.byName()) {
                refuseOthers(parts.get(0), part);
            }
            parts.add(part);
            part.columns().forEach((name, column) -> types.merge(name, column.type(), ParquetFiles::both));
        }
        List<FieldSpec> all = new ArrayList<>();
        for (FieldSpec field : fields) {
            if (!types.containsKey(field.column())) {
                throw new DataException(
                        files.get(0).name() + " has no column '" + field.column() + "'. "
                                + Names.didYouMean(field.column(), types.keySet(), "It has"),
                        files.get(0).name(),
                        0,
                        field.name(),
                        null);
            }
        }
        types.forEach((name, type) -> all.add(fields.stream()
                .filter(f -> f.column().equals(name))
                .findFirst()
                .map(f -> f.openScale() ? f.as(type.isExact() ? type : f.type()) : f)
                .orElse(FieldSpec.typed(name, type))));
        return new ParquetSource(parts, all, dialect, remarks);
    }

    private static ParquetSource.Part part(Paths.Named file, List<String> remarks) {
        try (ParquetFileReader reader = ParquetOpening.open(file)) {
            MessageType schema = reader.getFileMetaData().getSchema();
            Map<String, ParquetField> columns = new LinkedHashMap<>();
            List<String> left = new ArrayList<>();
            schema.getColumns().forEach(column -> {
                ParquetField field = ParquetField.of(column);
                if (field != null) {
                    columns.put(field.name(), field);
                } else if (!left.contains(column.getPath()[0])) {
                    left.add(column.getPath()[0]);
                }
            });
            if (!left.isEmpty()) {
                remarks.add(file.name() + ": not read, as " + (left.size() == 1 ? "it holds" : "they hold")
                        + " records, lists or values of unknown types: " + String.join(", ", left));
            }
            if (columns.isEmpty()) {
                throw new DataException(file.name() + " has no column that can be read.", file.name(), 0, null, null);
            }
            return new ParquetSource.Part(file, columns, reader.getRowGroups());
        } catch (java.io.IOException | RuntimeException e) {
            throw ParquetOpening.failure(file, e);
        }
    }

    /** The type that holds the values of both; text where nothing else does. */
    private static Type both(Type a, Type b) {
        if (a.equals(b)) {
            return a;
        }
        if (a.isExact() && b.isExact()) {
            return Type.decimal(Math.max(a.scale(), b.scale()));
        }
        boolean times = a.isTime() && b.isTime() && a.kind() != Kind.INSTANT && b.kind() != Kind.INSTANT;
        return a.isNumeric() && b.isNumeric() ? Type.REAL : times ? Type.DATETIME : Type.TEXT;
    }

    private static void refuseOthers(ParquetSource.Part first, ParquetSource.Part other) {
        List<String> fewer = new ArrayList<>(first.columns().keySet());
        fewer.removeAll(other.columns().keySet());
        List<String> more = new ArrayList<>(other.columns().keySet());
        more.removeAll(first.columns().keySet());
        if (!fewer.isEmpty() || !more.isEmpty()) {
            throw new DataException(
                    other.file().name() + " has other columns than "
                            + first.file().name() + ":"
                            + (fewer.isEmpty() ? "" : " it lacks " + String.join(", ", fewer) + ";")
                            + (more.isEmpty() ? "" : " it also has " + String.join(", ", more) + ";")
                            + " add 'fields by name' to the input to let columns be missing.",
                    other.file().name(),
                    0,
                    null,
                    null);
        }
    }
}
