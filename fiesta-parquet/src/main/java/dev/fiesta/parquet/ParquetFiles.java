package dev.fiesta.parquet;

import dev.fiesta.output.Logging;
import dev.fiesta.problem.DataException;
import dev.fiesta.source.FieldNames;
import dev.fiesta.source.InputFormat;
import dev.fiesta.source.Inside;
import dev.fiesta.source.Portable;
import dev.fiesta.source.PortableSources;
import dev.fiesta.source.Source;
import dev.fiesta.source.cells.CellType;
import dev.fiesta.source.cells.Dialect;
import dev.fiesta.source.cells.FieldSpec;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Type;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.schema.MessageType;
import org.slf4j.LoggerFactory;

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
                FieldNames.refuseOthers(
                        files.get(0).name(),
                        types.keySet(),
                        file.name(),
                        part.columns().keySet());
            }
            parts.add(part);
            part.columns().forEach((name, column) -> types.merge(name, column.type(), CellType::both));
        }
        FieldNames.refuseUnknown(fields, types.keySet(), files.get(0).name(), "column");
        List<FieldSpec> all = new ArrayList<>();
        types.forEach((name, type) -> all.add(fields.stream()
                .filter(f -> f.column().equals(name))
                .findFirst()
                .map(f -> f.openScale() ? f.as(type.isExact() ? type : f.type()) : f)
                .orElse(FieldSpec.typed(name, type))));
        return source(parts, all, dialect, remarks);
    }

    @Override
    public Portable portable(PortableSources.Told told) {
        List<ParquetSource.Part> parts = new ArrayList<>();
        told.files().forEach(file -> parts.add(part(file, new ArrayList<>())));
        return source(parts, told.fields(), told.dialect(), List.of());
    }

    private static ParquetSource source(
            List<ParquetSource.Part> parts, List<FieldSpec> fields, Dialect dialect, List<String> remarks) {
        parts.forEach(part -> fields.forEach(field -> part.columns()
                .computeIfPresent(
                        field.column(),
                        (name, column) ->
                                field.type().equals(Type.REAL) && column.type().isExact() ? column.asReal() : column)));
        return new ParquetSource(parts, fields, dialect, remarks);
    }

    private static ParquetSource.Part part(Paths.Named file, List<String> remarks) {
        Logging.find(LoggerFactory::getILoggerFactory);
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
}
