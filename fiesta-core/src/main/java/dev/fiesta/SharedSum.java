package dev.fiesta;

import dev.fiesta.crew.Crew;
import dev.fiesta.problem.MachineException;
import dev.fiesta.source.FileSum;
import dev.fiesta.source.Paths;
import dev.fiesta.source.SharedFile;
import dev.fiesta.source.TemporaryFiles;
import dev.fiesta.task.Task;
import java.io.BufferedInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.concurrent.CompletableFuture;
import org.jspecify.annotations.Nullable;

/** What tells whether a file is the one it was, worked out by a crew: its sums are those of its pieces, whoever reads them. */
final class SharedSum {
    private final Crew crew;
    private final SharedFile file;
    private final long[] sums;
    private int taken = 1;

    private SharedSum(Crew crew, SharedFile file) {
        this.crew = crew;
        this.file = file;
        this.sums = new long[Math.toIntExact(FileSum.pieces(file.size()) + 1)];
        this.sums[0] = file.size();
    }

    /** As {@link FileSum#of}; a large file that stands where others see it is read by them. */
    static String of(@Nullable Crew crew, Paths.Named file) {
        try {
            SharedFile shared = SharedFile.of(file.name(), file.path());
            boolean alone = crew == null || shared.size() < crew.leastBytes() || TemporaryFiles.holds(shared.path());
            return crew == null || alone
                    ? FileSum.of(file.path(), file.name())
                    : new SharedSum(crew, shared).together();
        } catch (IOException e) {
            throw new MachineException("'" + file.name() + "' cannot be read", e);
        }
    }

    private String together() throws IOException {
        long step = FileSum.piecesIn(crew.taskBytes());
        long pieces = sums.length - 1;
        Deque<CompletableFuture<Crew.Answer>> open = new ArrayDeque<>();
        try (Crew.Work work = crew.begin(Crew.Purpose.SUMS)) {
            for (long next = 0; next < pieces || !open.isEmpty(); ) {
                while (next < pieces && open.size() < 2 * crew.members()) {
                    long to = Math.min(pieces, next + step);
                    open.add(work.ask(Task.sums(Fiesta.version(), file, next, to)));
                    next = to;
                }
                take(Crew.await(open.remove()));
            }
        } finally {
            open.forEach(Crew::drop);
        }
        return FileSum.of(sums);
    }

    private void take(Crew.Answer answer) throws IOException {
        try (DataInputStream in = new DataInputStream(new BufferedInputStream(answer.open()))) {
            long behind = Math.min(sums.length, taken + FileSum.piecesIn(crew.taskBytes()));
            while (taken < behind) {
                sums[taken++] = in.readLong();
            }
        } finally {
            answer.drop();
        }
    }
}
