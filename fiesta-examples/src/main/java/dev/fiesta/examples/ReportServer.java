package dev.fiesta.examples;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.RunOptions;
import dev.fiesta.formats.JsonLines;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.problem.MachineException;
import dev.fiesta.report.Format;
import dev.fiesta.report.Report;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.Executors;

/**
 * A report over the web: a page, a workbook and a PDF of the same brief, worked out when they are asked for. One {@link Fiesta} serves all
 * requests, so that their runs share its threads and its memory; it reads nothing outside its folder, and no run takes longer than half a
 * minute. Run it with {@code mvn -q -pl fiesta-examples exec:java -Dexec.mainClass=dev.fiesta.examples.ReportServer} and open
 * http://localhost:8080/takings.html, /takings.xlsx or /takings.pdf.
 */
public final class ReportServer implements AutoCloseable {
    private static final Map<String, Format> FORMATS =
            Map.of("html", Format.HTML, "xlsx", Format.XLSX, "pdf", Format.PDF, "md", Format.MARKDOWN);

    private static final Map<String, String> TYPES = Map.of(
            "html", "text/html; charset=utf-8",
            "xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
            "pdf", "application/pdf",
            "md", "text/markdown; charset=utf-8");

    private final Fiesta fiesta;
    private final Path folder;
    private final HttpServer server;

    /** @param port where it listens, on this machine only; 0 for any that is free */
    ReportServer(Path folder, int port) throws IOException {
        this.folder = folder;
        this.fiesta = Fiesta.with().reads(JsonLines.FORMAT).mayRead(folder).open();
        this.server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 0);
        server.createContext("/", this::answer);
        server.setExecutor(Executors.newFixedThreadPool(4));
        server.start();
    }

    public static void main(String[] args) throws IOException {
        Path folder = Files.createTempDirectory("ribera");
        Ribera.unpack(folder);
        ReportServer server = new ReportServer(folder, 8080);
        System.out.println("http://localhost:" + server.port() + "/takings.html, until Ctrl-C");
    }

    int port() {
        return server.getAddress().getPort();
    }

    private void answer(HttpExchange request) throws IOException {
        String[] asked = request.getRequestURI().getPath().substring(1).split("\\.", 2);
        if (asked.length != 2 || !asked[0].equals("takings") || !FORMATS.containsKey(asked[1])) {
            send(
                    request,
                    404,
                    "text/plain; charset=utf-8",
                    "There is no such report.\n".getBytes(StandardCharsets.UTF_8));
            return;
        }
        try {
            Brief brief = fiesta.brief(folder.resolve("takings.brief"));
            String from = request.getRequestURI().getQuery();
            if (from != null && from.startsWith("from_day=")) {
                brief = brief.set("from_day", from.substring("from_day=".length()));
            }
            Report report = Report.of(brief, fiesta, RunOptions.usual().timeout(Duration.ofSeconds(30)));
            ByteArrayOutputStream bytes = new ByteArrayOutputStream();
            report.write(FORMATS.get(asked[1]), bytes);
            send(request, 200, Objects.requireNonNull(TYPES.get(asked[1])), bytes.toByteArray());
        } catch (FiestaException e) {
            int status = e instanceof MachineException || e instanceof Interrupted ? 503 : 400;
            send(
                    request,
                    status,
                    "text/plain; charset=utf-8",
                    (e.getMessage() + "\n").getBytes(StandardCharsets.UTF_8));
        }
    }

    private static void send(HttpExchange request, int status, String type, byte[] bytes) throws IOException {
        request.getResponseHeaders().set("Content-Type", type);
        request.sendResponseHeaders(status, bytes.length);
        try (var out = request.getResponseBody()) {
            out.write(bytes);
        }
    }

    @Override
    public void close() {
        server.stop(0);
        ((java.util.concurrent.ExecutorService) server.getExecutor()).shutdown();
        fiesta.close();
    }
}
