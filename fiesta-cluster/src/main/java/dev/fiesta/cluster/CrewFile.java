package dev.fiesta.cluster;

import dev.fiesta.problem.Names;
import dev.fiesta.problem.RequestException;
import java.io.IOException;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * Who belongs to a crew, where they meet and what they may, as all of them have it in {@code crew.conf}:
 *
 * <pre>
 * members   10.0.0.11:47500, 10.0.0.12:47500
 * folder    /shared/fiesta
 * may-read  /shared/sales
 * keys      member.p12
 * trusted   crew.p12
 * password  from environment FIESTA_CREW_PASSWORD
 * </pre>
 *
 * @param members where they listen; a name may stand for several machines
 * @param folder where what they hand each other lies, for all of them
 * @param mayRead the folders whose files members read
 * @param keys the key and the certificate of this machine, a PKCS 12 file, or null
 * @param trusted the certificates of the crew, another one, or null
 * @param passwordVariable the variable of the environment that holds the password of both, or null
 * @param memory what a member may hold, in bytes, or 0 for a part of its heap
 * @param threads of a member, or 0 for as many as there are processors
 * @param task about the bytes of an input that make a task
 * @param alone the bytes of an input below which it is read alone
 */
public record CrewFile(
        List<Place> members,
        Path folder,
        List<Path> mayRead,
        @Nullable Path keys,
        @Nullable Path trusted,
        @Nullable String passwordVariable,
        long memory,
        int threads,
        long task,
        long alone) {
    private static final int PORT = 47500;
    private static final long USUAL_TASK = 128L << 20;
    /** What one machine reads in about ten seconds. */
    private static final long USUAL_ALONE = 4L << 30;

    private static final List<String> WORDS = List.of(
            "members", "folder", "may-read", "keys", "trusted", "password", "memory", "threads", "task", "alone-below");
    private static final Pattern PLACE =
            Pattern.compile("([^:\\s]+|\\[[^\\]]+\\])(?::(\\d{1,5})(?:\\.\\.(\\d{1,5}))?)?");
    private static final Pattern SIZE = Pattern.compile("(0|[1-9][0-9]{0,9})([kmg]?)");
    private static final Pattern PASSWORD = Pattern.compile("from\\s+environment\\s+(\\S+)");

    /** Where a member listens: at one of some ports. */
    public record Place(String host, int port, int last) {
        boolean isLoopback() {
            try {
                return InetAddress.getByName(host).isLoopbackAddress();
            } catch (UnknownHostException e) {
                return false;
            }
        }

        String text() {
            return host + ":" + port + (last > port ? ".." + last : "");
        }

        /** As {@link #text}, for each machine that the name stands for now. */
        List<String> addresses() {
            try {
                List<String> all = new ArrayList<>();
                for (InetAddress address : InetAddress.getAllByName(host)) {
                    all.add(new Place(address.getHostAddress(), port, last).text());
                }
                return all;
            } catch (UnknownHostException e) {
                return List.of(text());
            }
        }
    }

    /** Reads a file; its paths start in its folder. */
    private record Lines(Path file, Map<String, String> settings, Map<String, Integer> lines) {
        RequestException wrong(String word, String what) {
            return new RequestException(file.getFileName() + ", line " + lines.get(word) + ": " + word + ": " + what);
        }

        @Nullable
        Path path(String word) {
            String text = settings.get(word);
            return text == null ? null : inFolder(text);
        }

        Path inFolder(String text) {
            Path folder = Objects.requireNonNull(file.toAbsolutePath().getParent());
            return folder.resolve(text).normalize();
        }

        long size(String word, long otherwise) {
            String text = settings.get(word);
            if (text == null) {
                return otherwise;
            }
            Matcher size = SIZE.matcher(text.toLowerCase(Locale.ROOT));
            if (!size.matches()) {
                throw wrong(word, "'" + text + "' is no size; write for instance 512m or 2g");
            }
            return Long.parseLong(size.group(1))
                    << 10 * ("kmg".indexOf(size.group(2)) + (size.group(2).isEmpty() ? 0 : 1));
        }
    }

    /**
     * Reads a file.
     *
     * @param file such as {@code crew.conf}
     * @return what stands in it
     * @throws RequestException when it is not there, or cannot be right
     */
    public static CrewFile read(Path file) {
        Lines lines = lines(file);
        for (String needed : List.of("members", "folder")) {
            if (!lines.settings.containsKey(needed)) {
                throw new RequestException("'" + file.getFileName() + "' has no line '" + needed + "': "
                        + (needed.equals("members")
                                ? "where they listen, such as 10.0.0.11:47500, 10.0.0.12:47500."
                                : "one that all machines of the crew see."));
            }
        }
        List<Path> mayRead = new ArrayList<>();
        for (String folder : lines.settings.getOrDefault("may-read", "").split(",")) {
            if (!folder.isBlank()) {
                mayRead.add(lines.inFolder(folder.strip()));
            }
        }
        return new CrewFile(
                places(lines),
                Objects.requireNonNull(lines.path("folder")),
                List.copyOf(mayRead),
                lines.path("keys"),
                lines.path("trusted"),
                password(lines),
                lines.size("memory", 0),
                (int) Math.min(Short.MAX_VALUE, lines.size("threads", 0)),
                Math.max(1, lines.size("task", USUAL_TASK)),
                lines.size("alone-below", USUAL_ALONE));
    }

    private static Lines lines(Path file) {
        List<String> all;
        try {
            all = Files.readAllLines(file);
        } catch (IOException e) {
            throw new RequestException(
                    "'" + file + "' cannot be read: it tells who belongs to a crew, in plain UTF-8 text.", e);
        }
        Lines lines = new Lines(file, new LinkedHashMap<>(), new LinkedHashMap<>());
        for (int i = 0; i < all.size(); i++) {
            String[] words = all.get(i).replaceFirst("(^|\\s)#.*", "").strip().split("\\s+", 2);
            if (words[0].isEmpty()) {
                continue;
            }
            String word = words[0].toLowerCase(Locale.ROOT);
            lines.lines.put(word, i + 1);
            if (!WORDS.contains(word)) {
                throw lines.wrong(word, "no setting of a crew. " + Names.didYouMean(word, WORDS, "There are"));
            }
            if (words.length < 2 || lines.settings.put(word, words[1].strip()) != null) {
                throw lines.wrong(word, words.length < 2 ? "its value is missing" : "it stands twice");
            }
        }
        return lines;
    }

    private static List<Place> places(Lines lines) {
        List<Place> places = new ArrayList<>();
        for (String text : Objects.requireNonNull(lines.settings.get("members")).split(",")) {
            Matcher place = PLACE.matcher(text.strip());
            int port = !place.matches() ? -1 : place.group(2) == null ? PORT : Integer.parseInt(place.group(2));
            int last = port < 0 || place.group(3) == null ? port : Integer.parseInt(place.group(3));
            if (port < 1 || last < port || last > 65_000 || last - port > 100) {
                throw lines.wrong(
                        "members", "'" + text.strip() + "' is no address; write for instance 10.0.0.11:47500");
            }
            places.add(new Place(place.group(1), port, last));
        }
        return List.copyOf(places);
    }

    private static @Nullable String password(Lines lines) {
        String text = lines.settings.get("password");
        if (text == null) {
            return null;
        }
        Matcher variable = PASSWORD.matcher(text);
        if (!variable.matches()) {
            throw lines.wrong(
                    "password", "write 'from environment' and the name of a variable; no password stands here");
        }
        return variable.group(1);
    }

    /** Whether all members listen on this machine only. */
    boolean isLoopback() {
        return members.stream().allMatch(Place::isLoopback);
    }

    /** Their addresses, as they are told. */
    String places() {
        return String.join(", ", members.stream().map(Place::text).toList());
    }
}
