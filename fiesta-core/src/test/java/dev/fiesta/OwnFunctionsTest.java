package dev.fiesta;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.DataException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Type;
import java.io.IOException;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Functions that a program defines stand beside those of the language. */
class OwnFunctionsTest {
    private static final BigDecimal RATE = new BigDecimal("0.23");

    private final Fiesta fiesta = Fiesta.with()
            .define(
                    "vat",
                    BigDecimal.class,
                    Type.decimal(2),
                    net -> net.multiply(RATE).setScale(2, RoundingMode.HALF_EVEN))
            .define("initial", String.class, Type.TEXT, t -> t.isEmpty() ? null : t.substring(0, 1))
            .define("half", Double.class, Type.REAL, x -> x / 2)
            .define("pick", Long.class, String.class, Type.TEXT, (n, t) -> t.substring(0, n.intValue()))
            .define("wrong", String.class, Type.INTEGER, t -> t)
            .define("three", List.of(), Type.INTEGER, args -> 3)
            .define("is_late", List.of(LocalDate.class), Type.TRUTH, args -> ((LocalDate) args[0]).getMonthValue() > 5)
            .open();

    @TempDir
    private Path folder;

    private Table sales;

    @BeforeEach
    void file() throws IOException {
        Path file = folder.resolve("sales.csv");
        Files.writeString(
                file,
                "site,day,amount,n\nQuay,2026-05-01,10.00,1\nMeadow,2026-06-01,0.10,2\n,2026-06-02,,3\nQuay,2026-06-03,5.05,4\n");
        sales = fiesta.read(file);
    }

    @Test
    void theyAreCalledLikeOurs() {
        assertThat(Asking.lines(sales.add("tax = vat(amount)", "i = initial(site)", "h = half(n)", "l = is_late(day)")
                        .columns("tax", "i", "h", "l")
                        .run()))
                .containsExactly("tax,i,h,l", "2.30,Q,0.5,false", "0.02,M,1,true", ",,1.5,true", "1.16,Q,2,true");
        assertThat(Asking.lines(sales.per("i = initial(site)")
                        .give("tax = sum(vat(amount))")
                        .only("vat(tax) > 0.01 or tax is missing")
                        .sort("i")
                        .run()))
                .containsExactly("i,tax", "Q,3.46", ",");
        assertThat(sales.only("three() = n").run().rows()).isEqualTo(1);
    }

    @Test
    void aBriefKnowsThemToo() {
        Brief brief = Brief.of(
                "t.brief",
                "parameter p decimal(2) = vat(10) input s from 'sales.csv' table t from s only vat(amount) = :p",
                folder);
        assertThat(brief.run(fiesta).get("t").rows()).isEqualTo(1);
        try (Fiesta plain = Fiesta.open()) {
            assertThatThrownBy(() -> brief.run(plain))
                    .isInstanceOf(BriefException.class)
                    .hasMessageContaining("There is no function 'vat'.");
        }
    }

    @Test
    void wrongCallsAreToldWhereTheyStand() {
        assertThatThrownBy(() -> sales.add("x = vat(site)"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("'site' is a text, but 'vat' takes a decimal.");
        assertThatThrownBy(() -> sales.add("x = vat(n, n)"))
                .hasMessageContaining("This call has 2 of 1 argument.")
                .hasMessageContaining("It is written vat(decimal).");
        assertThatThrownBy(() -> sales.add("x = vta(n)")).hasMessageContaining("Did you mean 'vat'?");
    }

    @Test
    void failuresNameTheFunctionAndTheRow() {
        assertThatThrownBy(() -> sales.add("x = pick(n * 10, site)").sort("x").run())
                .isInstanceOf(DataException.class)
                .hasMessageContaining("'pick' failed: java.lang.StringIndexOutOfBounds")
                .hasMessageContaining("sales.csv")
                .satisfies(e -> assertThat(((DataException) e).value()).isNotNull());
        assertThatThrownBy(() -> sales.add("x = wrong(site)").run())
                .isInstanceOf(DataException.class)
                .hasMessageContaining("wrong(site): 'wrong' gave Quay, which is not an integer (");
    }

    @Test
    void namesAndClassesAreLookedAt() {
        FiestaBuilder with = Fiesta.with();
        assertThatThrownBy(() -> with.define("round", Long.class, Type.INTEGER, n -> n))
                .isInstanceOf(RequestException.class)
                .hasMessage("there is a function 'round' in the language; give yours another name");
        assertThatThrownBy(() -> with.define("sum", Long.class, Type.INTEGER, n -> n))
                .isInstanceOf(RequestException.class);
        for (String name : List.of("", "2nd", "a b", "a(", "if", "x.y", "a#")) {
            assertThatThrownBy(() -> with.define(name, Long.class, Type.INTEGER, n -> n))
                    .as(name)
                    .isInstanceOf(RequestException.class)
                    .hasMessageContaining("can be no name of a function");
        }
        assertThatThrownBy(() -> with.define("f", Object.class, Type.INTEGER, n -> 1))
                .hasMessageContaining("the function 'f' cannot take java.lang.Object; arguments are Long, BigDecimal");
        assertThatThrownBy(() -> with.define("f", Long.class, Type.EMPTY, n -> 1))
                .hasMessageContaining("gives values of a type");
        with.define("f", Long.class, Type.INTEGER, n -> n);
        assertThatThrownBy(() -> with.define("f", Long.class, Type.INTEGER, n -> n))
                .hasMessageContaining("there are two functions 'f'");
    }
}
