package dev.fiesta.benchmarks;

import dev.fiesta.examples.Ribera;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/** The command as whole processes, started from the root of the project. */
final class Processes {
    private static final String MAIN_QUESTION =
            "only status = 'settled' per site, item give n = count(), s = sum(amount), m = mean(amount), "
                    + "least = min(amount), most = max(amount)";
    private static final Path COMMAND = Path.of("bin", "fiesta").toAbsolutePath();

    private Processes() {}

    /** Made-up sales as text; the same number always gives the same bytes. */
    static Path sales(long count) throws IOException {
        Path file = Path.of(System.getProperty("java.io.tmpdir"), "fiesta-benchmark-" + count + ".csv");
        if (!Files.exists(file)) {
            Path beside = Files.createTempFile(file.getParent(), "fiesta-benchmark-", ".part");
            try (OutputStream out = new BufferedOutputStream(Files.newOutputStream(beside), 1 << 20)) {
                Ribera.writeSales(out, count, Ribera.SEED);
            }
            Files.move(beside, file);
        }
        return file;
    }

    /** The demo brief and the main question, each the median of some runs. */
    static void starts(long rows) throws Exception {
        Path folder = Files.createTempDirectory("fiesta-benchmark-demo-");
        run("", folder, "demo", folder.resolve("demo").toString());
        double[] demo = new double[9];
        double[] main = new double[5];
        for (int i = 0; i < demo.length; i++) {
            demo[i] = run("", folder.resolve("demo"), "run", "takings.brief");
        }
        Path sales = sales(rows);
        for (int i = 0; i < main.length; i++) {
            main[i] = ask("", sales, MAIN_QUESTION, folder.resolve("answer.csv"));
        }
        line("fiesta run takings.brief, whole process", demo, "1.0");
        line("the main question, whole process", main, "2.5");
        remove(folder);
    }

    private static void line(String what, double[] seconds, String reach) {
        Arrays.sort(seconds);
        System.out.printf(
                "| %s | 2 | %.2f s | (%.2f to %.2f) | at most %s s |%n",
                what, TookTurns.median(seconds), seconds[0], seconds[seconds.length - 1], reach);
    }

    /** The main question over more and more records, with 256 MB. */
    static void growth(long most) throws Exception {
        Path folder = Files.createTempDirectory("fiesta-benchmark-growth-");
        for (long count = 1_000_000; count <= most; count *= 10) {
            Path sales = sales(count);
            for (int threads = 1; threads <= 2; threads++) {
                double seconds = ask(
                        "-Xmx256m",
                        sales,
                        MAIN_QUESTION,
                        folder.resolve("a.csv"),
                        "--threads",
                        String.valueOf(threads));
                System.out.printf(
                        "| main question over %,d records, %,d MB, -Xmx256m | %d | %.2f s |%n",
                        count, Files.size(sales) >> 20, threads, seconds);
            }
        }
        remove(folder);
    }

    /** The same question with more and more memory for its state: the same bytes. */
    static void memory(long rows) throws Exception {
        Path folder = Files.createTempDirectory("fiesta-benchmark-memory-");
        Path first = null;
        for (String memory : List.of("64m", "256m", "1g", "4g")) {
            Path answer = folder.resolve(memory + ".csv");
            String question = "per sale_id give s = sum(amount), m = median(fee)";
            double seconds = ask("-Xmx6g", sales(rows), question, answer, "--memory", memory);
            first = first == null ? answer : first;
            System.out.printf(
                    "| %,d groups with a sum and a median, --memory %s | 2 | %.1f s | %s |%n",
                    rows, memory, seconds, sameBytes(first, answer));
        }
        remove(folder);
    }

    /** Questions whose state does not fit into 256 MB, and the same with 4 GB. */
    static void little(long rows) throws Exception {
        Path folder = Files.createTempDirectory("fiesta-benchmark-little-");
        Path sales = sales(rows);
        for (String question : List.of(
                MAIN_QUESTION,
                "per sale_id give s = sum(amount), m = median(fee)",
                "sort amount desc, sale_id",
                "add r = rank(within site along amount desc)",
                "add m = mean(amount along sold_at, sale_id last 7)",
                "add t = text(sale_id) || ' x' per all give d = count_distinct(t)",
                "distinct stall, item, amount",
                "add part = share(amount within site) first 5 within site, item along part desc",
                "sample 1 percent within site")) {
            double little = ask("-Xmx256m", sales, question, folder.resolve("little.csv"));
            double much = ask("-Xmx4g", sales, question, folder.resolve("much.csv"));
            same(question, little, much, sameBytes(folder.resolve("little.csv"), folder.resolve("much.csv")));
        }
        Path brief = folder.resolve("lookup.brief");
        Files.writeString(brief, """
                brief 'A look-up as large as the records'
                input sales from '%s'
                table fees from sales
                  per    sale_id
                  give   fees = sum(fee)
                table joined from sales
                  match  fees on sale_id bring fees required
                  per    site, item
                  give   n = count(), s = sum(fees)
                report
                  table joined
                """.formatted(sales));
        String[] run = {"run", brief.toString(), "--as", "csv", "--out"};
        double little = run("-Xmx256m", folder, with(run, "little"));
        double much = run("-Xmx4g", folder, with(run, "much"));
        String same = sameBytes(folder.resolve("little/joined.csv"), folder.resolve("much/joined.csv"));
        same("match a table of " + rows + " rows", little, much, same);
        remove(folder);
    }

