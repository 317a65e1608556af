package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.DataException;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.InputFormat;
import dev.fiesta.source.RecordFormat;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Formats of one's own: what they hand over comes out, and what breaks their promises is told as such. */
class OwnFormatTest {
    @TempDir
    Path folder;

    private Table read(RecordFormat format) throws IOException {
        Files.writeString(folder.resolve("x.own"), "anything");
        return Fiesta.with()
                .threads(2)
                .memory(1)
                .reads(InputFormat.records("own", List.of(".own"), Set.of(), format))
                .open()
                .read(folder.resolve("x.own"));
    }

    @Test
    void valuesOfAllSortsComeOut() throws IOException {
        Result t = read((file, inside, to) -> {
                    to.field("last");
                    for (int i = 0; i < 20_000; i++) {
                        to.text("t", i % 7 == 0 ? "a\tb\\n\r\n\"c\" " + i % 3 : "");
                        to.number("n", i + ".5");
                        to.truth("b", i % 2 == 0);
                        to.cell("d", "2026-05-0" + (1 + i % 9));
                        if (i % 100 == 0) {
                            to.missing("e");
                            to.number("rare", "1e3");
                        }
                        to.end(i + 10);
                    }
                    to.remark("a remark.");
                })
                .run();
        assertThat(Asking.types(t))
                .containsExactly("last empty", "t text", "n decimal(1)", "b truth", "d date", "e empty", "rare real");
        assertThat(t.rows()).isEqualTo(20_000);
        assertThat(t.row(7).get("t")).isEqualTo("a\tb\\n\r\n\"c\" 1");
        assertThat(t.row(8).get("t")).isEqualTo("");
        assertThat(t.row(19_999).get("n")).hasToString("19999.5");
        assertThat(t.row(100).get("rare")).isEqualTo(1000.0);
        assertThat(t.row(101).get("rare")).isNull();
        assertThat(t.notices().warnings()).containsExactly("a remark.");
    }

    @Test
    void recordsAreToldByTheirNumbers() throws IOException {
        Table table = read(new RecordFormat() {
            @Override
            public void read(dev.fiesta.source.files.Paths.Named file, dev.fiesta.source.Inside inside, Records to) {
                to.text("t", "12");
                to.end(41);
                to.text("t", "twelve");
                to.end(97);
            }

            @Override
            public String counted() {
                return "card";
            }
        });
        assertThatThrownBy(() -> table.add("n = integer(t)").run())
                .isInstanceOf(DataException.class)
                .hasMessageContaining("x.own, card 97");
    }

    @Test
    void brokenPromisesAreTold() {
        fails(
                RequestException.class,
                "x.own': whoever reads it handed fields over and ended no record with them.",
                (file, inside, to) -> to.text("a", "b"));
        fails(
                RequestException.class,
                "x.own': whoever reads it handed 'ten' over as the number n, which is none.",
                (file, inside, to) -> to.number("n", "ten"));
        fails(
                RequestException.class,
                "x.own': whoever reads it failed: java.lang.IndexOutOfBoundsException: Index: 3",
                (file, inside, to) -> {
                    throw new IndexOutOfBoundsException("Index: 3");
                });
        fails(
                RequestException.class,
                "Whoever reads the records handed a text over that holds half of a character.",
                (file, inside, to) -> {
                    to.text("t", "a" + (char) 0xD800 + "b");
                    to.end(1);
                });
        fails(MachineException.class, "x.own' cannot be read", (file, inside, to) -> {
            throw new IOException("gone");
        });
        fails(
                DataException.class,
                "x.own is empty: no record in it names a field.",
                (file, inside, to) -> to.remark("nothing here"));
        fails(
                DataException.class,
                "x.own, record 3: a record holds at most 4 million characters.",
                (file, inside, to) -> {
                    to.text("t", "x".repeat(5_000_000));
                    to.end(3);
                });
    }

    private void fails(Class<? extends FiestaException> kind, String message, RecordFormat format) {
        assertThatThrownBy(() -> read(format).run()).isInstanceOf(kind).hasMessageContaining(message);
    }

    /** A process that lives long does not gather the files of its readings. */
    @Test
    void whatWasWrittenDownGoesWithItsReaders() throws Exception {
        for (int i = 0; i < 20; i++) {
            int number = i;
            Result t = read((file, inside, to) -> {
                        to.number("n", Integer.toString(number));
                        to.end(1);
                    })
                    .run();
            assertThat(t.row(0).get("n")).isEqualTo((long) i);
        }
        long left = written();
        for (int tries = 0; tries < 100 && left > 0; tries++) {
            System.gc();
            Thread.sleep(50);
            left = written();
        }
        assertThat(left).isZero();
    }

    private static long written() throws IOException {
        String own = "fiesta-run-" + ProcessHandle.current().pid() + "-";
        long count = 0;
        try (Stream<Path> folders = Files.list(Path.of(System.getProperty("java.io.tmpdir")))) {
            for (Path folder : folders.filter(f -> f.getFileName().toString().startsWith(own))
                    .toList()) {
                try (Stream<Path> files = Files.list(folder)) {
                    count +=
                            files.filter(f -> f.toString().endsWith(".records")).count();
                }
            }
        }
        return count;
    }

    @Test
    void aRunIsInterruptedWhileItIsHandedRecords() throws Exception {
        Thread[] reading = {null};
        List<Throwable> came = new java.util.concurrent.CopyOnWriteArrayList<>();
        reading[0] = new Thread(() -> {
            try {
                read((file, inside, to) -> {
                            for (long i = 0; ; i++) {
                                to.number("n", "1");
                                to.end(i);
                            }
                        })
                        .run();
            } catch (IOException | RuntimeException e) {
                came.add(e);
            }
        });
        reading[0].start();
        Thread.sleep(300);
        reading[0].interrupt();
        reading[0].join(20_000);
        assertThat(came).hasSize(1);
        assertThat(came.get(0)).isInstanceOf(dev.fiesta.problem.Interrupted.class);
    }
}
