package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.MonthDay;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.time.Period;
import java.time.Year;
import java.time.YearMonth;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.OptionalLong;
import java.util.Set;
import java.util.UUID;
import java.util.function.Supplier;
import java.util.stream.LongStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Objects of Java as records, rows and values of parameters, and back. */
class ValuesTest {
    private static final Fiesta FIESTA = Fiesta.with().threads(2).open();

    enum Weather {
        SUN,
        RAIN
    }

    record Everything(
            long whole,
            int number,
            short few,
            byte least,
            @Nullable Integer perhaps,
            BigInteger large,
            BigDecimal price,
            double share,
            float part,
            String site,
            char sign,
            boolean settled,
            Weather weather,
            UUID id,
            LocalDate day,
            LocalDateTime soldAt,
            Instant at,
            OffsetDateTime offset,
            ZonedDateTime zoned,
            Year year,
            YearMonth month,
            LocalTime opens,
            OffsetTime closes,
            MonthDay holiday,
            Duration took,
            Period season,
            ZoneId zone,
            DayOfWeek weekday,
            Optional<String> note,
            OptionalInt tables,
            OptionalLong visitors,
            OptionalDouble litres) {}

    private static final Everything FULL = new Everything(
            7L,
            -3,
            (short) 12,
            (byte) -1,
            null,
            BigInteger.valueOf(Long.MAX_VALUE),
            new BigDecimal("12.50"),
            0.25,
            1.1f,
            "Quay",
            'x',
            true,
            Weather.RAIN,
            UUID.fromString("00000000-0000-0001-0000-000000000002"),
            LocalDate.of(2026, 5, 1),
            LocalDateTime.of(2026, 5, 1, 18, 30),
            Instant.parse("2026-05-01T16:30:00Z"),
            OffsetDateTime.parse("2026-05-01T16:30:00Z"),
            ZonedDateTime.of(2026, 5, 1, 16, 30, 0, 0, ZoneOffset.UTC),
            Year.of(2026),
            YearMonth.of(2026, 5),
            LocalTime.of(9, 0),
            OffsetTime.of(22, 0, 0, 0, ZoneOffset.ofHours(1)),
            MonthDay.of(6, 24),
            Duration.ofMinutes(90),
            Period.ofMonths(5),
            ZoneId.of("Europe/Lisbon"),
            DayOfWeek.FRIDAY,
            Optional.of("late"),
            OptionalInt.of(4),
            OptionalLong.of(99),
            OptionalDouble.of(2.5));

    private static final Everything BARE = new Everything(
            0,
            0,
            (short) 0,
            (byte) 0,
            5,
            BigInteger.ZERO,
            BigDecimal.ZERO,
            -0.0,
            0f,
            "",
            ' ',
            false,
            Weather.SUN,
            FULL.id(),
            FULL.day(),
            FULL.soldAt(),
            FULL.at(),
            FULL.offset(),
            FULL.zoned(),
            FULL.year(),
            FULL.month(),
            FULL.opens(),
            FULL.closes(),
            FULL.holiday(),
            FULL.took(),
            FULL.season(),
            FULL.zone(),
            FULL.weekday(),
            Optional.empty(),
            OptionalInt.empty(),
            OptionalLong.empty(),
            OptionalDouble.empty());

    static List<Table> ways() {
        return List.of(
                FIESTA.records(Everything.class, List.of(FULL, BARE)),
                FIESTA.records(Everything.class, () -> Stream.of(FULL, BARE)));
    }

    @ParameterizedTest
    @MethodSource("ways")
    void everyClassComesBackAsItWent(Table table) {
        Result result = table.run();
        List<Everything> back = result.as(Everything.class);
        assertThat(back.get(0)).isEqualTo(FULL);
        assertThat(back.get(1).perhaps()).isEqualTo(5);
        assertThat(back.get(1).share()).as("-0 is 0").isEqualTo(0.0);
        assertThat(back.get(1).note()).isEmpty();
        assertThat(back.get(1).tables()).isEmpty();
        assertThat(result.schema().field(result.schema().indexOf("price")).type())
                .isEqualTo(Type.decimal(2));
        assertThat(result.schema().field(result.schema().indexOf("opens")).type())
                .isEqualTo(Type.TEXT);
        assertThat(table.only("weather = 'RAIN' and month = 2026-05-01 and year = 2026")
                        .run()
                        .rows())
                .isEqualTo(1);
    }

    record Price(@Nullable BigDecimal price) {}

    record Weight(double weight) {}

    record Held(@Nullable Object value) {}

    record Late(Instant at) {}

