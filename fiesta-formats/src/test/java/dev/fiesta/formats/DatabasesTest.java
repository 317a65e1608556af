package dev.fiesta.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.language.BriefText;
import dev.fiesta.language.Parser;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicBoolean;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Queries to a real server: types, parameters, parts, what is refused, what goes wrong, and tables written back. */
class DatabasesTest {
    private static final String HERE = "dbtest";

    @TempDir
    Path own;

    @TempDir
    Path folder;

    private Server server;

    @BeforeEach
    void tables() throws IOException, SQLException {
        server = Server.start();
        server.does(
                "drop schema if exists " + HERE + " cascade",
                "create schema " + HERE,
                "create table " + HERE
                        + ".sales (sale_id bigint, day date, site text, amount numeric(9,2), fee numeric)",
                "insert into " + HERE + ".sales select i, date '2026-05-01' + i % 31, "
                        + "case i % 3 when 0 then 'Quay' when 1 then 'Meadow' else null end, i / 100.0, i / 1000.0 "
                        + "from generate_series(1, 4000) as g(i)",
                "update " + HERE + ".sales set sale_id = null where sale_id = 77");
        connections("timeout 20 s", server.url);
    }

    private void connections(String more, String url) throws IOException {
        Files.writeString(
                own.resolve("connections.conf"),
                "# ours\nshop\n  url " + url + "\n  user " + server.user + "\n\n  password from environment SHOP\n  "
                        + more + "\n");
    }

    private Fiesta fiesta() {
        return Fiesta.with()
                .threads(2)
                .asks(JdbcDatabases.of(own, Map.of("SHOP", server.password)))
                .open();
    }

    private Tables tables(Fiesta fiesta, String brief) {
        return fiesta.tables(Parser.brief(new BriefText("t.brief", brief)), folder, Map.of());
    }

    private Result run(String brief) {
        try (Fiesta fiesta = fiesta()) {
            return tables(fiesta, brief).run(List.of("t")).get("t");
        }
    }

    private static String input(String query) {
        return "input s from database 'shop' query '" + query.replace("'", "''") + "' ";
    }

    private Result ask(String query) {
        return run(input(query) + "table t from s");
    }

    @Test
    void typesAreThoseOfTheDatabase() {
        Result t = ask("select 1::smallint as i, 12.5::numeric(5,2) as d, 1.5::numeric as n, 1.1::real as f, "
                + "0.1::double precision as g, true as b, date '2026-05-01' as day, timestamp '2026-05-01 10:30' as at, "
                + "timestamptz '2026-05-01 10:00+02' as ts, 'a' || chr(9) || chr(92) || chr(10) as t, '007'::char(5) as c, "
                + "'{\"a\":1}'::json as j, time '10:00' as h, null::text as e");
        assertThat(Reading.types(t))
                .containsExactly(
                        "i integer",
                        "d decimal(2)",
                        "n decimal(1)",
                        "f real",
                        "g real",
                        "b truth",
                        "day date",
                        "at datetime",
                        "ts instant",
                        "t text",
                        "c text",
                        "j text",
                        "h text",
                        "e text");
        assertThat(t.row(0).toString()).contains("12.50").contains("2026-05-01T08:00:00Z");
        assertThat(Reading.values(t, "f")).containsExactly("1.1");
        assertThat(Reading.values(t, "t")).containsExactly("a\t\\\n");
    }

    @Test
    void whatNoTypeHoldsIsMissingAndTold() {
        Result t =
                ask("select 'NaN'::numeric as n, 'infinity'::date as d, '-Infinity'::float8 as f, 'NaN'::float4 as g");
        assertThat(t.stream().toList().get(0).get("n")).isNull();
        assertThat(t.notices().warnings())
                .startsWith(
                        "shop: 1 value of d is outside the years 1 to 9999; it is missing.",
                        "shop: 1 value of f is infinite; it is missing.",
                        "shop: 1 value of g is no number (NaN); it is missing.",
                        "shop: 1 value of n is no number (NaN); it is missing.");
    }

    @Test
    void fieldsMayBeDeclaredAgain() {
        Result t = run(
                input("select '01.05.2026' as d, '1.234,5' as n, '-' as m, 12345678901234567890.5 as r")
                        + "fields d date 'dd.MM.yyyy', m integer, r real missing '-' table t from s add e = decimal(n, 1, 'de-DE')");
        assertThat(Reading.types(t)).contains("d date", "m integer", "r real");
        assertThat(Reading.values(t, "e")).containsExactly("1234.5");
    }

