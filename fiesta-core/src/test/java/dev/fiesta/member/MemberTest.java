package dev.fiesta.member;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Asking;
import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.crew.Crew;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.files.FileSum;
import dev.fiesta.source.files.Paths;
import dev.fiesta.value.Type;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.UnaryOperator;
import java.util.zip.GZIPOutputStream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What members refuse, and what becomes of a run whose members fail. */
class MemberTest {
    private static final String SITES = "input sites from 'sites.csv'\n";
    private static final String BRIEF = "input sales from 'sales.csv'\n" + SITES
            + "table t from sales\n  match sites on site bring town\n  per town give n = count(), s = sum(amount)\n";

    @TempDir
    private Path folder;

    @BeforeEach
    void write() throws IOException {
        StringBuilder text = new StringBuilder("site,amount\n");
        for (int i = 0; i < 5_000; i++) {
            text.append(i % 3 == 0 ? "Quay" : "Meadow").append(',').append(i).append(".50\n");
        }
        Files.writeString(folder.resolve("sales.csv"), text);
        Files.writeString(folder.resolve("sites.csv"), "site,town\nQuay,Ribera\nMeadow,Ribera Alta\n");
    }

    /** A crew of one, of which a test changes what is asked, looked up or answered. */
    private record Changed(Member member, UnaryOperator<byte[]> task, Crew.Laid laid, UnaryOperator<byte[]> answer)
            implements Crew {
        @Override
        public int members() {
            return 1;
        }

        @Override
        public long taskBytes() {
            return 1;
        }

        @Override
        public int mergedAtOnce() {
            return 2;
        }

        @Override
        public long leastBytes() {
            return 1_000; // the sites are read alone
        }

        @Override
        public void close() {}

        @Override
        public Work begin(Purpose purpose) {
            return new Work() {
                @Override
                public Path place(Path file) {
                    return file;
                }

                @Override
                public String lay(Content content) {
                    return "laid";
                }

                @Override
                public CompletableFuture<Answer> ask(byte[] asked) {
                    CompletableFuture<Answer> done = new CompletableFuture<>();
                    try {
                        HeldSections out = new HeldSections();
                        member.work(task.apply(asked), laid, out);
                        byte @Nullable [] bytes = answer.apply(out.bytes().get(0));
                        done.complete(new Answer() {
                            @Override
                            public InputStream open(int section) throws IOException {
                                if (bytes == null) {
                                    throw new IOException("gone");
                                }
                                return new ByteArrayInputStream(bytes);
                            }

                            @Override
                            public String name() {
                                return "answer";
                            }

                            @Override
                            public long bytes() {
                                return bytes == null ? 0 : bytes.length;
                            }

                            @Override
                            public void drop() {}
                        });
                    } catch (IOException | RuntimeException e) {
                        done.completeExceptionally(e);
                    }
                    return done;
                }

                @Override
                public void close() {}
            };
        }
    }

    private String run(String brief, @Nullable Crew crew) {
        try (Fiesta fiesta =
                crew == null ? Fiesta.open() : Fiesta.with().crew(crew).open()) {
            Map<String, Result> results = Brief.of("sales", brief, folder).run(fiesta);
            return String.join("\n", Asking.lines(results.get("t")));
        }
    }

    private String withoutSites(Crew crew) {
        return run("input sales from 'sales.csv'\ntable t from sales per site give s = sum(amount)", crew);
    }

    private static Member member() {
        return Fiesta.with().member();
    }

    private static byte[] same(byte[] bytes) {
        return bytes;
    }

    private static InputStream none(String name, int section) throws IOException {
        throw new IOException("gone");
    }

    @Test
    void aLookUpTravels() {
        try (LocalCrew crew = new LocalCrew(member(), 2, 1, 1_000, 2)) {
            assertThat(run(BRIEF, crew)).isEqualTo("town,n,s\nRibera,1667,4166666.50\nRibera Alta,3333,8333333.50");
        }
    }

