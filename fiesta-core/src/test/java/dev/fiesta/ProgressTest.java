package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.member.LocalCrew;
import dev.fiesta.progress.Progress;
import dev.fiesta.progress.Timing;
import dev.fiesta.progress.Watch;
import dev.fiesta.source.InputFormat;
import dev.fiesta.source.LineFormat;
import dev.fiesta.source.RecordSource;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a program is told while a run goes on and behind it, and what it can add: formats and sources of its own. */
class ProgressTest {
    record Sale(String site, long n) {}

    @TempDir
    Path folder;

    @Test
    void stepsAreToldWithTheirRows() {
        Result result = Asking.table("site,n\nQuay,1\nQuay,2\nMeadow,3\nMeadow,40\n")
                .only("n < 40")
                .per("site")
                .give("s = sum(n)")
                .sort("s desc")
                .first(1)
                .run();
        assertThat(result.timings().stream()
                        .map(t -> t.table() + ", " + t.step() + ": " + t.rowsIn() + " to " + t.rowsOut()))
                .containsExactly(
                        "records, read: 4 to 4",
                        "records, only: 4 to 3",
                        "records, per: 3 to 2",
                        "records, sort: 2 to 2",
                        "records, first: 2 to 1");
        assertThat(result.timings().get(0).nanos()).isPositive();
    }

    @Test
    void whatGoesToTheFileIsTold() {
        List<Sale> sales = IntStream.range(0, 5000)
                .mapToObj(i -> new Sale("Quay", i * 7919 % 60_000))
                .toList();
        try (Fiesta fiesta = Fiesta.with().memory(1).threads(1).open()) {
            List<Timing> timings =
                    fiesta.records(Sale.class, sales).sort("n").run().timings();
            assertThat(timings).extracting(Timing::step).containsExactly("read", "sort");
            assertThat(timings).allSatisfy(t -> assertThat(t.written()).isGreaterThan(5000L * 2));
        }
    }

    @Test
    void listenersAreToldWhereRunsStand() throws IOException {
        Path file = folder.resolve("sales.csv");
        Files.writeString(file, "n\n" + "12345678\n".repeat(400_000));
        List<Progress> told = Collections.synchronizedList(new ArrayList<>());
        try (Fiesta fiesta = Fiesta.with().threads(2).progress(told::add).open()) {
            fiesta.read(file).sort("n").run();
        }
        assertThat(told).isNotEmpty();
        assertThat(told.get(0).phase()).isEqualTo("reading records");
        assertThat(told).allSatisfy(p -> {
            assertThat(p.rows()).isBetween(0L, 400_000L);
            assertThat(p.share()).isBetween(-1.0, 1.0);
        });
    }

    @Test
    void whoReadsIsTold() throws IOException {
        Path file = folder.resolve("sales.csv");
        Files.writeString(file, "n\n" + "12345678\n".repeat(400_000));
        for (int members = 1; members <= 2; members++) {
            List<Progress> told = Collections.synchronizedList(new ArrayList<>());
            try (LocalCrew crew = new LocalCrew(Fiesta.with().member(), members, 1 << 20, 0, 2);
                    Fiesta fiesta = Fiesta.with()
                            .threads(2)
                            .crew(crew)
                            .progress(told::add)
                            .open()) {
                fiesta.read(file).distinct().run();
            }
            String readers = members == 1 ? "a member" : "2 members";
            assertThat(told)
                    .extracting(Progress::phase)
                    .contains("reading records by " + readers, "records: distinct by " + readers);
        }
    }

    @Test
    void watchesTellEachPhaseAtOnceAndThenNotTooOften() {
        List<Progress> told = new ArrayList<>();
        Watch watch = new Watch(told::add);
        watch.phase("reading sales", 0, () -> 0.5);
        for (int i = 0; i < 1000; i++) {
            watch.rows(10);
        }
        assertThat(told.get(0)).isEqualTo(new Progress("reading sales", 0, 0.5));
        assertThat(told.size()).isLessThan(100);
        watch.phase("sales: sort", 10_000, () -> -1);
        assertThat(told.get(told.size() - 1)).isEqualTo(new Progress("sales: sort", 10_000, -1));
    }

    /** {@code site=Quay n=3} */
    private static void pairs(byte[] bytes, int start, int end, LineFormat.Fields fields) throws LineFormat.Unreadable {
        for (String pair : new String(bytes, start, end - start, StandardCharsets.UTF_8).split(" ")) {
            String[] parts = pair.split("=", 2);
            if (parts.length < 2) {
                throw new LineFormat.Unreadable("'" + pair + "' is no pair");
            }
            if (parts[1].matches("[0-9.]+")) {
                fields.number(parts[0], parts[1]);
            } else {
                fields.text(parts[0], parts[1]);
            }
        }
    }

    @Test
    void programsAddFormatsAndSources() throws IOException {
        Path file = folder.resolve("sales.pairs");
        Files.writeString(file, "site=Quay n=3\nn=1.5 site=Meadow\n");
        InputFormat format = InputFormat.lines("pairs", List.of(".pairs"), ProgressTest::pairs);
        try (Fiesta fiesta = Fiesta.with().reads(format).open()) {
            assertThat(Asking.rows(fiesta.read(file).sort("n"))).containsExactly("Meadow 1.5", "Quay 3.0");
            Files.writeString(file, "site=Quay\nnothing\n");
            assertThatThrownBy(() -> fiesta.read(file).run()).hasMessageEndingWith("line 2: 'nothing' is no pair.");
            Table own = fiesta.from(RecordSource.of(Sale.class, List.of(new Sale("Quay", 2), new Sale("Quay", 3))));
            assertThat(Asking.rows(own.per("site").give("s = sum(n)"))).containsExactly("Quay 5");
        }
    }

    /** Rows are told as the clauses are written, also where fewer were put in order, and step after step. */
    @Test
    void everyStepStartsWhereTheOneBeforeEnded() {
        List<Timing> timings = Asking.table("a,n\nx,1\ny,2\nz,3\nx,4\n")
                .then("distinct a sort n desc first 2 add r = rank(along n) only r = 1")
                .run()
                .timings();
        assertThat(timings.stream().skip(1).map(t -> t.step() + ": " + t.rowsIn() + " to " + t.rowsOut()))
                .containsExactly(
                        "distinct: 4 to 3", "sort: 3 to 3", "first: 3 to 2", "add … within: 2 to 2", "only: 2 to 1");
    }
}
