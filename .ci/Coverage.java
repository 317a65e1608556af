import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * Holds each class of some packages, and of those in them, to the branches that its module's own tests reach: {@code java Coverage.java CSV PACKAGE…}. Classes
 * nested in one count with it. What cannot be reached by a test is named here, with the reason.
 */
public final class Coverage {
    private static final double LEAST = 0.85;
    /** So few branches say nothing. */
    private static final int FEWEST = 10;

    private static final Map<String, String> REASONS = Map.of(
            "Memory", "the virtual machine runs out of memory in the tests of the command",
            "EarliestFailure", "the virtual machine runs out of memory in the tests of the command",
            "Explaining", "groups of rows are known of files of columns, whose module tests them",
            "SpillFile", "the disk fails in the attacks",
            "RowCollector", "which of several workers finds the memory full first is nobody's choice");

    private record Branches(int missed, int met) {
        Branches and(int moreMissed, int moreMet) {
            return new Branches(missed + moreMissed, met + moreMet);
        }

        double part() {
            return (double) met / (missed + met);
        }
    }

    public static void main(String[] args) throws IOException {
        List<String> packages = List.of(args).subList(1, args.length);
        Map<String, Branches> classes = new TreeMap<>();
        for (String line : Files.readAllLines(Path.of(args[0]))) {
            String[] cells = line.split(",");
            if (packages.stream().anyMatch(p -> (cells[1] + ".").startsWith(p + "."))) {
                String name = cells[2].split("\\.")[0];
                classes.put(
                        name,
                        classes.getOrDefault(name, new Branches(0, 0))
                                .and(Integer.parseInt(cells[5]), Integer.parseInt(cells[6])));
            }
        }
        List<String> under = new ArrayList<>();
        classes.forEach((name, branches) -> {
            boolean few = branches.missed() + branches.met() < FEWEST;
            if (!few && branches.part() < LEAST && !REASONS.containsKey(name)) {
                under.add(String.format("%s: %.0f %% of %d", name, 100 * branches.part(), branches.missed() + branches.met()));
            }
        });
        if (classes.isEmpty() || !under.isEmpty()) {
            System.err.println("Classes of which tests reach fewer than 85 % of the branches, without a reason: " + under);
            System.exit(1);
        }
        System.out.println(classes.size() + " classes, of each 85 % of the branches at least or a reason");
    }
}