    @Test
    void parametersAreBound() {
        String brief = "parameter from_day date = 2026-05-20 parameter sites text list = 'Quay', 'x'' or 1=1' "
                + "parameter none text list optional "
                + input(
                        "select * from dbtest.sales where day >= :from_day and (site in (:sites) or site in (:none)) -- :x");
        Result t = run(brief + "table t from s per site give n = count(), a = sum(amount), least = min(day)");
        assertThat(Reading.values(t, "site")).containsExactly("Quay");
        assertThat(Reading.values(t, "least")).containsExactly("2026-05-20");
        assertThat(run(input("select * from dbtest.sales where site = :one")
                                        .replace("input", "parameter one text optional input")
                                + "table t from s")
                        .rows())
                .isZero();
    }

    @Test
    void partsGiveTheSameRowsInEveryNumber() {
        String clauses =
                "table t from s per site give n = count(), a = sum(amount), f = sum(fee), m = median(fee), k = count_distinct(sale_id)";
        Result whole = run(input("select * from dbtest.sales") + clauses);
        for (String parted : List.of("sale_id into 2", "sale_id into 7", "day into 5", "sale_id into 64")) {
            Result parts = run(input("select * from dbtest.sales") + "parted by " + parted + " " + clauses);
            for (String field : whole.schema().names()) {
                assertThat(Reading.values(parts, field))
                        .as(parted + " " + field)
                        .isEqualTo(Reading.values(whole, field));
            }
        }
        assertThat(run(input("select * from dbtest.sales where false") + "parted by sale_id into 3 table t from s")
                        .rows())
                .isZero();
    }

    /** Each part tells the state that it sees; beside them, others commit all the time. */
    @Test
    void allPartsSeeOneState() throws Exception {
        AtomicBoolean done = new AtomicBoolean();
        Thread others = new Thread(() -> {
            try (Connection writer = server.open();
                    Statement statement = writer.createStatement()) {
                while (!done.get()) {
                    statement.execute("update dbtest.sales set amount = amount where sale_id = 1");
                }
            } catch (SQLException e) {
                throw new IllegalStateException(e);
            }
        });
        others.start();
        try {
            Result t = run(
                    input("select *, txid_current_snapshot()::text as state from dbtest.sales")
                            + "parted by sale_id into 8 table t from s per all give n = count(), states = count_distinct(state)");
            assertThat(t.row(0).get("n")).isEqualTo(4000L);
            assertThat(t.row(0).get("states")).isEqualTo(1L);
        } finally {
            done.set(true);
            others.join();
        }
    }

    @Test
    void rangesReachToTheEndsOfWhatNumbersHold() throws SQLException {
        server.does(
                "create table dbtest.wide (n bigint, d date)",
                "insert into dbtest.wide values (-9223372036854775808, 'infinity'), (9223372036854775807, '-infinity'), "
                        + "(0, '2026-05-01'), (null, null), (5, '2026-05-02')");
        for (String column : List.of("n", "d")) {
            assertThat(run(input("select n::text as t, n, d from dbtest.wide") + "parted by " + column
                                    + " into 7 fields n real table t from s sort t")
                            .texts("t"))
                    .as(column)
                    .containsExactly("-9223372036854775808", "0", "5", "9223372036854775807", null);
        }
    }

    @Test
    void aFingerprintDoesNotDependOnTheOrderOfRows() {
        try (Fiesta fiesta = fiesta()) {
            String one = print(fiesta, "select * from dbtest.sales order by sale_id");
            assertThat(print(fiesta, "select * from dbtest.sales order by amount desc"))
                    .isEqualTo(one);
            assertThat(print(
                            fiesta,
                            "select sale_id, day, site, amount + case sale_id when 5 then 1 else 0 end as amount, "
                                    + "fee from dbtest.sales"))
                    .isNotEqualTo(one)
                    .endsWith("-4000");
        }
    }

    private String print(Fiesta fiesta, String query) {
        Tables tables = tables(fiesta, input(query) + "table t from s");
        tables.run(List.of("t"));
        return tables.queries().get("s").fingerprint();
    }

