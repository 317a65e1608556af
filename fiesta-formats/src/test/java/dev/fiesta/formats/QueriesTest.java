package dev.fiesta.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Table;
import dev.fiesta.problem.RequestException;
import dev.fiesta.value.Type;
import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Queries over a connection of the program: types, values, every run asks again, the connection stays the program's. */
class QueriesTest {
    private final Fiesta fiesta = Fiesta.with().threads(2).open();
    private Server server;
    private Connection connection;

    @BeforeEach
    void table() throws SQLException {
        server = Server.start();
        server.does(
                "drop table if exists own_sales",
                "create table own_sales (id int, site text, day date, at timestamptz, amount numeric(9,2), fee numeric, late boolean)",
                "insert into own_sales values (1, 'Quay', '2026-05-01', '2026-05-01T10:00Z', 10.5, 0.125, true), "
                        + "(2, 'O''Neill', '2026-05-02', null, null, 1, false), (3, null, null, null, 2, null, null)");
        connection = server.open();
    }

    @AfterEach
    void close() throws SQLException {
        connection.close();
    }

    @Test
    void rowsComeWithTheirTypes() throws SQLException {
        Result result = Queries.rows(fiesta, connection, "select * from own_sales order by id")
                .run();
        assertThat(result.schema().fields())
                .extracting(f -> f.type())
                .containsExactly(
                        Type.INTEGER, Type.TEXT, Type.DATE, Type.INSTANT, Type.decimal(2), Type.decimal(3), Type.TRUTH);
        assertThat(result.row(0).toString())
                .isEqualTo(
                        "id 1, site Quay, day 2026-05-01, at 2026-05-01T10:00:00Z, amount 10.50, fee 0.125, late true");
        assertThat(result.missing("amount").get(1)).isTrue();
        assertThat(connection.isClosed()).isFalse();
        assertThat(connection.getAutoCommit()).isTrue();
    }

    @Test
    void nothingIsNoQuery() {
        assertThatThrownBy(() -> Queries.rows(fiesta, connection, null))
                .isInstanceOf(RequestException.class)
                .hasMessage("a connection and a query are needed, not null");
    }

    @Test
    void valuesAreBound() {
        assertThat(Queries.rows(fiesta, connection, "select id from own_sales where site = ?", "O'Neill")
                        .run()
                        .longs("id"))
                .containsExactly(2);
        assertThat(Queries.rows(
                                fiesta,
                                connection,
                                "select id from own_sales where day >= ? and amount < ? and at = ?",
                                LocalDate.of(2026, 5, 1),
                                new BigDecimal("11"),
                                Instant.parse("2026-05-01T10:00:00Z"))
                        .run()
                        .longs("id"))
                .containsExactly(1);
        assertThatThrownBy(() -> Queries.rows(fiesta, connection, "select 1", List.of(1)))
                .isInstanceOf(RequestException.class)
                .hasMessageContaining("the value 1 cannot be");
    }

    @Test
    void everyRunAsksAgain() throws SQLException {
        Table count = Queries.rows(fiesta, connection, "select id from own_sales")
                .per("all")
                .give("n = count()");
        assertThat(count.run().longs("n")).containsExactly(3);
        server.does("delete from own_sales where id > 1");
        assertThat(count.run().longs("n")).containsExactly(1);
    }

    @Test
    void refusalsAreSentences() {
        assertThatThrownBy(() -> Queries.rows(fiesta, connection, "selct 1").run())
                .isInstanceOf(RequestException.class)
                .hasMessageStartingWith("The query failed: ERROR: syntax error");
        assertThatThrownBy(() -> Queries.rows(fiesta, connection, "select 1 / (id - 1) from own_sales")
                        .run())
                .isInstanceOf(RequestException.class)
                .hasMessageContaining("division by zero");
        assertThatThrownBy(() -> Queries.rows(fiesta, connection, "select * from own_sales where id = ?")
                        .run())
                .isInstanceOf(RequestException.class);
        assertThatThrownBy(() -> Queries.rows(fiesta, null, "select 1")).isInstanceOf(RequestException.class);
    }
}
