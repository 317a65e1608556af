package dev.fiesta.benchmarks;

import java.util.Arrays;
import java.util.List;

/**
 * All that is measured, as tables: ratios to programs written for the one question, in turn, in one run; whole processes; growth.
 *
 * <pre>{@code
 * java -Xmx8g -cp "fiesta-benchmarks/target/classes:fiesta-benchmarks/target/lib/*" dev.fiesta.benchmarks.Ratios [PART ...]
 * }</pre>
 *
 * <p>Parts are {@code text}, {@code questions}, {@code arrays}, {@code starts}, {@code little}, {@code memory}, {@code growth}, {@code typing}, {@code bounded}, which takes
 * an hour, and {@code further}, which goes on to 100 million records; all but the last two when none is named. To be started from the root of the project.
 */
public final class Ratios {
    private static final int ROWS = 5_000_000;
    private static final List<String> PARTS =
            List.of("text", "questions", "arrays", "starts", "little", "memory", "growth", "typing");

    private Ratios() {}

    /** Prints the tables. */
    public static void main(String[] args) throws Exception {
        List<String> parts = args.length == 0 ? PARTS : Arrays.asList(args);
        System.out.printf(
                "%,d rows, %d processors, Java %s%n%n",
                ROWS, Runtime.getRuntime().availableProcessors(), Runtime.version());
        for (String part : parts) {
            switch (part) {
                case "text" -> {
                    heads("work", "threads", "Fiesta : hand-written", "ratio", "reach");
                    MainQuestion.compare(ROWS);
                }
                case "questions" -> {
                    heads("whole process, two threads", "Fiesta : in C", "times", "reach", "memory");
                    Questions.compare(ROWS);
                }
                case "arrays" -> {
                    heads("work", "threads", "Fiesta : one thread by hand", "ratio", "reach");
                    new InMemory(ROWS).compare();
                }
                case "starts" -> {
                    heads("work", "threads", "median", "least to most", "reach");
                    Processes.starts(ROWS);
                }
                case "little" -> {
                    heads("question", "threads", "whole process", "answers");
                    Processes.little(ROWS);
                }
                case "memory" -> {
                    heads("question", "threads", "whole process", "answers");
                    Processes.memory(ROWS);
                }
                case "growth" -> {
                    heads("question", "threads", "whole process");
                    Processes.growth(10_000_000);
                }
                case "typing" -> {
                    heads("asked for", "brief", "median", "99 of 100", "longest", "answers");
                    Typing.compare();
                }
                case "bounded" -> {
                    heads("question", "key", "-Xmx64m", "-Xmx4g", "answers");
                    Bounded.compare(ROWS);
                }
                case "further" -> {
                    heads("question", "threads", "whole process");
                    Processes.growth(100_000_000);
                }
                default -> throw new IllegalArgumentException("There is no part '" + part + "'");
            }
            System.out.println();
        }
    }

    private static void heads(String... heads) {
        System.out.println("| " + String.join(" | ", heads) + " |");
        System.out.println("|---".repeat(heads.length) + "|");
    }
}