    @Test
    void whereTheOrderOfAServerDecidesIsTold() {
        String loose = "select * from dbtest.sales";
        String told = "'s' is a query that names no order: ";
        String out = " as the server happened to give them. Add an order by to the query, or sort first.";
        assertThat(warnings(loose, "only amount > 0 first 2"))
                .containsExactly(
                        told + "'first 2' (line 1) takes its rows" + out, told + "the rows of 't' stand" + out);
        assertThat(warnings(loose, "per site give a = last(amount), b = sum(amount)"))
                .containsExactly(
                        told + "'per site give a = last(amount), b = sum(amount)' (line 1) takes its rows" + out);
        assertThat(warnings(loose, "add x = amount")).containsExactly(told + "the rows of 't' stand" + out);
        assertThat(warnings(loose, "per site give b = sum(amount), a = first(amount along sale_id)"))
                .isEmpty();
        assertThat(warnings(loose, "sort sale_id first 2 distinct site")).isEmpty();
        assertThat(warnings(loose, "first 1 within site along sale_id")).isEmpty();
        assertThat(warnings(loose + " order by sale_id", "first 2")).isEmpty();
    }

    private List<String> warnings(String query, String clauses) {
        return run(input(query) + "table t from s " + clauses).notices().warnings();
    }

    @Test
    void everyRunAsksAgain() throws SQLException {
        try (Fiesta fiesta = fiesta()) {
            Tables tables =
                    tables(fiesta, input("select * from dbtest.sales") + "table t from s per all give n = count()");
            assertThat(tables.run(List.of("t")).get("t").row(0).get("n")).isEqualTo(4000L);
            server.does("delete from dbtest.sales where sale_id > 3990");
            assertThat(tables.run(List.of("t")).get("t").row(0).get("n")).isEqualTo(3990L);
        }
    }

    @Test
    void planningAsksForFieldsOnly() {
        String failing = "select site, (1 / (sale_id - sale_id))::numeric(9,2) as a from dbtest.sales where amount > 0";
        try (Fiesta fiesta = fiesta()) {
            Tables tables = tables(fiesta, input(failing) + "table t from s add b = a * 2");
            assertThat(tables.inputs().get("s").type(1)).hasToString("decimal(2)");
            assertThat(tables.explain(List.of("t")).inputs().get(0).read()).hasSize(2);
            assertThat(tables.queries()).isEmpty();
            assertThatThrownBy(() -> tables.run(List.of("t")))
                    .isInstanceOf(BriefException.class)
                    .hasMessageContaining("The database 'shop' refuses the query: division by zero.");
        }
    }

