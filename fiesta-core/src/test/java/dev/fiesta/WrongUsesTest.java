package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.fail;

import dev.fiesta.language.BriefTree;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.value.Field;
import dev.fiesta.value.Schema;
import dev.fiesta.value.Type;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.ObjectInputStream;
import java.io.ObjectOutputStream;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.BiFunction;
import java.util.function.Function;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Whatever is asked wrongly at the doors ends with a sentence under one root, never with something raw; and it can be sent elsewhere. */
@SuppressWarnings({"NullAway", "DataFlowIssue"})
class WrongUsesTest {
    private static final Fiesta FIESTA = Fiesta.with().threads(1).open();
    private static final Schema FIELDS =
            new Schema(List.of(new Field("site", Type.TEXT), new Field("n", Type.INTEGER)));

    private static final List<String> TEXTS = Arrays.asList(
            null,
            "",
            " ",
            "(",
            "'",
            "#",
            "nowhere",
            "n =",
            "n = n +",
            ":x",
            "\0",
            "x = 1 per all",
            "n, , n",
            "1",
            "\"",
            "per",
            "–");

    private final Map<String, Runnable> uses = new LinkedHashMap<>();

    private static Table sales() {
        return FIESTA.rows(FIELDS, () -> Stream.of(new Object[] {"Quay", 1}, new Object[] {null, null}));
    }

    private static Table groups() {
        return sales().per("site").give("sum = sum(n)");
    }

    private void texts(String door, Function<String, Object> use) {
        TEXTS.forEach(t -> uses.put(door + "(" + t + ")", () -> done(use.apply(t))));
    }

    private void use(String door, Runnable use) {
        uses.put(door, use);
    }

    private static void done(Object made) {
        if (made instanceof Table table) {
            table.run().rows();
        } else if (made instanceof Brief brief) {
            brief.run(FIESTA);
        }
    }

    private void tables() {
        texts("then", t -> sales().then(t));
        texts("only", t -> sales().only(t));
        texts("add", t -> sales().add(t));
        texts("per", t -> sales().per(t).count());
        texts("against", t -> sales().per("site").against(t).give("sum = sum(n)"));
        texts("give", t -> sales().per("site").give(t));
        texts("sort", t -> sales().sort(t));
        texts("first", t -> sales().first(1, t));
        texts("totals", t -> groups().totals(t));
        texts("distinct", t -> sales().distinct(t));
        texts("gapless field", t -> sales().gapless(t, "with 0"));
        texts("gapless", t -> sales().gapless("n", t));
        texts("gapless from", t -> sales().gapless(sales(), "site", t));
        texts("fill field", t -> sales().fill(t, "along n"));
        texts("fill", t -> sales().fill("site", t));
        texts("turn", t -> sales().turn(List.of("n"), "name", t));
        texts("turn fields", t -> sales().turn(Arrays.asList(t, "n"), "name", "value"));
        texts("rename", t -> sales().rename(t));
        texts("drop", t -> sales().drop(t));
        texts("sample", t -> sales().sample(t));
        texts("check", t -> sales().check(t));
        texts("hide", t -> groups().hide(t, "sum"));
        texts("hide figures", t -> groups().hide("sum < 3", t));
        texts("columns", t -> sales().columns(t));
        texts("match", t -> sales().match(sales(), t));
        texts("matchEach", t -> sales().matchEach(sales(), t));
        use("first(0)", () -> sales().first(0));
        use("first(-1)", () -> sales().first(-1));
        use("match null", () -> sales().match(null, "on site bring n"));
        use("append null", () -> sales().append(null));
        use("turn null", () -> sales().turn(null, "a", "b"));
        use("add null array", () -> sales().add((String[]) null));
        use("values null", () -> sales().only("n > 1", null));
        use("set null name", () -> sales().set(null, 1));
        use("set odd", () -> sales().set("x", new StringBuilder[][] {{}}));
        use("run null", () -> sales().run(null));
        use("steps of none", () -> sales().steps(3));
        use("check fails", () -> sales().check("n > 5").run());
    }

    private record Sale(String site, long n) {}

