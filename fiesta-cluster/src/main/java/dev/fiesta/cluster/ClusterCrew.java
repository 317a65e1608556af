package dev.fiesta.cluster;

import dev.fiesta.crew.Crew;
import dev.fiesta.crew.StageFile;
import dev.fiesta.problem.MachineException;
import dev.fiesta.source.files.FileSum;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Consumer;
import org.apache.ignite.Ignite;
import org.apache.ignite.IgniteClientDisconnectedException;
import org.apache.ignite.IgniteException;
import org.apache.ignite.cluster.ClusterGroup;
import org.apache.ignite.lang.IgniteFuture;
import org.jspecify.annotations.Nullable;

/**
 * A crew of other processes, on this machine or on others, each started with {@code fiesta member}. It is looked for when the first
 * large input is to be read.
 *
 * <pre>{@code
 * try (ClusterCrew crew = ClusterCrew.of(CrewFile.read(Path.of("crew.conf")));
 *         Fiesta fiesta = Fiesta.with().crew(crew).open()) {
 *     brief.run(fiesta);
 * }
 * }</pre>
 */
public final class ClusterCrew implements Crew {
    private static final int ATTEMPTS = 4;
    private static final int MERGED = 16;
    private static final long BACK_SECONDS = 30;

    private final CrewFile file;
    private final Encryption encryption;
    private final @Nullable String resumed;
    private final Consumer<String> told;
    private @Nullable Ignite fabric;
    private boolean used;
    private final AtomicBoolean begun = new AtomicBoolean();
    private final AtomicInteger tasks = new AtomicInteger();
    private final AtomicLong bytes = new AtomicLong();

    private ClusterCrew(CrewFile file, Encryption encryption, @Nullable String resumed, Consumer<String> told) {
        this.file = file;
        this.encryption = encryption;
        this.resumed = resumed;
        this.told = told;
    }

    /**
     * {@return the crew of a file}
     *
     * @param file who belongs to it
     */
    public static ClusterCrew of(CrewFile file) {
        return new ClusterCrew(file, Encryption.NEEDED, null, run -> {});
    }

    /** {@return the same, also where it is on other machines and nothing keeps others from reading what goes between them} */
    public ClusterCrew insecure() {
        return new ClusterCrew(file, Encryption.WAIVED, resumed, told);
    }

    /**
     * {@return the same, which goes on with a run whose machine was lost: what members had found is not looked for again}
     *
     * @param run its name
     */
    public ClusterCrew resuming(String run) {
        return new ClusterCrew(file, encryption, run, told);
    }

    /**
     * {@return the same, which tells the name of each run that members are asked for}
     *
     * @param listener is told
     */
    public ClusterCrew telling(Consumer<String> listener) {
        return new ClusterCrew(file, encryption, resumed, listener);
    }

    @Override
    public long taskBytes() {
        return file.task();
    }

    @Override
    public long leastBytes() {
        return file.alone();
    }

    @Override
    public int mergedAtOnce() {
        return MERGED;
    }

    /** {@return whether anybody was to be asked for anything} */
    public synchronized boolean isUsed() {
        return used;
    }

    /** {@return whether something was worked out without asking anybody, as nothing of it was large enough} */
    public boolean isSpared() {
        return begun.get() && !isUsed();
    }

    /** {@return how many tasks members have done: parts of inputs read, answers merged} */
    public int tasks() {
        return tasks.get();
    }

    /** {@return the bytes of what they found, as they went through the folder of the crew} */
    public long bytes() {
        return bytes.get();
    }

    @Override
    public int members() {
        try {
            return Math.max(1, servers().nodes().size());
        } catch (IgniteException | IllegalStateException e) {
            if (isBack(e)) {
                return members();
            }
            throw lost(e);
        }
    }

    /**
     * Whether this process was only parted from the others, because the one was lost by whom it knows them, and is among them again.
     *
     * @param failure of what was asked meanwhile
     */
    private static boolean isBack(Throwable failure) {
        for (Throwable cause = failure; cause != null; cause = cause.getCause()) {
            if (cause instanceof IgniteClientDisconnectedException parted) {
                try {
                    parted.reconnectFuture().get(BACK_SECONDS, TimeUnit.SECONDS);
                    return true;
                } catch (IgniteException e) {
                    return false;
                }
            }
        }
        return false;
    }

    private MachineException lost(RuntimeException e) {
        return new MachineException("The members of the crew at " + file.places() + " were lost", Fabric.deepest(e));
    }

    private ClusterGroup servers() {
        return fabric().cluster().forServers();
    }

    private synchronized Ignite fabric() {
        used = true;
        if (fabric != null && !Fabric.isThere(fabric)) { // it gave up, and is begun anew
            Fabric.leave(fabric);
            fabric = null;
        }
        if (fabric == null) {
            fabric = Fabric.ask(file, encryption);
        }
        return fabric;
    }

    @Override
    public synchronized void close() {
        if (fabric != null) {
            Fabric.leave(fabric);
        }
    }

    @Override
    public Work begin(Purpose purpose) {
        boolean resumes = purpose == Purpose.TABLES && begun.compareAndSet(false, true);
        return new Run(resumes ? resumed : null, purpose == Purpose.TABLES ? told : run -> {});
    }

