package dev.fiesta.parquet;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.source.files.Paths;
import java.io.IOException;
import org.apache.parquet.ParquetReadOptions;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.io.LocalInputFile;

/** Opens files of columns, and says in sentences what goes wrong with them. */
final class ParquetOpening {
    private ParquetOpening() {}

    static ParquetFileReader open(Paths.Named file) throws IOException {
        return ParquetFileReader.open(
                new LocalInputFile(file.path()),
                new ParquetReadOptions.Builder(new PlainParquetConfiguration())
                        .withCodecFactory(new ParquetCodecs())
                        .build());
    }

    /** What went wrong, in a sentence: the library throws whatever it stumbles over. */
    static RuntimeException failure(Paths.Named file, Exception e) {
        if (e instanceof FiestaException known) {
            return known;
        }
        for (Throwable cause = e; cause != null; cause = cause.getCause()) {
            if (cause instanceof ParquetCodecs.Unknown) {
                return new DataException(
                        file.name() + " is packed by " + cause.getMessage()
                                + ", which is not unpacked here. Write it with zstd, gzip or snappy.",
                        file.name(),
                        0,
                        null,
                        null);
            }
            if (cause instanceof java.nio.file.FileSystemException
                    || cause instanceof java.nio.channels.ClosedByInterruptException) {
                return new MachineException("'" + file.name() + "' cannot be read", e);
            }
        }
        return new DataException(
                "'" + file.name() + "' cannot be read as Parquet: it is damaged, encrypted, or something else.",
                file.name(),
                0,
                null,
                null);
    }
}
