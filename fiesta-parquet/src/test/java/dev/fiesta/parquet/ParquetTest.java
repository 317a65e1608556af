package dev.fiesta.parquet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Result;
import dev.fiesta.crew.Crew;
import dev.fiesta.member.LocalCrew;
import dev.fiesta.member.Member;
import dev.fiesta.output.TextStyle;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.io.OutputStream;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.SplittableRandom;
import org.apache.parquet.column.ParquetProperties.WriterVersion;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.example.data.Group;
import org.apache.parquet.example.data.simple.NanoTime;
import org.apache.parquet.example.data.simple.SimpleGroup;
import org.apache.parquet.hadoop.ParquetWriter;
import org.apache.parquet.hadoop.example.ExampleParquetWriter;
import org.apache.parquet.hadoop.metadata.CompressionCodecName;
import org.apache.parquet.io.LocalOutputFile;
import org.apache.parquet.io.api.Binary;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.MessageTypeParser;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Files of columns: what others write is read, what is written is read back, and what may be passed over changes nothing. */
class ParquetTest {
    @TempDir
    Path folder;

    private Result read(String file, String options) {
        return run("input s from '" + file + "' " + options + " table t from s");
    }

    private Result run(String brief) {
        try (Fiesta fiesta = Fiesta.with()
                .threads(2)
                .memory(1 << 20)
                .reads(ParquetFiles.FORMAT)
                .open()) {
            return Brief.of("t.brief", brief, folder).run(fiesta).get("t");
        }
    }

    private static List<String> types(Result result) {
        return result.schema().fields().stream()
                .map(f -> f.name() + " " + f.type())
                .toList();
    }

    private static List<String> values(Result result, String field) {
        return result.stream().map(r -> String.valueOf(r.get(field))).toList();
    }

    private ParquetWriter<Group> writer(
            String file, MessageType schema, CompressionCodecName codec, WriterVersion version) throws IOException {
        return ExampleParquetWriter.builder(new LocalOutputFile(folder.resolve(file)))
                .withConf(new PlainParquetConfiguration())
                .withCodecFactory(new ParquetCodecs())
                .withCompressionCodec(codec)
                .withWriterVersion(version)
                .withType(schema)
                .withRowGroupRowCountLimit(700)
                .withPageSize(2000)
                .withPageRowCountLimit(150)
                .build();
    }

    private void write(Result result, String file) throws IOException {
        try (OutputStream out = Files.newOutputStream(folder.resolve(file))) {
            new ParquetTable().write(result, out);
        }
    }

    private static Binary fixed(long value, int width) {
        byte[] bytes = new byte[width];
        byte[] number = BigInteger.valueOf(value).toByteArray();
        Arrays.fill(bytes, (byte) (value < 0 ? -1 : 0));
        System.arraycopy(number, 0, bytes, width - number.length, number.length);
        return Binary.fromConstantByteArray(bytes);
    }