    /** What one run asks; its folder is made when the first is asked. */
    private final class Run implements Work {
        private final Set<CompletableFuture<Answer>> open = ConcurrentHashMap.newKeySet();
        private final @Nullable String resumed;
        private final Consumer<String> told;
        private @Nullable RunFolder folder;

        /** @param resumed the run that it goes on with, or null */
        Run(@Nullable String resumed, Consumer<String> told) {
            this.resumed = resumed;
            this.told = told;
        }

        private synchronized RunFolder folder() {
            if (folder == null) {
                fabric();
                folder = RunFolder.open(file.folder(), resumed);
                told.accept(folder.name());
            }
            return folder;
        }

        @Override
        public String lay(Content content) {
            RunFolder own = folder();
            Path fresh = own.file("laid-new");
            try {
                StageFile.write(fresh, content);
                String name = "laid-" + FileSum.digits(fresh);
                Files.move(fresh, own.file(name), StandardCopyOption.REPLACE_EXISTING);
                return name;
            } catch (IOException e) {
                throw unwritable(e);
            }
        }

        /** It is named after what is in it, so that a run that goes on finds it. */
        @Override
        public Path place(Path plain) {
            RunFolder own = folder();
            Path placed = own.file("placed-" + FileSum.digits(plain));
            try {
                if (!Files.exists(placed)) {
                    Path fresh = own.file("placed-new");
                    Files.copy(plain, fresh, StandardCopyOption.REPLACE_EXISTING);
                    Files.move(fresh, placed, StandardCopyOption.ATOMIC_MOVE);
                }
                return placed;
            } catch (IOException e) {
                throw unwritable(e);
            }
        }

        private MachineException unwritable(IOException e) {
            return new MachineException("The folder of the crew, '" + file.folder() + "', cannot be written", e);
        }

        /** What a task comes to is named after the task, so that a run that goes on finds it. */
        @Override
        public CompletableFuture<Answer> ask(byte[] task) {
            String name = "answer-" + FileSum.digits(task);
            Path answer = folder().file(name);
            if (StageFile.isWhole(answer)) {
                return CompletableFuture.completedFuture(new Found(answer));
            }
            CompletableFuture<Answer> asked = new CompletableFuture<>();
            open.add(asked);
            asked.whenComplete((found, failure) -> open.remove(asked));
            send(new MemberJob(folder().name(), name, task), answer, 1, asked);
            return asked;
        }

        private void send(MemberJob job, Path answer, int attempt, CompletableFuture<Answer> asked) {
            if (asked.isDone()) {
                return;
            }
            try {
                IgniteFuture<String> done = fabric().compute(servers()).callAsync(job);
                asked.whenComplete((found, failure) -> stop(done));
                done.listen(found -> CompletableFuture.runAsync(() -> settle(found, job, answer, attempt, asked)));
            } catch (IgniteException | IllegalStateException e) {
                CompletableFuture.runAsync(() -> again(e, job, answer, attempt, asked));
            }
        }

        /** Asks again where the others were only out of sight. */
        private void again(
                RuntimeException failure, MemberJob job, Path answer, int attempt, CompletableFuture<Answer> asked) {
            if (attempt < ATTEMPTS && (failure instanceof IllegalStateException || isBack(failure))) {
                send(job, answer, attempt + 1, asked);
            } else {
                asked.completeExceptionally(lost(failure));
            }
        }

        /** Lets a member go on with other things. */
        private void stop(IgniteFuture<String> done) {
            try {
                done.cancel();
            } catch (IgniteException | IllegalStateException e) {
                return; // it is done, or the member is gone
            }
        }

        private void settle(
                IgniteFuture<String> found, MemberJob job, Path answer, int attempt, CompletableFuture<Answer> asked) {
            try {
                String failed = found.get();
                if (failed.isEmpty() && StageFile.isWhole(answer)) {
                    tasks.incrementAndGet();
                    bytes.addAndGet(answer.toFile().length());
                    asked.complete(new Found(answer));
                } else if (attempt < ATTEMPTS) {
                    send(job, answer, attempt + 1, asked);
                } else {
                    String why = failed.isEmpty() ? "what it wrote is not there, or damaged" : failed;
                    asked.completeExceptionally(new MachineException(
                            "No member of the crew could do a task, after " + ATTEMPTS + " attempts: " + why, null));
                }
            } catch (IgniteException | IllegalStateException e) {
                again(e, job, answer, attempt, asked);
            } catch (RuntimeException e) {
                asked.completeExceptionally(e);
            }
        }

        @Override
        public synchronized void close() {
            open.forEach(asked -> asked.cancel(true));
            if (folder != null) {
                folder.close();
            }
        }
    }

    /** An answer in the folder of the run, which stays there until that goes: the run may have to go on. */
    private record Found(Path file) implements Answer {
        @Override
        public InputStream open(int section) throws IOException {
            return StageFile.open(file, section);
        }

        @Override
        public String name() {
            return file.getFileName().toString();
        }

        @Override
        public long bytes() {
            return file.toFile().length();
        }

        @Override
        public void drop() {
            // It goes with the folder.
        }
    }
}
