package dev.fiesta.report;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.RunOptions;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Reports and tables to streams: the bytes of the files, and the streams stay open. */
class StreamsTest {
    private static final String BRIEF = """
            brief 'Cups'
            input sales from 'none.csv'
            table cups from sales per site give cups = sum(n) sort site
            """;

    private static final String REPORT = BRIEF + "report table cups chart bars cups x site y cups";

    record Sale(String site, long n) {}

    @TempDir
    private Path folder;

    private final Fiesta fiesta = Fiesta.with().threads(1).open();

    private Report report(String brief) {
        List<Sale> sales = List.of(new Sale("Quay", 3), new Sale("Meadow", 1), new Sale("Quay", 4));
        return Report.of(
                Brief.of("cups.brief", brief, folder).input("sales", fiesta.records(Sale.class, sales)), fiesta);
    }

    private static final class Open extends ByteArrayOutputStream {
        @Override
        public void close() {
            throw new AssertionError("the stream is not ours to close");
        }
    }

    @ParameterizedTest
    @EnumSource(
            value = Format.class,
            mode = EnumSource.Mode.EXCLUDE,
            names = {"TERMINAL"})
    void aStreamTakesTheBytesOfTheFile(Format format) throws IOException {
        Report report = report(REPORT);
        Open bytes = new Open();
        report.write(format, bytes);
        List<Path> files = report.writeTo(folder.resolve("out"), format);
        assertThat(bytes.toByteArray()).isEqualTo(Files.readAllBytes(files.get(0)));
        if (format.isData()) {
            Open table = new Open();
            Result cups = report.results().get("cups");
            DataFile.write(cups, format, table);
            assertThat(table.toByteArray()).isEqualTo(bytes.toByteArray());
        }
    }

    @Test
    void formatsThatHoldNoTablesAreRefused() {
        dev.fiesta.Result table = report(BRIEF).results().values().iterator().next();
        assertThatThrownBy(() -> DataFile.write(table, Format.HTML, new Open()))
                .isInstanceOf(RequestException.class)
                .hasMessage("html does not write tables as data");
        assertThatThrownBy(() -> DataFile.write(table, Format.PARQUET, false, new StringBuilder()))
                .hasMessage("parquet does not write tables as text");
        assertThatThrownBy(() -> DataFile.elsewhere("scrolls"))
                .hasMessage("Nobody here writes tables as scrolls: the jar fiesta-scrolls is not on the path.");
    }

    @Test
    void whatAStreamCannotHoldIsRefused() {
        Report two = report(BRIEF + "table all_of_it from sales per all give n = count()");
        assertThatThrownBy(() -> two.write(Format.CSV, new Open()))
                .isInstanceOf(RequestException.class)
                .hasMessage("a stream takes one table as csv, and the report has 2; write it to a folder");
        assertThatThrownBy(() -> two.write(Format.SVG, new Open()))
                .hasMessage("a stream takes one chart as svg, and the report has 0; write it to a folder");
        assertThatThrownBy(() -> two.write(Format.TERMINAL, new Open()))
                .hasMessage("a terminal is printed to, by print");
        assertThatThrownBy(() -> two.text(Format.PDF))
                .hasMessage("'pdf' is not one text; html and markdown are. Write it to a folder.");
        OutputStream full = new OutputStream() {
            @Override
            public void write(int b) throws IOException {
                throw new IOException("no space");
            }
        };
        for (Format format : List.of(Format.HTML, Format.PDF, Format.XLSX)) {
            assertThatThrownBy(() -> two.write(format, full))
                    .isInstanceOf(MachineException.class)
                    .hasMessage("The report cannot be written (no space)");
        }
    }

    @Test
    void aReportMayBeStoppedAlsoWhileItsInputsAreTaken() {
        Schema fields = new Schema(List.of(new Field("site", Type.TEXT), new Field("n", Type.INTEGER)));
        Brief brief = Brief.of(REPORT)
                .input(
                        "sales",
                        fiesta.rows(
                                fields,
                                () -> LongStream.iterate(0, n -> n + 1).mapToObj(n -> new Object[] {"Quay", n})));
        assertThatThrownBy(() -> Report.of(brief, fiesta, RunOptions.usual().timeout(Duration.ofMillis(200))))
                .isInstanceOf(Interrupted.class)
                .hasMessage("The run was stopped: it took longer than 0.2s.");
    }

    @Test
    void piecesThatNameWhatIsNotThereAreToldAtOnce() {
        assertThatThrownBy(() -> report(BRIEF + "report table cup"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("There is no table 'cup'.");
    }
}