    static List<org.junit.jupiter.params.provider.Arguments> refused() {
        return List.of(
                refusal(
                        "'weight' of the record at place 1 is NaN, which is no number; what is not there is null",
                        () -> FIESTA.records(Weight.class, List.of(new Weight(1), new Weight(Double.NaN)))),
                refusal(
                        "'price' of the record at place 0 is 1E+30, and a decimal holds 18 digits",
                        () -> FIESTA.records(Price.class, List.of(new Price(new BigDecimal("1E+30"))))),
                refusal(
                        "'price' of the record at place 0 is 123456789012345678, and another has 2 digits behind the point",
                        () -> FIESTA.records(
                                Price.class,
                                List.of(
                                        new Price(new BigDecimal("123456789012345678")),
                                        new Price(new BigDecimal("0.01"))))),
                refusal("'value' is java.lang.Object; records hold", () -> FIESTA.records(Held.class, List.of())),
                refusal(
                        "'at' of the record at place 0 is +1000000000-12-31T23:59:59.999999999Z, too far from today for an instant",
                        () -> FIESTA.records(Late.class, List.of(new Late(Instant.MAX)))),
                refusal(
                        "the record at place 1 is null, not",
                        () -> FIESTA.records(Price.class, Arrays.asList(new Price(null), null))),
                refusal(
                        "the row at place 1 has 1 values, and there are 2 fields",
                        () -> rows(new Object[] {"Quay", 1}, new Object[] {"Quay"})),
                refusal("the row at place 0 has no values", () -> rows((Object[]) null)),
                refusal(
                        "'amount' of the row at place 0 is 1.234, not a decimal(2)",
                        () -> rows(new Object[] {"Quay", new BigDecimal("1.234")})),
                refusal("'site' of the row at place 0 is 3, not a text", () -> rows(new Object[] {3, 1})),
                refusal(
                        "'site' of the row at place 0 cannot be java.lang.Object; values are",
                        () -> rows(new Object[] {new Object(), 1})),
                refusal("the supplier of rows gave null", () -> FIESTA.rows(SALES, () -> null)),
                refusal(
                        "whoever reads it failed: java.lang.IllegalStateException: no more",
                        () -> FIESTA.rows(SALES, () -> {
                            throw new IllegalStateException("no more");
                        })));
    }