    private static void same(String question, double little, double much, String bytes) {
        System.out.printf(
                "| `%s` | 2 | -Xmx256m %.1f s, -Xmx4g %.1f s | %s |%n",
                question.replace("|", "\\|"), little, much, bytes);
    }

    static String sameBytes(Path one, Path other) throws IOException {
        return Files.mismatch(one, other) < 0 ? "same bytes" : "DIFFERENT BYTES";
    }

    private static double ask(String java, Path sales, String question, Path answer, String... more) throws Exception {
        List<String> words = new ArrayList<>(List.of("ask", sales.toString(), question, "--as", "csv"));
        words.addAll(List.of(more));
        return run(java, Objects.requireNonNull(sales.getParent()), answer, words.toArray(String[]::new));
    }

    private static String[] with(String[] words, String last) {
        String[] all = Arrays.copyOf(words, words.length + 1);
        all[words.length] = last;
        return all;
    }

    private static double run(String java, Path folder, String... words) throws Exception {
        Path out = Files.createTempFile("fiesta-benchmark-", ".txt");
        double seconds = run(java, folder, out, words);
        Files.delete(out);
        return seconds;
    }

    /**
     * What a process took.
     *
     * @param resident the most memory that it had, in bytes; 0 where the system does not tell
     */
    record Took(double seconds, long resident) {}

    /** Runs the command, and looks at its memory while it does. */
    static Took took(String java, Path folder, String... words) throws Exception {
        List<String> command = new ArrayList<>(List.of(COMMAND.toString()));
        command.addAll(List.of(words));
        ProcessBuilder builder = new ProcessBuilder(command).directory(folder.toFile());
        builder.environment().put("FIESTA_JAVA_OPTIONS", java);
        Path said = Files.createTempFile("fiesta-benchmark-", ".log");
        builder.redirectOutput(said.toFile()).redirectErrorStream(true);
        long[] most = new long[1];
        int[] status = new int[1];
        double seconds = TookTurns.seconds(() -> {
            Process process = builder.start();
            while (!process.waitFor(50, TimeUnit.MILLISECONDS)) {
                most[0] = Math.max(most[0], resident(process.pid()));
            }
            status[0] = process.exitValue();
            return null;
        });
        String message = Files.readString(said);
        Files.delete(said);
        if (status[0] != 0) {
            throw new IllegalStateException(String.join(" ", command) + ":\n" + message);
        }
        return new Took(seconds, most[0]);
    }

    private static long resident(long pid) {
        try (Stream<String> lines = Files.lines(Path.of("/proc", String.valueOf(pid), "status"))) {
            return lines.filter(l -> l.startsWith("VmHWM:"))
                    .mapToLong(l -> Long.parseLong(l.replaceAll("\\D", "")) << 10)
                    .findFirst()
                    .orElse(0);
        } catch (IOException | java.io.UncheckedIOException e) {
            return 0;
        }
    }

    /** @param out where the process writes to */
    private static double run(String java, Path folder, Path out, String... words) throws Exception {
        List<String> command = new ArrayList<>(List.of(COMMAND.toString()));
        command.addAll(List.of(words));
        ProcessBuilder builder = new ProcessBuilder(command).directory(folder.toFile());
        builder.environment().put("FIESTA_JAVA_OPTIONS", java);
        Path said = Files.createTempFile("fiesta-benchmark-", ".log");
        builder.redirectOutput(out.toFile()).redirectError(said.toFile());
        int[] status = new int[1];
        double seconds = TookTurns.seconds(() -> status[0] = builder.start().waitFor());
        if (status[0] != 0) {
            throw new IllegalStateException(String.join(" ", command) + ":\n" + Files.readString(said));
        }
        Files.delete(said);
        return seconds;
    }

    static void remove(Path folder) throws IOException {
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path path : all.sorted((a, b) -> b.compareTo(a)).toList()) {
                Files.delete(path);
            }
        }
    }
}
