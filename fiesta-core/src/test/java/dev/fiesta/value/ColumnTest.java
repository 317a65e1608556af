package dev.fiesta.value;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.SplittableRandom;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Columns of every type give back what was put in, however they are picked, joined and selected. */
class ColumnTest {
    static Stream<Type> types() {
        return Stream.of(
                Type.INTEGER,
                Type.decimal(0),
                Type.decimal(3),
                Type.REAL,
                Type.TEXT,
                Type.DATE,
                Type.DATETIME,
                Type.INSTANT,
                Type.TRUTH);
    }

    private static List<Object> values(Type type, int count, SplittableRandom random) {
        List<Object> values = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            long n = random.nextInt(-500, 500);
            values.add(
                    random.nextInt(5) == 0
                            ? null
                            : switch (type.kind()) {
                                case INTEGER -> n;
                                case DECIMAL -> BigDecimal.valueOf(n, type.scale());
                                case REAL -> n / 8.0;
                                case TEXT -> "text " + n;
                                case DATE -> LocalDate.ofEpochDay(n);
                                case DATETIME ->
                                    LocalDateTime.of(2026, 5, 1, 0, 0).plusSeconds(n);
                                case INSTANT -> Instant.ofEpochSecond(n);
                                default -> n > 0;
                            });
        }
        return values;
    }

    private static List<Object> list(Column column) {
        List<Object> list = new ArrayList<>();
        for (int i = 0; i < column.size(); i++) {
            assertThat(column.isMissing(i)).isEqualTo(column.get(i) == null);
            list.add(column.get(i));
        }
        return list;
    }

    @ParameterizedTest
    @MethodSource("types")
    void valuesComeBack(Type type) {
        SplittableRandom random = new SplittableRandom(1);
        for (int size : new int[] {0, 1, 63, 64, 65, 200}) {
            List<Object> values = values(type, size, random);
            Column column = Column.of(type, values);
            assertThat(list(column)).isEqualTo(values);
            assertThat(column.present())
                    .isEqualTo((int) values.stream().filter(v -> v != null).count());
            assertThat(column.isConstant()).isFalse();
        }
    }

    @ParameterizedTest
    @MethodSource("types")
    void rowsArePickedInAnyOrder(Type type) {
        SplittableRandom random = new SplittableRandom(2);
        List<Object> values = values(type, 100, random);
        Column column = Column.of(type, values);
        int[] rows = new int[150];
        List<Object> expected = new ArrayList<>();
        for (int i = 0; i < rows.length; i++) {
            rows[i] = random.nextInt(-1, 100);
            expected.add(rows[i] < 0 ? null : values.get(rows[i]));
        }
        assertThat(list(column.take(rows, 150))).isEqualTo(expected);
        assertThat(list(column.take(rows, 70))).isEqualTo(expected.subList(0, 70));
    }

    @ParameterizedTest
    @MethodSource("types")
    void partsAreJoined(Type type) {
        SplittableRandom random = new SplittableRandom(3);
        List<Object> all = new ArrayList<>();
        List<Column> parts = new ArrayList<>();
        for (int size : new int[] {30, 0, 64, 7}) {
            List<Object> values = values(type, size, random);
            all.addAll(values);
            parts.add(Column.of(type, values));
        }
        Object one = values(type, 1, new SplittableRandom(9)).get(0);
        parts.add(Column.constant(type, one, 5));
        parts.add(Column.missing(Type.EMPTY, 3));
        all.addAll(Arrays.asList(one, one, one, one, one, null, null, null));
        assertThat(list(Column.join(type, parts))).isEqualTo(all);
    }

    @ParameterizedTest
    @MethodSource("types")
    void constantsStandForAllRows(Type type) {
        Object one = values(type, 20, new SplittableRandom(4)).stream()
                .filter(v -> v != null)
                .findFirst()
                .orElseThrow();
        Column constant = Column.constant(type, one, 70);
        assertThat(constant.isConstant()).isTrue();
        assertThat(list(constant)).hasSize(70).containsOnly(one);
        assertThat(list(constant.flat())).hasSize(70).containsOnly(one);
        assertThat(constant.flat().isConstant()).isFalse();
        assertThat(constant.present()).isEqualTo(70);
        Column missing = Column.constant(type, null, 5);
        assertThat(list(missing)).containsOnlyNulls();
        assertThat(missing.present()).isZero();
    }

    @Test
    void aFewRowsPickedFromManyAreKeptWithTheirOwnTexts() {
        List<Object> texts = new ArrayList<>();
        for (int i = 0; i < 5_000; i++) {
            texts.add(i % 100 == 7 ? null : "stall " + i);
        }
        Column all = Column.of(Type.TEXT, texts);
        Column few = all.take(new int[] {4_000, 107, -1, 12, 4_000}, 5);
        TextColumn held = (TextColumn) few.held();
        assertThat(held.dictionary().size()).isEqualTo(2);
        assertThat(List.of(held.get(0), held.get(3), held.get(4)))
                .containsExactly("stall 4000", "stall 12", "stall 4000");
        assertThat(List.of(held.isMissing(1), held.isMissing(2))).containsExactly(true, true);
        assertThat(all.held()).isSameAs(all);
        assertThat(all.take(new int[0], 0).held().size()).isZero();
    }

    @Test
    void numbersAreCleaned() {
        DoubleColumn column =
                DoubleColumn.cleaned(new double[] {1.5, -0.0, Double.NaN, Double.POSITIVE_INFINITY}, 4, null);
        assertThat(column.get(0)).isEqualTo(1.5);
        assertThat(Double.doubleToRawLongBits((Double) column.get(1))).isZero();
        assertThat(column.get(2)).isNull();
        assertThat(column.get(3)).isNull();
    }

    @Test
    void typesCheckThemselves() {
        assertThatThrownBy(() -> Type.decimal(19)).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> new Type(Kind.TEXT, 2)).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> new Schema(List.of(new Field("a", Type.TEXT), new Field("a", Type.DATE))))
                .hasMessage("the field 'a' is there twice");
        assertThatThrownBy(() -> Values.toLong(Type.decimal(1), new BigDecimal("1.25")))
                .isInstanceOf(ArithmeticException.class);
        assertThat(Type.decimal(2)).hasToString("decimal(2)");
        assertThat(Type.INTEGER.withArticle()).isEqualTo("an integer");
        assertThat(Type.TRUTH.withArticle()).isEqualTo("true or false");
    }

    @Test
    void batchesLoadWhatIsAskedForAndOnlyForTheRowsAlive() {
        List<String> loaded = new ArrayList<>();
        Batch batch = Batch.lazy(
                6,
                3,
                (field, rows, count) -> {
                    loaded.add(field + ":" + (rows == null ? "all" : Arrays.toString(Arrays.copyOf(rows, count))));
                    List<Object> values = new ArrayList<>();
                    for (int i = 0; i < count; i++) {
                        values.add(field * 100L + (rows == null ? i : rows[i]));
                    }
                    return Column.of(Type.INTEGER, values);
                },
                7);
        assertThat(list(batch.column(0))).containsExactly(0L, 1L, 2L, 3L, 4L, 5L);
        Batch some = batch.select(new int[] {1, 3, 4}, 3);
        assertThat(list(some.column(0))).containsExactly(1L, 3L, 4L);
        assertThat(list(some.column(1))).containsExactly(101L, 103L, 104L);
        Batch fewer = some.select(new int[] {0, 2}, 2);
        assertThat(list(fewer.column(1))).containsExactly(101L, 104L);
        assertThat(list(fewer.column(2))).containsExactly(201L, 204L);
        assertThat(loaded).containsExactly("0:all", "1:[1, 3, 4]", "2:[1, 4]");
        Batch projected = batch.head(2).project(List.of(2, 0));
        assertThat(list(projected.column(0))).containsExactly(200L, 201L);
        assertThat(list(projected.column(1))).containsExactly(0L, 1L);
        assertThat(projected.sequence()).isEqualTo(7);
        Batch wider = batch.with(4, Column.constant(Type.TEXT, "x", 6));
        assertThat(wider.width()).isEqualTo(5);
        assertThat(list(wider.column(4))).containsOnly("x");
        assertThat(wider.loaded(3)).isNull();
    }
}
