package dev.fiesta.cli.options;

import dev.fiesta.FiestaBuilder;
import dev.fiesta.cluster.ClusterCrew;
import dev.fiesta.cluster.CrewFile;
import dev.fiesta.problem.RequestException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** Options of commands whose inputs a crew of machines may read. */
public final class Crewing {
    @Option(
            names = "--crew",
            paramLabel = "FILE",
            description = "Have large inputs read by the members of a crew, as its file (crew.conf) names them.")
    private @Nullable Path file;

    @Option(
            names = "--resume",
            paramLabel = "ID",
            description =
                    "With --crew, go on with a run that was lost: what members had found is not looked for again.")
    private @Nullable String resumed;

    @Option(
            names = "--insecure",
            description = "With --crew, also where members are on other machines and there are no certificates.")
    private boolean insecure;

    /** A crew while a command works; there may be none. */
    public static final class Joined implements AutoCloseable {
        private final @Nullable ClusterCrew crew;
        private final @Nullable PrintWriter err;

        private Joined(@Nullable ClusterCrew crew, @Nullable PrintWriter err) {
            this.crew = crew;
            this.err = err;
        }

        void to(FiestaBuilder settings) {
            if (crew != null) {
                settings.crew(crew);
            }
        }

        @Override
        public void close() {
            if (crew != null) {
                if (err != null && crew.isSpared()) {
                    err.println(
                            "Note: read on this machine alone: no input is so large that others would help, or only its first records are wanted.");
                } else if (err != null && crew.tasks() > 0) {
                    err.println(String.format(
                            Locale.ROOT,
                            "Note: members of the crew did %,d task%s; what they found took %,d KB.",
                            crew.tasks(),
                            crew.tasks() == 1 ? "" : "s",
                            (crew.bytes() + 1023) / 1024));
                }
                crew.close();
            }
        }
    }

    /** The crew of a file, if one is named, of which nothing is told. */
    public static Joined named(@Nullable Path crew) {
        return new Joined(crew == null ? null : ClusterCrew.of(CrewFile.read(crew)), null);
    }

    /** @param err where is told what the crew does; null to tell nothing */
    public Joined join(@Nullable PrintWriter err) {
        if (file == null) {
            if (resumed != null || insecure) {
                throw new RequestException(
                        (resumed == null ? "--insecure" : "--resume") + " says something with --crew only.");
            }
            return new Joined(null, err);
        }
        ClusterCrew crew = ClusterCrew.of(CrewFile.read(file));
        crew = insecure ? crew.insecure() : crew;
        crew = resumed == null ? crew : crew.resuming(resumed);
        return new Joined(
                err == null
                        ? crew
                        : crew.telling(run -> {
                            err.println("Note: run " + run + "; should this machine be lost, go on with --resume " + run
                                    + ".");
                            err.flush();
                        }),
                err);
    }
}