    private void doors() {
        texts("readAll", FIESTA::readAll);
        texts("options", t -> FIESTA.read(List.of(Path.of("gone.csv")), t));
        texts("brief", Brief::of);
        texts("brief's parameter", t -> Brief.of("parameter p date").set("p", t));
        texts("quote", t -> {
            String quoted = Fiesta.quote(t);
            return sales().drop(quoted);
        });
        use("read null", () -> FIESTA.read((Path) null));
        use("read nulls", () -> FIESTA.read(Collections.singletonList(null)));
        use("read none", () -> FIESTA.read(List.of()));
        use("read gone", () -> FIESTA.read(Path.of("gone.csv")).run());
        use("brief gone", () -> Brief.read(Path.of("gone.brief")));
        use("brief null", () -> Brief.read(null));
        use("records null", () -> FIESTA.records(Sale.class, (List<Sale>) null).run());
        use("records of null", () -> FIESTA.records(null, List.of()).run());
        use(
                "records hold null",
                () -> FIESTA.records(Sale.class, Collections.singletonList((Sale) null))
                        .run());
        use("rows null", () -> FIESTA.rows(null, Stream::of).run());
        use("rows without", () -> FIESTA.rows(FIELDS, null).run());
        use("from null", () -> FIESTA.from((dev.fiesta.source.Source) null).run());
        use("threads", () -> Fiesta.with().threads(0));
        use("memory", () -> Fiesta.with().memory(-1));
        use("listener", () -> Fiesta.with().progress(null));
        use("reads", () -> Fiesta.with().reads(null));
        use("define null", () -> Fiesta.with().define(null, Long.class, Type.INTEGER, n -> n));
        use("define no body", () -> Fiesta.with().define("f", Long.class, Type.INTEGER, null));
        use("mayRead null", () -> Fiesta.with().mayRead((Path) null));
        use("timeout null", () -> RunOptions.usual().timeout(null));
        Tables tables = Brief.of("input s from 's.csv' table t from s")
                .input("s", sales())
                .tables(FIESTA);
        texts("table", t -> tables.run(Arrays.asList(t)));
        texts("side", t -> tables.trace().side("t", t));
        use("tables null", () -> tables.run(null));
        use("tree null", () -> FIESTA.tables((BriefTree) null, Path.of(""), Map.of()));
    }

    private void results() {
        Result result = sales().run();
        Map<String, BiFunction<Result, String, Object>> columns = Map.of(
                "column", Result::column,
                "longs", Result::longs,
                "doubles", Result::doubles,
                "truths", Result::truths,
                "codes", Result::codes,
                "missing", Result::missing,
                "decimals", Result::decimals);
        columns.forEach((name, column) -> texts(name, t -> column.apply(result, t)));
        texts("get", t -> result.row(0).get(t));
        use("row -1", () -> result.row(-1));
        use("row 2", () -> result.row(2));
        use("text of n", () -> result.row(0).text("n"));
        use("date of n", () -> result.row(0).date("n"));
        use("as null", () -> result.as(null));
        use("as Record", () -> result.as(Record.class));
        use("csv null", () -> result.writeCsv((Path) null));
        use("csv to a folder", () -> result.writeCsv(Path.of("/")));
        use("stream null", () -> result.writeCsv((java.io.OutputStream) null));
    }

    @Test
    void nothingRawComesOut() {
        tables();
        doors();
        results();
        List<String> sentences = new ArrayList<>();
        uses.forEach((name, use) -> {
            try {
                use.run();
            } catch (FiestaException told) {
                assertThat(told.getMessage()).as(name).isNotBlank().doesNotContain("--");
                assertThat(sent(told).getMessage()).as(name).isEqualTo(told.getMessage());
                sentences.add(name);
            } catch (RuntimeException | Error raw) {
                fail(name, raw);
            }
        });
        assertThat(sentences).hasSizeGreaterThan(400);
    }

    private static FiestaException sent(FiestaException told) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (ObjectOutputStream out = new ObjectOutputStream(bytes)) {
            out.writeObject(told);
            out.flush();
            return (FiestaException) new ObjectInputStream(new ByteArrayInputStream(bytes.toByteArray())).readObject();
        } catch (IOException | ClassNotFoundException e) {
            throw new AssertionError(e);
        }
    }
}