    @Test
    void valuesOfAllKindsAreRead() throws IOException {
        MessageType schema = MessageTypeParser.parseMessageType("""
                message t {
                  required int32 i; optional int64 l; optional int32 u (INTEGER(32,false)); optional int64 v (INTEGER(64,false));
                  optional int32 d4 (DECIMAL(9,2)); optional int64 d8 (DECIMAL(18,3)); optional binary db (DECIMAL(30,4));
                  optional fixed_len_byte_array(12) df (DECIMAL(28,1)); optional int32 day (DATE);
                  optional int64 tm (TIMESTAMP(MILLIS,false)); optional int64 tu (TIMESTAMP(MICROS,true));
                  optional int64 tn (TIMESTAMP(NANOS,false)); optional int96 t96; optional float f; optional double g;
                  optional boolean b; optional binary s (STRING); optional binary raw; optional binary e (ENUM);
                  optional fixed_len_byte_array(16) id (UUID); optional int32 h (TIME(MILLIS,true)); optional int64 hn (TIME(NANOS,false));
                  optional group place { optional binary site (STRING); } repeated int32 many; optional binary bs (BSON);
                }
                """);
        try (ParquetWriter<Group> writer =
                writer("all.parquet", schema, CompressionCodecName.SNAPPY, WriterVersion.PARQUET_1_0)) {
            Group g = new SimpleGroup(schema);
            g.append("i", -7).append("l", 1L << 40).append("u", -1).append("v", 5L);
            g.append("d4", -1234)
                    .append("d8", 123456789012345678L)
                    .append("db", fixed(-987654321L, 9))
                    .append("df", fixed(15, 12));
            g.append("day", 20574)
                    .append("tm", 1777629600123L)
                    .append("tu", 1777629600123456L)
                    .append("tn", 1777629600123456789L);
            byte[] old = ByteBuffer.allocate(12)
                    .order(ByteOrder.LITTLE_ENDIAN)
                    .putLong(36_000_000_000_000L)
                    .putInt(2_440_588 + 20574)
                    .array();
            g.append("t96", NanoTime.fromBinary(Binary.fromConstantByteArray(old)));
            g.append("f", 1.1f)
                    .append("g", 0.1)
                    .append("b", true)
                    .append("s", "é\n")
                    .append("raw", "x")
                    .append("e", "A");
            g.append("id", Binary.fromConstantByteArray(new byte[16]))
                    .append("h", 36_000_500)
                    .append("hn", 1_000L);
            writer.write(g);
            Group empty = new SimpleGroup(schema);
            empty.append("i", 8).append("f", Float.NaN).append("g", Double.POSITIVE_INFINITY);
            writer.write(empty);
        }
        Result t = read("all.parquet", "");
        assertThat(types(t))
                .containsExactly(
                        "i integer",
                        "l integer",
                        "u integer",
                        "v integer",
                        "d4 decimal(2)",
                        "d8 decimal(3)",
                        "db decimal(4)",
                        "df decimal(1)",
                        "day date",
                        "tm datetime",
                        "tu instant",
                        "tn datetime",
                        "t96 datetime",
                        "f real",
                        "g real",
                        "b truth",
                        "s text",
                        "raw text",
                        "e text",
                        "id text",
                        "h text",
                        "hn text");
        StringBuilder csv = new StringBuilder();
        t.write(csv, TextStyle.CSV);
        assertThat(csv.toString().split("\n", 2)[1])
                .isEqualTo("-7,1099511627776,4294967295,5,-12.34,123456789012345.678,-98765.4321,1.5,2026-05-01,"
                        + "2026-05-01T10:00:00.123,2026-05-01T10:00:00.123456Z,2026-05-01T10:00:00.123456,2026-05-01T10:00:00,"
                        + "1.1,0.1,true,\"é\n\",x,A,00000000-0000-0000-0000-000000000000,10:00:00.500,00:00:00.000001\n"
                        + "8" + ",".repeat(21) + "\n");
        assertThat(t.notices().list().stream().map(n -> n.text()).toList())
                .containsExactlyInAnyOrder(
                        "f: 1 value could not be read and became missing, such as NaN (all.parquet, row 2)",
                        "g: 1 value could not be read and became missing, such as Infinity (all.parquet, row 2)");
        assertThat(run("input s from 'all.parquet' table t from s only i < 0")
                        .notices()
                        .list())
                .isEmpty();
        assertThat(t.notices().warnings())
                .containsExactly(
                        "all.parquet: not read, as they hold records, lists or values of unknown types: place, many, bs");
    }

