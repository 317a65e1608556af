package dev.fiesta.cli;

import dev.fiesta.cli.options.Window;
import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.WebSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A real browser without a window, driven by what it offers for that on the loopback address. */
final class Browser implements AutoCloseable {
    private static final JsonMapper JSON = new JsonMapper();

    private final Path profile;
    private final Process process;
    private final HttpClient client = HttpClient.newHttpClient();
    private final String port;

    private Browser(Path program) throws IOException, InterruptedException {
        profile = Files.createTempDirectory("fiesta-browser-");
        process = new ProcessBuilder(
                        program.toString(),
                        "--headless",
                        "--no-sandbox",
                        "--disable-gpu",
                        "--remote-debugging-port=0",
                        "--user-data-dir=" + profile,
                        "about:blank")
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start();
        Path told = profile.resolve("DevToolsActivePort");
        for (int i = 0; i < 300 && !(Files.exists(told) && Files.size(told) > 0); i++) {
            Thread.sleep(100);
        }
        port = Files.readAllLines(told).get(0);
    }

    /** Where there is one on the machine. */
    static Optional<Path> program() {
        return List.of("chromium", "chromium-browser").stream()
                .flatMap(name -> Pattern.compile(File.pathSeparator)
                        .splitAsStream(System.getenv("PATH"))
                        .map(p -> Path.of(p, name)))
                .filter(Files::isExecutable)
                .findFirst();
    }

    static Browser start(Path program) throws IOException, InterruptedException {
        return new Browser(program);
    }

    /** A window at an address. */
    Window open(String address) throws IOException, InterruptedException {
        HttpRequest made = HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/json/new?" + address))
                .PUT(HttpRequest.BodyPublishers.noBody())
                .build();
        JsonNode told = JSON.readTree(
                client.send(made, HttpResponse.BodyHandlers.ofString()).body());
        return new Window(told.path("webSocketDebuggerUrl").asString());
    }

    @Override
    public void close() {
        List<ProcessHandle> helpers = process.descendants().toList();
        process.destroy();
        gone(process.toHandle());
        helpers.forEach(Browser::gone);
        try (Stream<Path> files = Files.walk(profile)) {
            files.sorted(Comparator.reverseOrder()).forEach(f -> f.toFile().delete());
        } catch (IOException | UncheckedIOException e) {
            profile.toFile().deleteOnExit(); // what is left of it is nobody's
        }
    }

    private static void gone(ProcessHandle one) {
        one.onExit()
                .orTimeout(10, TimeUnit.SECONDS)
                .handle((ended, late) -> one.destroyForcibly())
                .join();
    }

    /** A window. */
    final class Window {
        private final WebSocket socket;
        private final AtomicInteger number = new AtomicInteger();
        private volatile CompletableFuture<JsonNode> answer = new CompletableFuture<>();

        private Window(String address) {
            StringBuilder text = new StringBuilder();
            socket = client.newWebSocketBuilder()
                    .buildAsync(URI.create(address), new WebSocket.Listener() {
                        @Override
                        public CompletionStage<?> onText(WebSocket from, CharSequence part, boolean last) {
                            text.append(part);
                            if (last) {
                                JsonNode told = JSON.readTree(text.toString());
                                text.setLength(0);
                                if (told.path("id").asInt() == number.get()) {
                                    answer.complete(told);
                                }
                            }
                            from.request(1);
                            return null;
                        }
                    })
                    .join();
        }

        /** What a script says, as a text. */
        synchronized String says(String script) {
            answer = new CompletableFuture<>();
            var asked = JSON.createObjectNode();
            asked.put("id", number.incrementAndGet());
            asked.put("method", "Runtime.evaluate");
            asked.putObject("params")
                    .put("expression", "String(" + script + ")")
                    .put("returnByValue", true);
            socket.sendText(asked.toString(), true).join();
            JsonNode told = answer.orTimeout(60, TimeUnit.SECONDS).join();
            return told.path("result").path("result").path("value").asString("");
        }

        /** Waits until a script says something. */
        String until(String script, String wanted) throws InterruptedException {
            String said = "";
            for (int i = 0; i < 200; i++) {
                try {
                    said = says(script);
                } catch (RuntimeException e) {
                    said = e.toString(); // between two pages there is nobody to answer
                }
                if (said.contains(wanted)) {
                    return said;
                }
                Thread.sleep(100);
            }
            throw new AssertionError("'" + wanted + "' never came; the last was: " + said);
        }
    }
}