    @Test
    void queriesStandInFilesToo() throws IOException {
        Files.writeString(folder.resolve("q.sql"), "-- all\nselect * from dbtest.sales;\n");
        assertThat(run("input s from database 'shop' query from 'q.sql' table t from s")
                        .rows())
                .isEqualTo(4000);
        assertThatThrownBy(() -> run("input s from database 'shop' query from 'no.sql' table t from s"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("There is no file 'no.sql' with a query.");
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "select * from nope | ~~ | The database 'shop' refuses the query: relation \"nope\" does not exist.",
                "select nextval('dbtest.no') | ~~ | The database 'shop' refuses the query: relation \"dbtest.no\" does not exist.",
                "select set_config('transaction_read_only','off',false) | ~~ | The database 'shop' refuses the query: transaction read-write mode must be set before any query.",
                "select nextval('dbtest.counter') | ~~ | The query writes; Fiesta only reads. The database 'shop' says: cannot execute nextval() in a read-only transaction.",
                "select dbtest.writes() | ~~ | The query writes; Fiesta only reads. The database 'shop' says: cannot execute INSERT in a read-only transaction.",
                "with x as (delete from dbtest.sales returning *) select * from x | ~~ | The database 'shop' refuses the query: WITH clause",
                "select array[1] as a | ~~ | shop: field a is of the type '_int4', which is not read.",
                "select 1::money as m | ~~ | shop: field m is of the type 'money', which is not read.",
                "select 1234567890123456789.01 as x | ~~ | shop, row 1: field x: '1234567890123456789.01' has more than the 18 digits of a decimal.",
                "select 'x' as x | fields x integer | shop, row 1: field x: 'x' is not an integer.",
                "select 1 as x | fields y integer | shop has no field 'y'.",
                "select 1 as x | delimiter ';' | This input is a query, to which 'delimiter' means nothing.",
                "select site from dbtest.sales | parted by site into 2 | A query is parted by a column of whole numbers or dates; 'site' is none.",
                "select site from dbtest.sales | parted by sit into 2 | The query has no column 'sit' to be parted by.",
                "select day from dbtest.sales order by day | parted by day into 2 | A query that is parted has no order of its own",
                "select day from dbtest.sales | parted by day into 99 | A query is read in 1 to 64 parts, not 99.",
                "select 1 as x | unreadable aside fields x integer | Records of 's' cannot be set aside",
            })
    void whatCannotBeRightIsTold(String query, String options, String message) throws SQLException {
        server.does(
                "create sequence dbtest.counter",
                "create function dbtest.writes() returns int language sql as "
                        + "$$ insert into dbtest.sales (sale_id) values (1) returning 1 $$");
        assertThatThrownBy(() -> run(input(query) + options + " table t from s"))
                .isInstanceOf(FiestaException.class)
                .hasMessageContaining(message);
        assertThat(server.one("select count(*) from dbtest.sales")).isEqualTo("4000");
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "shop;  user x | connections.conf, line 1: connection 'shop': it needs an address: url jdbc:postgresql://host/name",
                "shop;  url jdbc:postgresql://h/d?password=x | connections.conf, line 1: connection 'shop': an address holds no password",
                "shop;  url jdbc:postgresql://a:secret@h/d | connections.conf, line 1: connection 'shop': an address holds no password",
                "shop;  url jdbc:postgresql://h/d?socketFactory=evil.Class | the option 'socketfactory' of the address names what is to be run",
                "shop;  url jdbc:x:mem:d;INIT=RUNSCRIPT | names what is to be run",
                "shop;  url jdbc:x:d;  password secret | a password is never written down here.",
                "shop;  url jdbc:x:d;  timeout soon | a timeout is written '30 s' or '5 min', not 'soon'.",
                "shop;  url jdbc:x:d;  colour red | 'colour' says nothing here. There are url, user, password, timeout.",
                "shop;  url jdbc:x:d | There is no driver for 'jdbc:x' (connection 'shop'). Put its jar into the folder lib/drivers",
                "shop;  url jdbc:x:d;  password from environment NO | should stand in the variable NO of the environment, which is not set.",
                "shops;  url jdbc:x:d | There is no connection 'shop'. Did you mean 'shops'?",
                "# none | There is no connection 'shop'. Write it into",
            })
    void connectionsAreCheckedWhenTheyAreRead(String conf, String message) throws IOException {
        Files.writeString(own.resolve("connections.conf"), conf.replace(";  ", "\n  "));
        assertThatThrownBy(() -> ask("select 1"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining(message)
                .hasMessageNotContaining("secret");
    }

    @Test
    void aFileBesideTheBriefNamesNoPassword() throws IOException {
        Path ours = own.resolve("connections.conf");
        Files.move(ours, folder.resolve("connections.conf"));
        assertThatThrownBy(() -> ask("select 1"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("a file beside a brief may name no password");
        connections("", server.url);
        Files.writeString(folder.resolve("connections.conf"), "shop\n  url jdbc:postgresql://nowhere.invalid/x\n");
        assertThat(ask("select 1 as x").rows()).isEqualTo(1); // the user's own wins
    }

    @Test
    void aServerThatIsNotThereIsTold() throws IOException {
        connections("", "jdbc:postgresql://127.0.0.1:1/x");
        assertThatThrownBy(() -> ask("select 1"))
                .isInstanceOf(MachineException.class)
                .hasMessageStartingWith("The database 'shop' cannot be reached: ");
        connections("", server.url.replaceFirst("/[^/]*$", "/no_such_base"));
        assertThatThrownBy(() -> ask("select 1"))
                .isInstanceOf(BriefException.class)
                .hasMessageContaining("The database 'shop' is not there: database \"no_such_base\" does not exist.");
    }

    @Test
    void aServerThatStaysSilentIsGivenUp() throws IOException {
        connections("timeout 1 s", server.url);
        assertThatThrownBy(() -> ask("select cast(pg_sleep(5) as text) as a"))
                .isInstanceOf(MachineException.class)
                .hasMessage(
                        "The database 'shop' did not answer for 1 s. Let it take longer: 'timeout' in connections.conf");
    }

    @Test
    void aConnectionThatIsLostInTheMiddleIsTold() throws Exception {
        CompletableFuture<Void> killer = CompletableFuture.runAsync(() -> {
            try {
                String killed = "";
                while (!"t".equals(killed)) {
                    killed = server.one("select pg_terminate_backend(pid) from pg_stat_activity "
                            + "where application_name = 'fiesta' and state = 'active' and query like '%kill me%'");
                    Thread.sleep(50);
                }
            } catch (SQLException | InterruptedException e) {
                throw new IllegalStateException(e);
            }
        });
        assertThatThrownBy(() -> ask("select i, case when i % 100 = 0 then cast(pg_sleep(0.05) as text) end as p "
                        + "from generate_series(1, 100000) as g(i) /* */ where 'kill me' <> ''"))
                .isInstanceOf(MachineException.class)
                .hasMessageContaining("The connection to 'shop' was lost");
        killer.get();
    }

    @Test
    void tablesAreWrittenBackAllOrNothing() throws SQLException {
        Result t = run(input("select * from dbtest.sales")
                + "table t from s per site give n = count(), a = sum(amount), m = mean(fee), least = min(day) "
                + "add \"odd \"\"name\" = n > 1400, at = datetime(least) hide m where n < 1334");
        JdbcDatabases databases = JdbcDatabases.of(own, Map.of("SHOP", server.password));
        assertThat(databases.write(t, "shop.dbtest.takings", false, folder)).isEqualTo(3);
        server.does("grant select on dbtest.takings to public");
        assertThat(server.one("select sum(n) || ' ' || sum(a) || ' ' || count(m) from dbtest.takings"))
                .isEqualTo("4000 80020.00 2"
                        .replace(" 2", " " + server.one("select count(*) from dbtest.takings where n >= 1334")));
        assertThatThrownBy(() -> databases.write(t, "shop.dbtest.takings", false, folder))
                .isInstanceOf(RequestException.class)
                .hasMessage("'shop' has a table 'dbtest.takings' already, and these rows are not to take its place.");
        Result other = run(input("select 1 as n, 'x' as site, 2.5 as rate") + "table t from s");
        assertThat(databases.write(other, "shop.dbtest.takings", true, folder)).isEqualTo(1);
        assertThat(server.one("select string_agg(column_name || ' ' || data_type, ', ' order by ordinal_position) "
                        + "from information_schema.columns where table_schema = 'dbtest' and table_name = 'takings'"))
                .isEqualTo("n bigint, site text, rate numeric");
        assertThat(server.one("select has_table_privilege('public', 'dbtest.takings', 'select')"))
                .isEqualTo("t");
        server.does("create view dbtest.seen as select rate from dbtest.takings");
        assertThatThrownBy(() -> databases.write(t, "shop.dbtest.takings", true, folder))
                .isInstanceOf(RequestException.class)
                .hasMessageContaining("does not take the table 'dbtest.takings': ");
        assertThat(server.one("select n || site || rate from dbtest.takings")).isEqualTo("1x2.5");
    }

    @Test
    void placesAndFailuresOfWritingAreTold() {
        JdbcDatabases databases = JdbcDatabases.of(own, Map.of("SHOP", server.password));
        Result t = ask("select 1 as n");
        assertThatThrownBy(() -> databases.write(t, "takings", false, folder))
                .isInstanceOf(RequestException.class)
                .hasMessageContaining("'takings' names no table of a database.");
        assertThatThrownBy(() -> databases.write(t, "shop.nos.takings", false, folder))
                .isInstanceOf(RequestException.class)
                .hasMessage(
                        "The database 'shop' does not take the table 'nos.takings': schema \"nos\" does not exist.");
    }

    @Test
    void rowsComeFromOneState() throws Exception {
        try (Connection writer = server.open();
                Statement statement = writer.createStatement()) {
            writer.setAutoCommit(false);
            statement.execute("update dbtest.sales set amount = 0");
            assertThat(run(input("select * from dbtest.sales")
                                    + "parted by day into 4 table t from s per all give a = sum(amount)")
                            .row(0)
                            .get("a"))
                    .hasToString("80020.00");
            writer.rollback();
        }
    }
}