    private static org.junit.jupiter.params.provider.Arguments refusal(String message, Supplier<Table> table) {
        return org.junit.jupiter.params.provider.Arguments.of(message, table);
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource
    void refused(String message, Supplier<Table> table) {
        assertThatThrownBy(() -> table.get().run())
                .isInstanceOf(RequestException.class)
                .hasMessageContaining(message);
    }

    private static final Schema SALES =
            new Schema(List.of(new Field("site", Type.TEXT), new Field("amount", Type.decimal(2))));

    private static Table rows(Object @Nullable []... rows) {
        return FIESTA.rows(SALES, () -> Stream.of(rows));
    }

    @Test
    void rowsAreAskedForOnceForEveryRunAndTheirStreamIsClosed() {
        List<String> seen = new ArrayList<>();
        Table table = FIESTA.rows(SALES, () -> {
                    seen.add("asked");
                    return Stream.of(new Object[] {"Quay", 1}, new Object[] {null, new BigDecimal("2.5")})
                            .onClose(() -> seen.add("closed"));
                })
                .per("all")
                .give("n = count()", "sum = sum(amount)", "sites = count(site)");
        for (int run = 1; run <= 2; run++) {
            Row row = table.run().row(0);
            assertThat(row.integer("n")).isEqualTo(2);
            assertThat(row.decimal("sum")).isEqualByComparingTo("3.50");
            assertThat(row.integer("sites")).isEqualTo(1);
            assertThat(seen).hasSize(2 * run).endsWith("asked", "closed");
        }
    }

    @Test
    void manyRowsGoThroughAFile() {
        Table table = FIESTA.rows(
                new Schema(List.of(new Field("n", Type.INTEGER))),
                () -> LongStream.range(0, 300_000).mapToObj(n -> new Object[] {n}));
        Result result =
                table.per("last = n % 10").give("n = count()").sort("last").run();
        assertThat(result.longs("n")).hasSize(10).containsOnly(30_000);
    }

    @Test
    void valuesStandApartFromTexts() {
        Table sales = Asking.table("""
                site,day,amount,n
                Quay,2026-05-01,10.00,1
                Old 'Town',2026-05-02,20.50,2
                ,2026-05-03,30.00,3
                """);
        assertThat(sales.only("site = :site", Map.of("site", "Old 'Town'"))
                        .run()
                        .rows())
                .isEqualTo(1);
        assertThat(sales.only("site = :site", Map.of("site", "Quay' or 1 = 1 # "))
                        .run()
                        .rows())
                .isZero();
        assertThat(sales.set("day", LocalDate.of(2026, 5, 2))
                        .set("most", Optional.of(2))
                        .only("day >= :day")
                        .only("n <= :most")
                        .run()
                        .texts("site"))
                .containsExactly("Old 'Town'");
        assertThat(sales.set("sites", Set.of("Quay", "Meadow"))
                        .only("site in :sites")
                        .run()
                        .rows())
                .isEqualTo(1);
        assertThat(sales.set("n", new int[] {1, 3}).only("n in :n").run().rows())
                .isEqualTo(2);
        assertThat(sales.set("of", new Object[] {10, new BigDecimal("20.5")})
                        .only("amount in :of")
                        .run()
                        .rows())
                .isEqualTo(2);
        assertThat(sales.set("site", null).only("site = :site").run().rows()).isZero();
        assertThat(sales.set("site", null).only(":site is missing").run().rows())
                .isEqualTo(3);
        assertThat(sales.add(Map.of("rate", 0.5), "half = amount * :rate").run().doubles("half"))
                .containsExactly(5.0, 10.25, 15.0);
    }

    @Test
    void theSameNameMayHaveAnotherValueLater() {
        Table sales = Asking.table("n\n1\n2\n3\n4\n");
        Table twice = sales.only("n > :x", Map.of("x", 1)).only("n < :x", Map.of("x", 4));
        assertThat(twice.run().longs("n")).containsExactly(2, 3);
        assertThat(sales.set("x", 1)
                        .only("n > :x")
                        .set("x", 4)
                        .only("n < :x")
                        .only("n <> :x", Map.of("x", 2))
                        .add("x = :x")
                        .run()
                        .row(0)
                        .toString())
                .isEqualTo("n 3, x 4");
        assertThatThrownBy(() -> sales.only("n > :x", Map.of("x", 1)).only("n < :x"))
                .as("known in its own text only")
                .hasMessageContaining("There is no parameter ':x'.");
        assertThatThrownBy(() -> sales.set("least", 1).only("n < :laest"))
                .hasMessageContaining("Did you mean 'least'?");
        assertThatThrownBy(() -> sales.set("x", 1).set("x", 2).only("n = :x_2"))
                .hasMessageContaining("There is no parameter ':x_2'.");
        assertThatThrownBy(() -> sales.set("x", 1).set("x", "a").only("n = :x")).hasMessageContaining("is an integer");
    }

    @Test
    void valuesThatAreNoneAreRefusedAtTheCall() {
        Table sales = Asking.table("n\n1\n");
        assertThatThrownBy(() -> sales.set("x", new Object()))
                .isInstanceOf(RequestException.class)
                .hasMessageStartingWith("the parameter 'x' cannot be java.lang.Object; values are");
        assertThatThrownBy(() -> sales.set("x", Arrays.asList(1, null)))
                .hasMessageContaining("is a list that holds null; ask for what is missing by 'is missing'");
        assertThatThrownBy(() -> sales.set("x", List.of(1, "a")))
                .hasMessageContaining("is a list that holds an integer and a text; all are of one type");
        assertThatThrownBy(() -> sales.set("x", Double.POSITIVE_INFINITY)).hasMessageContaining("which is no number");
        assertThatThrownBy(() -> sales.set("x", new BigInteger("9".repeat(30))))
                .hasMessageContaining("too large for an integer");
    }

    record Short(short n) {}

    record Sun(Weather weather) {}

    record Picky(long n) {
        Picky {
            if (n > 1) {
                throw new IllegalStateException("too many");
            }
        }
    }

    @Test
    void recordsThatRowsDoNotFitAreToldOf() {
        Result result = Asking.table("n,weather,x\n1,SUN,\n70000,FOG,1.5\n").run();
        assertThatThrownBy(() -> result.as(Short.class))
                .hasMessage("'n' is 70000 in a row, which no short holds; use long");
        assertThatThrownBy(() -> result.as(Sun.class))
                .hasMessageContaining(
                        "'weather' is 'FOG' in a row, which " + Weather.class.getName() + " does not have");
        assertThatThrownBy(() -> result.as(Picky.class))
                .isInstanceOf(RequestException.class)
                .hasMessageContaining("refuses row 1: java.lang.IllegalStateException: too many");
        assertThatThrownBy(() -> result.as(Weight.class)).hasMessageContaining("there is no field 'weight'");
    }
}