    @ParameterizedTest
    @EnumSource(
            value = CompressionCodecName.class,
            names = {"UNCOMPRESSED", "GZIP", "ZSTD", "SNAPPY"})
    void pagesOfAllFormsAreRead(CompressionCodecName codec) throws IOException {
        MessageType schema = MessageTypeParser.parseMessageType(
                "message t { required int64 n; optional binary s (STRING); optional double x; optional int32 d (DATE); optional boolean b; }");
        for (WriterVersion version : WriterVersion.values()) {
            for (int different : new int[] {3, 100_000}) {
                String file = codec + "-" + version + "-" + different + ".parquet";
                Random random = new Random(different);
                StringBuilder csv = new StringBuilder("n,s,x,d,b\n");
                try (ParquetWriter<Group> writer = writer(file, schema, codec, version)) {
                    for (int i = 0; i < 2000; i++) {
                        Group g = new SimpleGroup(schema);
                        g.append("n", (long) i);
                        int value = random.nextInt(different);
                        boolean there = i % 400 < 200 || random.nextInt(3) > 0;
                        if (there) {
                            g.append("s", "text " + value)
                                    .append("x", value / 4.0)
                                    .append("d", 20000 + value % 1000)
                                    .append("b", value % 2 == 0);
                        }
                        csv.append(i).append(',');
                        csv.append(
                                there
                                        ? "text " + value + "," + value / 4.0 + ","
                                                + java.time.LocalDate.ofEpochDay(20000 + value % 1000) + ","
                                                + (value % 2 == 0)
                                        : ",,,");
                        csv.append('\n');
                        writer.write(g);
                    }
                }
                Files.writeString(folder.resolve("same.csv"), csv);
                for (String question : List.of(
                        "per s give n = count(), x = sum(x), d = max(d), b = count_if(b) sort s",
                        "only n between 650 and 1450 and s is not missing",
                        "only d < 2024-10-10 or b add r = rank(along x, n)",
                        "sort x desc, n first 7 ")) {
                    assertThat(csv(file, question)).as(file + " " + question).isEqualTo(csv("same.csv", question));
                }
            }
        }
    }

    private String csv(String file, String question) throws IOException {
        StringBuilder csv = new StringBuilder();
        run("input s from '" + file + "' fields x real, b truth table t from s " + question)
                .write(csv, TextStyle.CSV);
        return csv.toString();
    }

    /** What our writer writes is the same table; conditions of all kinds pass groups over and give what the text gives. */
    @ParameterizedTest
    @ValueSource(longs = {1, 2, 4})
    void whatIsWrittenIsReadBack(long seed) throws IOException {
        Random random = new Random(seed);
        StringBuilder text = new StringBuilder("id,site,amount,day,at,rate,open,empty\n");
        int rows = seed == 4 ? 0 : 140_000;
        for (int i = 0; i < rows; i++) {
            text.append(i).append(',');
            text.append(random.nextInt(20) == 0 ? "" : "site " + random.nextInt(9))
                    .append(',');
            text.append(random.nextInt(50) == 0 ? "" : (random.nextInt(100_000) - 50_000) / 100 + ".2")
                    .append("5,");
            text.append(java.time.LocalDate.of(2026, 1, 1).plusDays(i / 400)).append(',');
            text.append(java.time.LocalDateTime.of(2026, 1, 1, 8, 0).plusMinutes(i))
                    .append(',');
            text.append(random.nextInt(9) == 0 ? "" : "" + random.nextInt(1000) / 8.0)
                    .append(',');
            text.append(i % 3 == 0).append(",\n");
        }
        Files.writeString(folder.resolve("s.csv"), text.toString().replace(",5,", ",0.05,"));
        String fields =
                "fields id integer, site text, amount decimal(2), day date, at datetime, rate real, open truth ";
        Result all = run("input s from 's.csv' " + fields + "table t from s");
        write(all, "s.parquet");
        StringBuilder before = new StringBuilder();
        all.write(before, TextStyle.CSV);
        StringBuilder after = new StringBuilder();
        read("s.parquet", "").write(after, TextStyle.CSV);
        assertThat(after.toString()).isEqualTo(before.toString());
        for (String condition : List.of(
                "id >= 135000 and id < 135010",
                "id = 5 or id = 139999",
                "id in (1, 70000, 200000)",
                "id < 0",
                "id <> 3 and id > 139900",
                "day between 2026-06-01 and 2026-06-02",
                "date(at) = 2026-03-01",
                "year(at) = 2025",
                "start_of_month(at) >= 2026-04-01 and open",
                "amount > 499 and id < 1000",
                "site = 'site 3' and id > 130000",
                "not id < 139990",
                "rate > 124 and day > 2026-12-01",
                "if id > 139990 then 1 / (id - 139995) > 0 else false")) {
            String question = "table t from s only " + condition
                    + " per site, open give n = count(), a = sum(amount), r = mean(rate)";
            StringBuilder one = new StringBuilder();
            StringBuilder two = new StringBuilder();
            Result ofText = run("input s from 's.csv' " + fields + question);
            Result ofColumns = run("input s from 's.parquet' " + question);
            ofText.write(one, TextStyle.CSV);
            ofColumns.write(two, TextStyle.CSV);
            assertThat(two.toString()).as(condition).isEqualTo(one.toString());
            assertThat(counted(ofColumns)).as(condition).isEqualTo(counted(ofText));
            assertThat(ofColumns.timings().stream()
                            .map(t -> t.step() + t.rowsIn() + t.rowsOut())
                            .toList())
                    .as(condition)
                    .isEqualTo(ofText.timings().stream()
                            .map(t -> t.step() + t.rowsIn() + t.rowsOut())
                            .toList());
        }
    }

