package dev.fiesta.parquet;

import dev.fiesta.Result;
import dev.fiesta.TableWriter;
import dev.fiesta.ViewColumn;
import dev.fiesta.output.Logging;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.value.Column;
import dev.fiesta.value.DoubleColumn;
import dev.fiesta.value.Field;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Schema;
import dev.fiesta.value.TextColumn;
import dev.fiesta.value.TruthColumn;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.apache.hadoop.conf.Configuration;
import org.apache.parquet.conf.ParquetConfiguration;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.hadoop.ParquetWriter;
import org.apache.parquet.hadoop.api.WriteSupport;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;
import org.apache.parquet.io.OutputFile;
import org.apache.parquet.io.PositionOutputStream;
import org.apache.parquet.io.api.Binary;
import org.apache.parquet.io.api.RecordConsumer;
import org.apache.parquet.schema.LogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimeUnit;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;
import org.apache.parquet.schema.Types;
import org.jspecify.annotations.Nullable;
import org.slf4j.LoggerFactory;

/** A table as a file of columns (Parquet), part by part; hidden figures are missing in it, totals are left out. */
public final class ParquetTable implements TableWriter {
    static {
        Logging.find(LoggerFactory::getILoggerFactory);
    }

    /** Rows of a group: what a reader takes, or passes over, as a whole. */
    private static final int GROUP_ROWS = 1 << 17;

    private static final long GROUP_BYTES = 16L << 20;
    private static final int PAGE_BYTES = 1 << 18;

    /** Knows nothing but how to write. */
    public ParquetTable() {}

    @Override
    public String format() {
        return "parquet";
    }

    /** Some rows of columns that stand side by side. */
    private record Part(Column[] columns, int row) {}

    @Override
    public void write(Result result, OutputStream out) throws IOException {
        List<String> names =
                result.view().stream().map(ViewColumn::field).distinct().toList();
        Schema schema = result.schema();
        List<Field> fields =
                names.stream().map(n -> schema.field(schema.indexOf(n))).toList();
        try (ParquetWriter<Part> writer = new Builder(new Stream(out), new Rows(fields)).build()) {
            result.eachPart((columns, rows) -> {
                Column[] shown =
                        names.stream().map(n -> columns[schema.indexOf(n)]).toArray(Column[]::new);
                for (int i = 0; i < rows; i++) {
                    writer.write(new Part(shown, i));
                }
                if (Thread.currentThread().isInterrupted()) {
                    throw new Interrupted();
                }
            });
        }
    }

    /** Hands rows to the library, value by value. */
    private static final class Rows extends WriteSupport<Part> {
        private final List<Field> fields;
        private @Nullable RecordConsumer consumer;

        Rows(List<Field> fields) {
            this.fields = fields;
        }

        @Override
        @SuppressWarnings("deprecation") // the library asks for it all the same
        public WriteContext init(Configuration configuration) {
            return context();
        }

        @Override
        public WriteContext init(ParquetConfiguration configuration) {
            return context();
        }

        private WriteContext context() {
            Types.MessageTypeBuilder message = Types.buildMessage();
            fields.forEach(f -> message.addField(ParquetTable.type(f)));
            MessageType schema = message.named("table");
            return new WriteContext(schema, Map.of());
        }

        @Override
        public void prepareForWrite(RecordConsumer given) {
            consumer = given;
        }

        @Override
        public void write(Part part) {
            RecordConsumer to = Objects.requireNonNull(consumer);
            to.startMessage();
            for (int f = 0; f < fields.size(); f++) {
                Column column = part.columns()[f];
                if (!column.isMissing(part.row())) {
                    String name = fields.get(f).name();
                    to.startField(name, f);
                    value(to, column, part.row());
                    to.endField(name, f);
                }
            }
            to.endMessage();
        }

        private static void value(RecordConsumer to, Column column, int row) {
            if (column instanceof LongColumn longs) {
                long value = longs.values()[row & column.mask()];
                if (column.type().equals(Type.DATE)) {
                    to.addInteger((int) value);
                } else {
                    to.addLong(value);
                }
            } else if (column instanceof DoubleColumn numbers) {
                to.addDouble(numbers.values()[row & column.mask()]);
            } else if (column instanceof TruthColumn truths) {
                to.addBoolean(truths.isTrue(row));
            } else {
                TextColumn text = (TextColumn) column;
                to.addBinary(Binary.fromConstantByteArray(text.dictionary()
                        .text(text.codes()[row & column.mask()])
                        .getBytes(StandardCharsets.UTF_8)));
            }
        }
    }

    private static org.apache.parquet.schema.Type type(Field field) {
        return switch (field.type().kind()) {
            case INTEGER -> Types.optional(PrimitiveTypeName.INT64).named(field.name());
            case DECIMAL ->
                Types.optional(PrimitiveTypeName.INT64)
                        .as(LogicalTypeAnnotation.decimalType(field.type().scale(), Type.MOST_DIGITS))
                        .named(field.name());
            case REAL -> Types.optional(PrimitiveTypeName.DOUBLE).named(field.name());
            case TRUTH -> Types.optional(PrimitiveTypeName.BOOLEAN).named(field.name());
            case DATE ->
                Types.optional(PrimitiveTypeName.INT32)
                        .as(LogicalTypeAnnotation.dateType())
                        .named(field.name());
            case DATETIME, INSTANT ->
                Types.optional(PrimitiveTypeName.INT64)
                        .as(LogicalTypeAnnotation.timestampType(field.type().equals(Type.INSTANT), TimeUnit.MICROS))
                        .named(field.name());
            default ->
                Types.optional(PrimitiveTypeName.BINARY)
                        .as(LogicalTypeAnnotation.stringType())
                        .named(field.name());
        };
    }

    private static final class Builder extends ParquetWriter.Builder<Part, Builder> {
        private final Rows rows;

        Builder(OutputFile file, Rows rows) {
            super(file);
            this.rows = rows;
            withConf(new PlainParquetConfiguration());
            withCodecFactory(new ParquetCodecs());
            withCompressionCodec(CompressionCodecName.ZSTD);
            withRowGroupSize(GROUP_BYTES);
            withRowGroupRowCountLimit(GROUP_ROWS);
            withPageSize(PAGE_BYTES);
        }

        @Override
        protected Builder self() {
            return this;
        }

        @Override
        @SuppressWarnings("deprecation") // the library asks for it all the same
        protected WriteSupport<Part> getWriteSupport(Configuration configuration) {
            return rows;
        }

        @Override
        protected WriteSupport<Part> getWriteSupport(ParquetConfiguration configuration) {
            return rows;
        }
    }

    /** A stream that somebody else closes. */
    private record Stream(OutputStream out) implements OutputFile {
        @Override
        public PositionOutputStream create(long hint) {
            return new PositionOutputStream() {
                private long written;

                @Override
                public long getPos() {
                    return written;
                }

                @Override
                public void write(int b) throws IOException {
                    out.write(b);
                    written++;
                }

                @Override
                public void write(byte[] bytes, int from, int count) throws IOException {
                    out.write(bytes, from, count);
                    written += count;
                }

                @Override
                public void flush() throws IOException {
                    out.flush();
                }
            };
        }

        @Override
        public PositionOutputStream createOrOverwrite(long hint) {
            return create(hint);
        }

        @Override
        public boolean supportsBlockSize() {
            return false;
        }

        @Override
        public long defaultBlockSize() {
            return 0;
        }
    }
}