    /** Many files, whose folders tell fields; the last ones need wider types. */
    @Test
    void fieldsOfPathsAndWiderTypes() throws IOException {
        for (int month = 1; month <= 12; month++) {
            Path own = Files.createDirectories(folder.resolve("year=2026/month=" + month));
            StringBuilder text = new StringBuilder("site,amount\n");
            for (int i = 0; i < 300; i++) {
                text.append("Quay,").append(i).append(month == 11 && i == 250 ? ".5025\n" : ".50\n");
            }
            Files.writeString(own.resolve("sales.csv"), text);
        }
        String brief = "input sales from 'year=*/month=*/sales.csv' fields from path\n"
                + "table t from sales per year, month give s = sum(amount) sort month";
        String alone = run(brief, null);
        assertThat(alone.lines()).hasSize(13).contains("2026,11,45000.0025");
        for (long task : new long[] {1, 5_000, 1_000_000}) {
            try (LocalCrew crew = new LocalCrew(member(), 3, task, 0, 4)) {
                assertThat(run(brief, crew)).isEqualTo(alone);
            }
        }
    }

    @Test
    void sumsOfFilesAreTheSameWhoeverReadsThem() throws IOException {
        byte[] bytes = new byte[(5 << 20) + 17];
        new SplittableRandom(3).nextBytes(bytes);
        Paths.Named file = new Paths.Named("large.csv", Files.write(folder.resolve("large.csv"), bytes));
        Brief brief = Brief.of("sums", "input sales from 'sales.csv'\ntable t from sales", folder);
        for (long task : new long[] {1, 2 << 20, 1 << 30}) {
            try (LocalCrew crew = new LocalCrew(member(), 3, task, 0, 4);
                    Fiesta fiesta = Fiesta.with().crew(crew).open()) {
                assertThat(brief.tables(fiesta).sum(file)).isEqualTo(FileSum.of(file.path(), file.name()));
            }
        }
    }

    @Test
    void inHowManyPartsAnInputIsReadIsTold() throws IOException {
        try (OutputStream packed = new GZIPOutputStream(Files.newOutputStream(folder.resolve("packed.csv.gz")))) {
            Files.copy(folder.resolve("sales.csv"), packed);
        }
        Files.writeString(folder.resolve("none.csv"), "site,amount\n");
        Brief brief = Brief.of(
                "sums",
                "input sales from 'sales.csv'\ninput packed from 'packed.csv.gz'\ninput none from 'none.csv'\n"
                        + "input made from 'made'\ntable t from sales",
                folder);
        for (int least : new int[] {0, 1 << 30}) {
            try (LocalCrew crew = new LocalCrew(member(), 3, 1 << 20, least, 4);
                    Fiesta fiesta = Fiesta.with().crew(crew).open()) {
                Tables tables = brief.input("made", fiesta.read(folder.resolve("none.csv")))
                        .tables(fiesta);
                assertThat(List.of(tables.parts("sales"), tables.parts("packed")))
                        .containsOnly(least == 0 ? 1 : 0);
                assertThat(List.of(tables.parts("none"), tables.parts("made")))
                        .as("inputs that are read alone")
                        .containsOnly(0);
                assertThatThrownBy(() -> tables.parts("sale"))
                        .isInstanceOf(RequestException.class)
                        .hasMessage("there is no input 'sale'. Did you mean 'sales'?");
            }
        }
        try (Fiesta alone = Fiesta.open()) {
            assertThat(Brief.of("one", "input sales from 'sales.csv'\ntable t from sales", folder)
                            .tables(alone)
                            .parts("sales"))
                    .isZero();
        }
    }

    @Test
    void anotherVersionIsRefused() {
        Member old = new Member("0.0.1", 1, 1 << 20, file -> {}, List.of());
        assertThatThrownBy(() -> withoutSites(new Changed(old, MemberTest::same, MemberTest::none, MemberTest::same)))
                .isInstanceOf(MachineException.class)
                .hasMessage("This member has Fiesta 0.0.1, the one who asks Fiesta " + Fiesta.version()
                        + ". Both must have the same, or the report might not repeat");
    }

    @Test
    void anotherFileOfTheSameNameIsRefused() throws IOException {
        UnaryOperator<byte[]> touched = task -> {
            try {
                Files.setLastModifiedTime(folder.resolve("sales.csv"), FileTime.fromMillis(1_000_000));
            } catch (IOException e) {
                throw new IllegalStateException(e);
            }
            return task;
        };
        assertThatThrownBy(() -> withoutSites(new Changed(member(), touched, MemberTest::none, MemberTest::same)))
                .isInstanceOf(DataException.class) // what looks first finds that it was changed meanwhile
                .hasMessage("'sales.csv' was changed while it was read. Run again when it is whole.");
        byte[][] task = new byte[1][];
        UnaryOperator<byte[]> kept = asked -> task[0] = asked;
        withoutSites(new Changed(member(), kept, MemberTest::none, MemberTest::same));
        Files.setLastModifiedTime(folder.resolve("sales.csv"), FileTime.fromMillis(2_000_000));
        assertThatThrownBy(() -> member().work(task[0], MemberTest::none, new HeldSections()))
                .isInstanceOf(MachineException.class)
                .hasMessage("'sales.csv' is another file on this machine than where it was asked for");
    }