    /** What was counted, without where the example stands. */
    private static String counted(Result result) {
        return result.notices().list().toString().replaceAll("\\(s\\.[^)]*\\)", "");
    }

    @Test
    void fieldsMayBeDeclaredAgain() throws IOException {
        MessageType schema = MessageTypeParser.parseMessageType(
                "message t { optional binary a (STRING); optional int32 b; optional double c; }");
        try (ParquetWriter<Group> writer =
                writer("f.parquet", schema, CompressionCodecName.GZIP, WriterVersion.PARQUET_2_0)) {
            writer.write(new SimpleGroup(schema)
                    .append("a", "€ 1.234,50")
                    .append("b", 3)
                    .append("c", 2.5));
            writer.write(new SimpleGroup(schema).append("a", "-").append("b", 4));
            writer.write(new SimpleGroup(schema).append("a", "x"));
        }
        Result t = read(
                "f.parquet",
                "fields amount decimal(2) from a without '€' bad as missing, b decimal(1) default 9, c text");
        assertThat(types(t)).containsExactly("amount decimal(2)", "b decimal(1)", "c text");
        assertThat(values(t, "b")).containsExactly("3.0", "4.0", "9.0");
        assertThat(values(t, "c")).containsExactly("2.5", "null", "null");
        assertThat(t.notices().list().get(0).text())
                .isEqualTo(
                        "amount: 3 values could not be read and became missing, such as '1.234,50' (f.parquet, row 1)");
        assertThatThrownBy(() -> read("f.parquet", "fields a integer"))
                .isInstanceOf(DataException.class)
                .hasMessage("f.parquet, row 1: field a: '€ 1.234,50' is not an integer.");
    }

