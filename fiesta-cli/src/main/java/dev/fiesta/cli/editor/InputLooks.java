package dev.fiesta.cli.editor;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.Result;
import dev.fiesta.RunOptions;
import dev.fiesta.editing.KnownInput;
import dev.fiesta.language.BriefTree;
import dev.fiesta.language.Printer;
import dev.fiesta.problem.BriefException;
import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.Interrupted;
import dev.fiesta.source.files.Paths;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.RejectedExecutionException;
import org.jspecify.annotations.Nullable;

/**
 * Looks into inputs in the background: headers, types and the first records, for a limited time. Queries are not asked and pipes are not
 * read; nor is what would have to be unpacked or read whole, where it is large.
 */
final class InputLooks implements AutoCloseable {
    private static final int RECORDS = 2_000;
    private static final Duration LONGEST = Duration.ofSeconds(20);
    /** Larger files are looked into only where their first records can be read by themselves. */
    private static final long MOST_BYTES = 20L << 20;

    private static final List<String> BY_LINES = List.of(".csv", ".tsv", ".txt", ".jsonl", ".parquet");

    /**
     * What a look came to; nothing of both while it goes on, and where nobody may look.
     *
     * @param known what was found
     * @param wrong what is to be said of an input that cannot be read
     */
    record Look(@Nullable KnownInput known, @Nullable String wrong) {
        static final Look NOTHING = new Look(null, null);
    }

    private record Key(Path folder, String text, String name) {}

    private final Fiesta fiesta;
    private final Runnable told;
    private final Map<Key, Look> looks = new HashMap<>();
    private final ExecutorService worker = Executors.newSingleThreadExecutor(run -> {
        Thread thread = new Thread(run, "fiesta-looks");
        thread.setDaemon(true);
        return thread;
    });

    /** @param told is run whenever something has been found */
    InputLooks(Fiesta fiesta, Runnable told) {
        this.fiesta = fiesta;
        this.told = told;
    }

    /** What is known of an input now; what is not known yet is looked for. Nothing is waited for. */
    Look of(BriefTree brief, BriefTree.Input input, Path folder) {
        if (input.query() != null) {
            return Look.NOTHING;
        }
        String name = input.name().name();
        Key key = new Key(folder, heads(brief, input) + ends(name), name);
        synchronized (looks) {
            Look found = looks.putIfAbsent(key, Look.NOTHING);
            if (found == null) {
                begin(key);
            }
            return found == null ? Look.NOTHING : found;
        }
    }

    /** Looks again at everything: files may have changed. What was known stays known until then. */
    void again() {
        synchronized (looks) {
            List.copyOf(looks.keySet()).forEach(this::begin);
        }
    }

    private void begin(Key key) {
        try {
            worker.execute(() -> {
                Look found = look(key);
                boolean changed;
                synchronized (looks) {
                    changed = !found.equals(looks.put(key, found));
                }
                if (changed) {
                    told.run();
                }
            });
        } catch (RejectedExecutionException closed) {
            looks.remove(key);
        }
    }

    /** What must stand before a look: settings that say how values are read, parameters that stand in paths. */
    private static String heads(BriefTree brief, BriefTree.Input input) {
        String text = brief.source().at(input.at());
        List<BriefTree.ParameterDef> parameters = brief.parameters();
        for (int i = parameters.size() - 1; i >= 0; i--) {
            if (text.contains(":" + parameters.get(i).name().name())) {
                text = brief.source().at(parameters.get(i).at()) + "\n" + text;
            }
        }
        boolean told = brief.settings().localeTold();
        return (told ? "settings locale " + Printer.text(brief.settings().locale()) + "\n" : "") + text;
    }

    private static String ends(String name) {
        return "\ntable looked_into from " + Printer.name(name) + " first " + RECORDS;
    }

    private static boolean mayLook(Brief brief) {
        Path folder = brief.folder();
        try {
            List<BriefTree.Path> paths = brief.tree().inputs().get(0).paths();
            for (BriefTree.Path path : paths) {
                if (path.text().contains("{:")) {
                    continue; // found out when it is filled
                }
                if (Paths.isOnceOnly(folder, path.text())) {
                    return false;
                }
                for (Paths.Named file : Paths.find(folder, path.text())) {
                    String name = file.name().toLowerCase(Locale.ROOT);
                    if (BY_LINES.stream().noneMatch(name::endsWith) && Files.size(file.path()) > MOST_BYTES) {
                        return false;
                    }
                }
            }
            return true;
        } catch (FiestaException e) {
            return true; // the look will say it
        } catch (IOException e) {
            return false;
        }
    }

    private Look look(Key key) {
        try {
            Brief brief = Brief.of("look", key.text(), key.folder());
            if (!mayLook(brief)) {
                return Look.NOTHING;
            }
            try (Result first =
                    brief.run(fiesta, RunOptions.usual().timeout(LONGEST)).get("looked_into")) {
                return new Look(
                        KnownInput.of(fiesta.from(Objects.requireNonNull(first)).survey()), null);
            }
        } catch (Interrupted e) {
            return Look.NOTHING;
        } catch (BriefException e) {
            boolean withoutValue = !e.remedies().isEmpty();
            return withoutValue
                    ? Look.NOTHING
                    : new Look(
                            null,
                            e.problems().get(0).message()
                                    + (e.problems().get(0).suggestion() == null
                                            ? ""
                                            : " " + e.problems().get(0).suggestion()));
        } catch (FiestaException e) {
            return new Look(null, e.getMessage());
        } catch (RuntimeException e) {
            return Look.NOTHING; // a look is a help, and no reason to end
        }
    }

    @Override
    public void close() {
        worker.shutdownNow();
    }
}
