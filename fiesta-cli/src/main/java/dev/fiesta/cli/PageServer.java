package dev.fiesta.cli;

import com.sun.net.httpserver.Headers;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import dev.fiesta.problem.MachineException;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Base64;
import java.util.List;
import java.util.Objects;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/**
 * Serves a page that follows its brief, to this machine only: on the loopback address, under a token that nobody can guess, to no other origin. A page that is open
 * asks for the state and is answered when it changes; it then takes the new page and stands where it stood.
 */
final class PageServer implements AutoCloseable {
    private static final long LONGEST_MILLIS = 25_000;
    private static final int TOKEN_BYTES = 18;

    /**
     * What pages are told.
     *
     * @param version of the last good page
     * @param known names this state
     * @param problem why the brief did not run, above the last good page; null where it did
     */
    record State(int version, int known, @Nullable String problem) {}

    private final HttpServer server;
    private final ExecutorService threads;
    private final String token;
    private State state = new State(0, 0, null);
    private byte[] page = new byte[0];
    private volatile boolean closed;

    PageServer() {
        byte[] random = new byte[TOKEN_BYTES];
        new SecureRandom().nextBytes(random);
        token = Base64.getUrlEncoder().withoutPadding().encodeToString(random);
        try {
            server =
                    HttpServer.create(new InetSocketAddress(InetAddress.getByAddress(new byte[] {127, 0, 0, 1}), 0), 0);
        } catch (IOException e) {
            throw new MachineException("No port of this machine could be opened", e);
        }
        threads = Executors.newCachedThreadPool(job -> {
            Thread thread = new Thread(job, "fiesta-page");
            thread.setDaemon(true);
            return thread;
        });
        server.createContext("/", this::answer);
        server.setExecutor(threads);
        server.start();
    }

    /** {@return the address of the page} */
    String address() {
        return origin() + "/" + token + "/";
    }

    private String origin() {
        return "http://127.0.0.1:" + server.getAddress().getPort();
    }

    /** A new page; what was wrong before is not any more. */
    synchronized void show(String html) {
        int version = state.version + 1;
        String script = resource("follow.js").replace("@version@", Integer.toString(version));
        String more = "<style>" + resource("follow.css") + "</style>\n<script>\n" + script + "</script>\n</body>";
        int end = html.lastIndexOf("</body>");
        page = (html.substring(0, end) + more + html.substring(end + "</body>".length()))
                .getBytes(StandardCharsets.UTF_8);
        state = new State(version, state.known + 1, null);
        notifyAll();
    }

    /** Something is wrong; the last good page stays, with this above it. */
    synchronized void tell(String problem) {
        state = new State(state.version, state.known + 1, problem);
        if (state.version == 0) {
            show("<!doctype html><html><head><meta charset=\"utf-8\"><title>Fiesta</title></head><body></body></html>");
            state = new State(state.version, state.known + 1, problem);
        }
        notifyAll();
    }

    private static String resource(String name) {
        try (InputStream in = PageServer.class.getResourceAsStream(name)) {
            return new String(Objects.requireNonNull(in, name).readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new MachineException("'" + name + "' cannot be read", e);
        }
    }

    private void answer(HttpExchange request) throws IOException {
        try (request) {
            Headers heads = request.getResponseHeaders();
            heads.set("Cache-Control", "no-store");
            heads.set("Referrer-Policy", "no-referrer");
            heads.set("X-Content-Type-Options", "nosniff");
            heads.set("X-Frame-Options", "DENY");
            heads.set("Cross-Origin-Resource-Policy", "same-origin");
            heads.set(
                    "Content-Security-Policy",
                    "default-src 'none'; script-src 'unsafe-inline'; style-src 'unsafe-inline'; img-src data:; font-src data:; "
                            + "connect-src 'self'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'");
            String path = request.getRequestURI().getPath();
            if (isForeign(request.getRequestHeaders())) {
                send(request, 403, "text/plain", "This page is for this machine only.\n");
            } else if (!isKnown(path)) {
                send(request, 404, "text/plain", "There is nothing here.\n");
            } else if (!request.getRequestMethod().equals("GET")) {
                send(request, 405, "text/plain", "This page can be read only.\n");
            } else if (path.endsWith("/state")) {
                State now = next(request.getRequestURI().getQuery());
                send(request, 200, "application/json", new JsonMapper().writeValueAsString(new Told(now)));
            } else {
                send(request, 200, "text/html", page());
            }
        }
    }

    /** A state as it is told: the version as a text, as the script has it. */
    record Told(String version, String known, @Nullable String problem) {
        Told(State state) {
            this(Integer.toString(state.version), Integer.toString(state.known), state.problem);
        }
    }

    /** Whether a request names another host, which leads here by a name of somebody's, or comes from a page of another origin. */
    private boolean isForeign(Headers heads) {
        String here = origin().substring("http://".length());
        String host = heads.getFirst("Host");
        List<String> hosts = List.of(here, here.replace("127.0.0.1", "localhost"));
        String from = heads.getFirst("Origin");
        String site = heads.getFirst("Sec-Fetch-Site");
        return host == null
                || !hosts.contains(host)
                || from != null && !from.equals("http://" + host)
                || site != null && !List.of("same-origin", "none").contains(site);
    }

    private boolean isKnown(String path) {
        String wanted = "/" + token + "/";
        boolean state = path.endsWith("/state");
        String told = state ? path.substring(0, path.length() - "state".length()) : path;
        return MessageDigest.isEqual(told.getBytes(StandardCharsets.UTF_8), wanted.getBytes(StandardCharsets.UTF_8));
    }

    private synchronized byte[] page() {
        return page;
    }

    /** The state, when it is another than the one that is known, or after a while. */
    private synchronized State next(@Nullable String query) {
        String known = query == null ? "" : query.replaceFirst("^known=", "");
        long end = System.currentTimeMillis() + LONGEST_MILLIS;
        while (!closed && known.equals(Integer.toString(state.known))) {
            long left = end - System.currentTimeMillis();
            if (left <= 0) {
                break;
            }
            try {
                wait(left);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                break;
            }
        }
        return state;
    }

    private static void send(HttpExchange request, int status, String type, String text) throws IOException {
        send(request, status, type, text.getBytes(StandardCharsets.UTF_8));
    }

    private static void send(HttpExchange request, int status, String type, byte[] bytes) throws IOException {
        request.getResponseHeaders().set("Content-Type", type + "; charset=utf-8");
        request.sendResponseHeaders(status, bytes.length);
        request.getResponseBody().write(bytes);
    }

    @Override
    public void close() {
        closed = true;
        synchronized (this) {
            notifyAll();
        }
        server.stop(0);
        threads.shutdownNow();
    }
}