    @Test
    void filesMeetByNameAndWiden() throws IOException {
        MessageType one =
                MessageTypeParser.parseMessageType("message t { optional int32 a; optional int64 b (DECIMAL(9,1)); }");
        MessageType two =
                MessageTypeParser.parseMessageType("message t { optional int64 b (DECIMAL(9,3)); optional int64 c; }");
        try (ParquetWriter<Group> writer =
                writer("m1.parquet", one, CompressionCodecName.ZSTD, WriterVersion.PARQUET_1_0)) {
            writer.write(new SimpleGroup(one).append("a", 1).append("b", 15L));
        }
        try (ParquetWriter<Group> writer =
                writer("m2.parquet", two, CompressionCodecName.ZSTD, WriterVersion.PARQUET_1_0)) {
            writer.write(new SimpleGroup(two).append("b", 2250L).append("c", 7L));
        }
        Result t = run("input s from 'm*.parquet' fields by name table t from s add f = file_name");
        assertThat(types(t)).containsExactly("a integer", "b decimal(3)", "c integer", "f text");
        assertThat(values(t, "b")).containsExactly("1.500", "2.250");
        assertThat(values(t, "c")).containsExactly("null", "7");
        assertThat(values(t, "f")).containsExactly("m1.parquet", "m2.parquet");
        assertThatThrownBy(() -> run("input s from 'm*.parquet' table t from s"))
                .isInstanceOf(DataException.class)
                .hasMessageContaining("m2.parquet has other columns than m1.parquet: it lacks a; it also has c;");
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "optional int64 x (DECIMAL(18,2)) | 1234567890123456789 | '12345678901234567.89' has more than the 18 digits of a decimal. | 1.2345678901234568E16",
                "optional int64 x | 1234567890123456789 | '1234567890123456789' has more than the 18 digits of an integer. | 1.23456789012345677E18",
                "optional int64 x (INTEGER(64,false)) | -1 | '18446744073709551615' has more than the 18 digits of an integer. | 1.8446744073709552E19",
                "optional int64 x (TIMESTAMP(MILLIS,true)) | 9223372036854775807 | day 106751991167 from 1970 lies outside the years 1 to 9999. | ~~",
                "optional int64 x (TIMESTAMP(MICROS,false)) | -9223372036854775808 | day -106751992 from 1970 lies outside the years 1 to 9999. | ~~",
                "optional int64 x (TIME(MICROS,false)) | 86400000000 | 86400000000000 ns is no time of day. | ~~",
            })
    void valuesThatNoTypeHoldsAreToldWhereTheyAreWanted(String column, long value, String message, String real)
            throws IOException {
        MessageType schema = MessageTypeParser.parseMessageType("message t { required int32 n; " + column + "; }");
        try (ParquetWriter<Group> writer =
                writer("x.parquet", schema, CompressionCodecName.ZSTD, WriterVersion.PARQUET_2_0)) {
            writer.write(new SimpleGroup(schema).append("n", 1).append("x", 1L));
            writer.write(new SimpleGroup(schema).append("n", 2).append("x", value));
        }
        String advice = real.isEmpty() ? "" : "\n  Read it as a real number: fields x real";
        assertThatThrownBy(() -> run("input s from 'x.parquet' table t from s"))
                .isInstanceOf(DataException.class)
                .hasMessage("x.parquet, row 2: field x: " + message + advice);
        assertThatThrownBy(() -> run("input s from 'x.parquet' table t from s only x is not missing per all"))
                .isInstanceOf(DataException.class);
        assertThat(run("input s from 'x.parquet' table t from s only n = 1").rows())
                .isEqualTo(1);
        assertThat(run("input s from 'x.parquet' table t from s per n").rows()).isEqualTo(2);
        Type type = run("input s from 'x.parquet' table t from s only n = 1")
                .schema()
                .type(1);
        Result missing = run("input s from 'x.parquet' fields x " + type + " bad as missing table t from s");
        assertThat(missing.row(0).get("x")).isNotNull();
        assertThat(missing.row(1).get("x")).isNull();
        assertThat(missing.notices().list().get(0).text())
                .startsWith("x: 1 value could not be read and became missing, such as ")
                .endsWith(" (x.parquet, row 2)");
        if (!real.isEmpty()) {
            assertThat(run("input s from 'x.parquet' fields x real table t from s")
                            .row(1)
                            .get("x"))
                    .isEqualTo(Double.parseDouble(real));
        }
    }

    @Test
    void decimalsOfMoreDigitsThanOursAreReals() throws IOException {
        MessageType schema = MessageTypeParser.parseMessageType(
                "message t { optional binary x (DECIMAL(38,20)); optional int32 d (DATE); }");
        try (ParquetWriter<Group> writer =
                writer("y.parquet", schema, CompressionCodecName.ZSTD, WriterVersion.PARQUET_1_0)) {
            writer.write(new SimpleGroup(schema)
                    .append("x", fixed(1_250_000_000_000_000_000L, 16))
                    .append("d", Integer.MAX_VALUE));
        }
        Result t = run("input s from 'y.parquet' table t from s drop d");
        assertThat(types(t)).containsExactly("x real");
        assertThat(t.row(0).get("x")).isEqualTo(0.0125);
        assertThatThrownBy(() -> run("input s from 'y.parquet' table t from s only d > 2026-01-01"))
                .hasMessage("y.parquet, row 1: field d: day 2147483647 from 1970 lies outside the years 1 to 9999.");
    }

    /** Texts that hardly repeat are left behind on the way, so that a batch may hold those of two dictionaries. */
    @Test
    void manyLongTextsAreReadPageByPage() throws IOException {
        StringBuilder csv = new StringBuilder("t,n\n");
        for (int i = 0; i < 40_000; i++) {
            csv.append(i % 4 == 0 ? "same" : ("text " + i + " ").repeat(30))
                    .append(',')
                    .append(i)
                    .append('\n');
        }
        Files.writeString(folder.resolve("l.csv"), csv);
        write(run("input s from 'l.csv' fields t text, n integer table t from s"), "l.parquet");
        StringBuilder back = new StringBuilder();
        read("l.parquet", "").write(back, TextStyle.CSV);
        assertThat(back.toString()).isEqualTo(csv.toString());
    }

    @Test
    void damagedFilesAreToldAsSuch() throws IOException {
        MessageType schema = MessageTypeParser.parseMessageType("message t { optional binary a (STRING); }");
        try (ParquetWriter<Group> writer =
                writer("d.parquet", schema, CompressionCodecName.ZSTD, WriterVersion.PARQUET_1_0)) {
            for (int i = 0; i < 500; i++) {
                writer.write(new SimpleGroup(schema).append("a", "value " + i));
            }
        }
        byte[] whole = Files.readAllBytes(folder.resolve("d.parquet"));
        Random random = new Random(7);
        for (int i = 0; i < 300; i++) {
            byte[] bytes = i % 3 == 0 ? Arrays.copyOf(whole, random.nextInt(whole.length)) : whole.clone();
            for (int k = 0; k < 1 + i % 4 && bytes.length > 0 && i % 3 > 0; k++) {
                bytes[random.nextInt(bytes.length)] ^= (byte) (1 + random.nextInt(255));
            }
            Files.write(folder.resolve("e.parquet"), bytes);
            try {
                read("e.parquet", ""); // a changed letter of a value cannot be seen
            } catch (DataException e) {
                assertThat(e.getMessage())
                        .startsWith("'e.parquet' cannot be read as Parquet: ")
                        .as("%d", i);
            } catch (dev.fiesta.problem.FiestaException e) {
                assertThat(e.getMessage()).contains("e.parquet").as("%d", i);
            }
        }
        assertThatThrownBy(() -> run("input s from 'd.parquet' delimiter ';' table t from s"))
                .hasMessageContaining("This input is read as parquet, to which 'delimiter' means nothing.");
    }

    @Test
    void hiddenFiguresAndTotalsAreNotWritten() throws IOException {
        Files.writeString(folder.resolve("h.csv"), "site,amount\nQuay,1\nQuay,2\nMeadow,5\n");
        Result t = run(
                "input s from 'h.csv' table t from s per site give n = count(), a = sum(amount) totals hide a where n < 2");
        write(t, "h.parquet");
        Result back = read("h.parquet", "");
        assertThat(values(back, "site")).containsExactly("Meadow", "Quay");
        assertThat(values(back, "a")).containsOnly("null");
    }

    @Test
    void theSameTableIsTheSameBytes() throws IOException {
        Files.writeString(folder.resolve("b.csv"), "site,amount\nQuay,1\nMeadow,2.5\n");
        Result t = run("input s from 'b.csv' table t from s");
        write(t, "one.parquet");
        write(t, "two.parquet");
        assertThat(Files.mismatch(folder.resolve("one.parquet"), folder.resolve("two.parquet")))
                .isEqualTo(-1);
    }

    /** Two files of 700 rows a group; some values are no decimals. */
    private void sales() throws IOException {
        MessageType schema = MessageTypeParser.parseMessageType(
                "message t { optional binary site (STRING); optional int32 sale; optional int64 fee (DECIMAL(9,2)); optional binary amount (STRING); }");
        SplittableRandom random = new SplittableRandom(8);
        for (String file : List.of("sales-1.parquet", "sales-2.parquet")) {
            try (ParquetWriter<Group> writer =
                    writer(file, schema, CompressionCodecName.ZSTD, WriterVersion.PARQUET_2_0)) {
                for (int i = 0; i < 1_600; i++) {
                    Group row = new SimpleGroup(schema)
                            .append("sale", i)
                            .append("amount", random.nextInt(900) == 0 ? "some" : random.nextInt(5_000) + ".50");
                    if (random.nextInt(50) > 0) {
                        row.append("site", "site " + random.nextInt(9)).append("fee", (long) random.nextInt(900));
                    }
                    writer.write(row);
                }
            }
        }
    }

    private static Fiesta open(@Nullable Crew crew) {
        FiestaBuilder settings = Fiesta.with().threads(2).reads(ParquetFiles.FORMAT);
        return crew == null ? settings.open() : settings.crew(crew).open();
    }

    private Object outcome(String clauses, @Nullable Crew crew) {
        String options = clauses.contains("strict") ? "" : " bad as missing";
        try (Fiesta fiesta = open(crew)) {
            Result t = Brief.of(
                            "t",
                            "input s from 'sales-*.parquet' fields amount decimal(2)" + options + "\ntable t from s "
                                    + clauses.replace("strict", ""),
                            folder)
                    .run(fiesta)
                    .get("t");
            return List.of(
                    t.stream()
                            .map(r -> t.schema().names().stream()
                                    .map(n -> String.valueOf(r.get(n)))
                                    .toList())
                            .toList(),
                    t.totals().toString(),
                    t.notices().list().stream().map(n -> n.text()).toList());
        } catch (FiestaException e) {
            return e.getMessage();
        }
    }

    /** Groups of rows are what members of a crew read. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "per site give n = count(), s = sum(amount), m = median(fee) totals",
                "add r = rank(within site along amount desc) only r <= 3",
                "sort amount desc, sale first 20",
                "first 900",
                "distinct site, fee",
                "add s = sum(fee within site along sale running) only s > 90",
                "only sale >= 1590 columns sale, amount",
                "strict per site give s = sum(amount)",
                "add x = 1 / (sale - 1321)"
            })
    void aCrewReadsGroupsOfRows(String clauses) throws IOException {
        sales();
        Object alone = outcome(clauses, null);
        Member member = Fiesta.with().threads(2).reads(ParquetFiles.FORMAT).member();
        try (LocalCrew crew = new LocalCrew(member, 3, 1, 0, 2)) {
            assertThat(outcome(clauses, crew)).isEqualTo(alone);
        }
    }

    @Test
    void aCrewSurveysThem() throws IOException {
        sales();
        Member member = Fiesta.with().threads(2).reads(ParquetFiles.FORMAT).member();
        try (LocalCrew crew = new LocalCrew(member, 3, 1, 0, 2);
                Fiesta together = open(crew);
                Fiesta alone = open(null)) {
            Path file = folder.resolve("sales-1.parquet");
            assertThat(together.read(file).survey())
                    .usingRecursiveComparison()
                    .isEqualTo(alone.read(file).survey());
        }
    }

    @Test
    void aMemberSaysWhatItDoesNotRead() throws IOException {
        sales();
        try (LocalCrew crew = new LocalCrew(Fiesta.with().member(), 1, 1, 0, 2)) {
            assertThat(outcome("per site give n = count()", crew))
                    .isEqualTo("This member does not read inputs 'as parquet'");
        }
    }
}
