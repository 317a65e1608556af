package dev.fiesta.benchmarks;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/**
 * Questions over records as whole processes, each in turn with the program in C for the one question ({@code src/main/c}), and a
 * sort of everything with the system's sort: how many times their time Fiesta takes, and with how much memory. Needs {@code cc}.
 */
final class Questions {
    private static final int TURNS = 3;

    /**
     * One question.
     *
     * @param times at most so many times the other program
     */
    private record Question(String words, String times) {}

    private static final List<Question> ALL = List.of(
            new Question(
                    "only status = 'settled' per site, item give n = count(), s = sum(amount), m = mean(amount), "
                            + "least = min(amount), most = max(amount)",
                    "3"),
            new Question("add r = rank(within site, stall along amount desc) only r <= 3", "4"),
            new Question("first 3 within site, stall along amount desc", "4"),
            new Question("sort amount desc first 10", "3"),
            new Question("add m = mean(amount within stall along sold_at last 7) columns sale_id, m", "8"),
            new Question(
                    "add k = sale_id * 7919 % 400009 per k give n = count(), s = sum(amount), d = count_distinct(stall)",
                    "6"),
            new Question(
                    "per site, item give a = median(amount), b = quantile(amount, 0.9), c = stddev(amount)", "4.5"));

    private final Path folder;
    private final Path sales;

    private Questions(Path folder, Path sales) {
        this.folder = folder;
        this.sales = sales;
    }

    /** Prints a line for each question. */
    static void compare(long rows) throws Exception {
        Path folder = Files.createTempDirectory("fiesta-benchmark-questions-");
        new Questions(folder, Processes.sales(rows)).compare();
        Processes.remove(folder);
    }

    private void compare() throws Exception {
        Path source =
                Path.of("fiesta-benchmarks", "src", "main", "c", "question.c").toAbsolutePath();
        String program = folder.resolve("question").toString();
        run("cc", "-O3", "-march=native", "-pthread", "-o", program, source.toString());
        String[] inC = {program, sales.toString(), "2"};
        for (Question question : ALL) {
            line(question.words(), question.times(), inC, "ask", sales.toString(), question.words(), "--as", "csv");
        }
        line("survey", "5.5", inC, "survey", sales.toString());
        String[] sort = {"env", "LC_ALL=C", "sort", "-s", "-t,", "-k9,9nr", "--parallel=2", "-S", "4G", sales.toString()
        };
        String words = "sort amount desc";
        line(words + ", against the system's sort", "0.8", sort, "ask", sales.toString(), words, "--as", "csv");
    }

    private void line(String what, String times, String[] other, String... words) throws Exception {
        double[] ours = new double[TURNS];
        double[] theirs = new double[TURNS];
        long resident = 0;
        for (int i = 0; i < TURNS; i++) {
            Processes.Took took = Processes.took("", folder, words);
            ours[i] = took.seconds();
            resident = Math.max(resident, took.resident());
            theirs[i] = TookTurns.seconds(() -> run(other));
        }
        double own = TookTurns.median(ours);
        double their = TookTurns.median(theirs);
        System.out.printf(
                "| `%s` | %.2f s : %.2f s | %.1f | at most %s | %,d MB |%n",
                what, own, their, own / their, times, resident >> 20);
    }

    private Integer run(String... command) throws Exception {
        Path said = Files.createTempFile(folder, "said-", ".txt");
        int status = new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(said.toFile())
                .start()
                .waitFor();
        if (status != 0) {
            throw new IOException(String.join(" ", command) + ":\n" + Files.readString(said));
        }
        Files.delete(said);
        return status;
    }
}
