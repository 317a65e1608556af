package dev.fiesta.cli.attack;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Every call that touches a file of a run is made to fail once: the run is whole all the same, or ends with a message and status. */
class FailingCallsAttack {
    private static final int SPILLS_TRIED = Integer.getInteger("fiesta.calls", 20);
    private static final int NO_SPACE = 28;
    private static final int BROKEN = 5;

    @TempDir
    Path folder;

    private Path shim;

    @BeforeEach
    void compiler() throws IOException, InterruptedException {
        shim = folder.resolve("failing.so");
        assumeTrue(Files.isExecutable(Path.of("/usr/bin/cc")), "cc is not there");
        Process cc = new ProcessBuilder(
                        "/usr/bin/cc", "-shared", "-fPIC", "-o", shim.toString(), "src/test/c/failing.c", "-ldl")
                .inheritIO()
                .start();
        assertThat(cc.waitFor()).isZero();
    }

    @ParameterizedTest
    @CsvSource({"'csv,html,svg',28", "'json,csv',5", "xlsx,28", "pdf,5"})
    void noneLosesAnything(String formats, int error) throws IOException, InterruptedException {
        World world = new World(folder.resolve("world"), "--memory", "20k", "--as", formats);
        Path log = folder.resolve("log");
        assertThat(world.disturbed(environment(0, error, log)).waitFor()).isZero();
        world.restore("before");
        Map<Integer, Integer> statuses = new TreeMap<>();
        for (int call : chosen(Files.readAllLines(log))) {
            String why = formats + ", call " + call + " of "
                    + Files.readAllLines(log).get(call - 1);
            Process process = world.disturbed(environment(call, error, null));
            assertThat(process.waitFor(60, TimeUnit.SECONDS)).as(why).isTrue();
            int status = process.exitValue();
            statuses.merge(status, 1, Integer::sum);
            String said = world.message();
            assertThat(said).as(why).doesNotContain("fault of fiesta", "\tat ", "Exception");
            if (status != 0) {
                assertThat(status).as(why + ": " + said).isIn(2, 3, 4);
                assertThat(said).as(why).isNotBlank();
            }
            boolean later = world.settled(why + ": status " + status + ", " + said);
            if (status == 0) {
                assertThat(later).as(why + ": the run says that it is whole").isTrue();
            }
            world.restore(why);
        }
        System.out.println(formats + ", error " + error + ": status -> runs " + statuses);
        assertThat(statuses.getOrDefault(4, 0)).isPositive();
    }

    /** All calls but those into spilled pieces, of which there are thousands alike. */
    private static List<Integer> chosen(List<String> calls) {
        List<Integer> chosen = new ArrayList<>();
        List<Integer> spills = new ArrayList<>();
        for (int i = 0; i < calls.size(); i++) {
            (calls.get(i).matches("\\d+ (pread64|pwrite64) .*") ? spills : chosen).add(i + 1);
        }
        SplittableRandom random = new SplittableRandom(1);
        for (int i = 0; i < Math.min(SPILLS_TRIED, spills.size()); i++) {
            chosen.add(spills.get(random.nextInt(spills.size())));
        }
        return chosen;
    }

    private Map<String, String> environment(int call, int error, @org.jspecify.annotations.Nullable Path log) {
        Map<String, String> environment = new HashMap<>(Map.of(
                "LD_PRELOAD",
                shim.toString(),
                "FIESTA_FAIL_UNDER",
                folder.resolve("world").toString() + "/",
                "FIESTA_FAIL_AT",
                String.valueOf(call),
                "FIESTA_FAIL_WITH",
                String.valueOf(error)));
        if (log != null) {
            environment.put("FIESTA_FAIL_LOG", log.toString());
        }
        return environment;
    }
}
