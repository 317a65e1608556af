package dev.fiesta.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The page that follows its brief: who may see it, and in a real browser how it renews itself, marks what moved and keeps the last good report. */
class FollowingPageTest {
    private static final String BRIEF = """
            brief 'Cups'
            input sales from 'sales.csv'
            table cups from sales
              per site, kind give cups = sum(n), sales = count()
              totals by site
            table all_cups from sales
              per all give cups = sum(n)
            report
              figures all_cups cups
              table cups 'Cups of each site'
            """;

    @TempDir
    private Path folder;

    private final StringWriter out = new StringWriter();
    private Thread watching;

    @BeforeEach
    void watch() throws IOException, InterruptedException {
        Files.writeString(folder.resolve("sales.csv"), sales(7));
        Files.writeString(folder.resolve("cups.brief"), BRIEF);
        watching = new Thread(() -> Main.run(
                new PrintWriter(out, true),
                new PrintWriter(new StringWriter(), true),
                "watch",
                folder.resolve("cups.brief").toString(),
                "--page"));
        watching.start();
        for (int i = 0; i < 200 && !address().endsWith("/"); i++) {
            Thread.sleep(50);
        }
    }

    @AfterEach
    void end() throws InterruptedException {
        watching.interrupt();
        watching.join(20_000);
        assertThat(watching.isAlive()).isFalse();
    }

    private static String sales(int quay) {
        StringBuilder text = new StringBuilder("site,kind,n\n");
        for (String site : new String[] {"Meadow", "Orchard", "Quay"}) {
            for (String kind : new String[] {"cocoa", "coffee", "tea", "water"}) {
                text.append(site)
                        .append(',')
                        .append(kind)
                        .append(',')
                        .append(site.equals("Quay") ? quay : 3)
                        .append('\n');
            }
        }
        return text.toString();
    }

    private String address() {
        Matcher told = Pattern.compile("The page: (\\S+)").matcher(out.toString());
        return told.find() ? told.group(1) : "";
    }

    private HttpResponse<String> ask(String address, String... heads) throws IOException, InterruptedException {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(address));
        for (int i = 0; i < heads.length; i += 2) {
            request.header(heads[i], heads[i + 1]);
        }
        return HttpClient.newHttpClient().send(request.build(), HttpResponse.BodyHandlers.ofString());
    }

    private String when(String wanted) throws IOException, InterruptedException {
        String page = "";
        for (int i = 0; i < 200 && !page.contains(wanted); i++) {
            page = ask(address()).body();
            Thread.sleep(50);
        }
        return page;
    }

    @Test
    void onlyThisMachineAndOnlyWhoKnowsTheAddressSeesIt() throws IOException, InterruptedException {
        assertThat(address()).matches("http://127\\.0\\.0\\.1:\\d+/[\\w-]{24}/");
        assertThat(when("Cups of each site")).contains("Cups of each site").contains("Put into a page that follows");
        String root = address().replaceFirst("/[\\w-]{24}/$", "");
        assertThat(ask(root + "/").statusCode()).isEqualTo(404);
        assertThat(ask(root + "/AAAAAAAAAAAAAAAAAAAAAAAA/").statusCode()).isEqualTo(404);
        assertThat(ask(address() + "state", "Origin", "http://somewhere.test").statusCode())
                .isEqualTo(403);
        assertThat(ask(address(), "Sec-Fetch-Site", "cross-site").statusCode()).isEqualTo(403);
        HttpResponse<String> state = ask(address() + "state", "Origin", root);
        assertThat(state.statusCode()).isEqualTo(200);
        assertThat(state.body()).contains("\"problem\":null");
        assertThat(state.headers().firstValue("Cache-Control")).contains("no-store");
        assertThat(state.headers().firstValue("Content-Security-Policy").orElse(""))
                .contains("frame-ancestors 'none'");
        HttpRequest written = HttpRequest.newBuilder(URI.create(address()))
                .POST(HttpRequest.BodyPublishers.ofString("x"))
                .build();
        assertThat(HttpClient.newHttpClient()
                        .send(written, HttpResponse.BodyHandlers.discarding())
                        .statusCode())
                .isEqualTo(405);
    }

    @Test
    void theLastGoodReportStaysUnderAProblem() throws IOException, InterruptedException {
        when("Cups of each site");
        Files.writeString(folder.resolve("cups.brief"), BRIEF.replace("sum(n)", "sum(m)"));
        String state = "";
        for (int i = 0; i < 200 && !state.contains("There is no field 'm'"); i++) {
            state = ask(address() + "state").body();
            Thread.sleep(50);
        }
        assertThat(state).contains("There is no field 'm'").contains("\"version\":\"1\"");
        assertThat(ask(address()).body()).contains("Cups of each site");
        Files.writeString(folder.resolve("cups.brief"), BRIEF.replace("of each site", "again"));
        assertThat(when("Cups again")).contains("Cups again");
        assertThat(ask(address() + "state").body()).contains("\"problem\":null");
    }

    @Test
    void dataThatIsMendedIsSeenToo() throws IOException, InterruptedException {
        when("Cups of each site");
        Files.writeString(folder.resolve("sales.csv"), "site,kind\nQuay,tea\n");
        for (int i = 0; i < 200 && ask(address() + "state").body().contains("\"problem\":null"); i++) {
            Thread.sleep(50);
        }
        Files.writeString(folder.resolve("sales.csv"), sales(1_000));
        assertThat(when("4,000")).contains("4,000");
    }

    @Test
    void inABrowserItRenewsItselfWhereItStands() throws IOException, InterruptedException {
        Path program = Browser.program().orElse(null);
        assumeTrue(program != null, "no browser on this machine");
        when("Cups of each site");
        try (Browser browser = Browser.start(program)) {
            Browser.Window first = browser.open(address());
            Browser.Window second = browser.open(address());
            first.until("document.querySelectorAll('button.fold').length", "3");
            second.until("document.querySelectorAll('button.fold').length", "3");
            first.says("document.querySelectorAll('th button')[2].click()");
            first.says("document.querySelectorAll('button.fold')[1].click()");
            String before = first.says("document.querySelectorAll('tr[hidden]').length");
            assertThat(before).isNotEqualTo("0");

            Files.writeString(folder.resolve("sales.csv"), sales(1_000));
            for (Browser.Window window : new Browser.Window[] {first, second}) {
                String moved = window.until("document.querySelectorAll('td.moved').length", "6");
                assertThat(moved).isEqualTo("6");
                assertThat(window.says("document.querySelector('td.moved').title"))
                        .isEqualTo("\u2190 7");
                assertThat(window.says("document.querySelector('dd.moved').textContent"))
                        .isNotBlank();
            }
            assertThat(first.says("document.querySelectorAll('th')[2].getAttribute('aria-sort')"))
                    .isEqualTo("ascending");
            assertThat(first.says("document.querySelectorAll('tr[hidden]').length"))
                    .isEqualTo(before);
            assertThat(second.says("document.querySelectorAll('tr[hidden]').length"))
                    .isEqualTo("0");

            Files.writeString(folder.resolve("cups.brief"), BRIEF.replace("sum(n)", "sum(<b>)"));
            first.until(
                    "document.getElementById('problem') ? document.getElementById('problem').textContent : ''",
                    "cups.brief:4");
            assertThat(first.says("document.querySelectorAll('#problem b').length"))
                    .isEqualTo("0");
            assertThat(first.says("document.querySelectorAll('figure.table').length"))
                    .isEqualTo("1");
            Files.writeString(folder.resolve("cups.brief"), BRIEF);
            first.until("document.getElementById('problem') === null", "true");
        }
    }
}