    @Test
    void anotherPlanIsRefused() {
        UnaryOperator<byte[]> other = task -> {
            byte[] changed = task.clone();
            changed[task.length - 30] ^= 1; // before the pieces stands what tells plans apart
            return changed;
        };
        assertThatThrownBy(() -> withoutSites(new Changed(member(), other, MemberTest::none, MemberTest::same)))
                .isInstanceOf(MachineException.class)
                .hasMessage("This member plans the tables otherwise than the one who asks");
    }

    @Test
    void aMemberReadsWhereItMayOnly() throws IOException {
        Path elsewhere = Files.createDirectory(folder.resolve("elsewhere"));
        Member confined = Fiesta.with().mayRead(elsewhere).member();
        assertThatThrownBy(
                        () -> withoutSites(new Changed(confined, MemberTest::same, MemberTest::none, MemberTest::same)))
                .isInstanceOf(RequestException.class)
                .hasMessageContaining("may not be read here");
    }

    @Test
    void aTableThatIsGoneFailsTheRun() {
        assertThatThrownBy(
                        () -> run(BRIEF, new Changed(member(), MemberTest::same, MemberTest::none, MemberTest::same)))
                .isInstanceOf(MachineException.class)
                .hasMessage("A table that is looked up cannot be read (gone)");
    }

    @Test
    void halfAnAnswerFailsTheRun() {
        UnaryOperator<byte[]> half = bytes -> Arrays.copyOf(bytes, bytes.length / 2);
        assertThatThrownBy(() -> withoutSites(new Changed(member(), MemberTest::same, MemberTest::none, half)))
                .isInstanceOf(MachineException.class)
                .hasMessageStartingWith("What a member of the crew wrote cannot be read");
    }

    /** The functions that a program defines are nowhere but in it. */
    @Test
    void aProgramWithFunctionsOfItsOwnReadsAlone() {
        Changed never = new Changed(
                member(),
                task -> {
                    throw new IllegalStateException("nobody is asked");
                },
                MemberTest::none,
                MemberTest::same);
        try (Fiesta fiesta = Fiesta.with()
                .crew(never)
                .define("twice", Long.class, Type.INTEGER, n -> 2 * n)
                .open()) {
            assertThat(fiesta.read(folder.resolve("sales.csv"))
                            .then("per site give n = count() add m = twice(n)")
                            .run()
                            .rows())
                    .isEqualTo(2);
        }
    }

    @Test
    void anAnswerThatIsGoneIsAskedForAgain() {
        AtomicInteger times = new AtomicInteger();
        UnaryOperator<byte @Nullable []> late = bytes -> times.incrementAndGet() < 3 ? null : bytes;
        assertThat(withoutSites(new Changed(member(), MemberTest::same, MemberTest::none, late)))
                .isEqualTo("site,s\nMeadow,8333333.50\nQuay,4166666.50");
        UnaryOperator<byte @Nullable []> never = bytes -> null;
        assertThatThrownBy(() -> withoutSites(new Changed(member(), MemberTest::same, MemberTest::none, never)))
                .isInstanceOf(MachineException.class)
                .hasMessage("What a member of the crew wrote cannot be read (gone)");
    }

    /** More groups than go at once, with states that are large. */
    @Test
    void manyGroupsTravel() throws IOException {
        StringBuilder text = new StringBuilder("site,note\n");
        for (int i = 0; i < 12_000; i++) {
            text.append("site ")
                    .append(i)
                    .append(",")
                    .append("long note ".repeat(30))
                    .append(i)
                    .append('\n');
        }
        Files.writeString(folder.resolve("notes.csv"), text);
        String brief = "input notes from 'notes.csv'\ntable t from notes per site give l = list(note), n = count()";
        String alone = run(brief, null);
        assertThat(alone.lines()).hasSize(12_001);
        try (LocalCrew crew = new LocalCrew(member(), 2, 1 << 30, 0, 2)) {
            assertThat(run(brief, crew)).isEqualTo(alone);
        }
    }
}
