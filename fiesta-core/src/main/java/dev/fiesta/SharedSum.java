package dev.fiesta;

import dev.fiesta.crew.Crew;
import dev.fiesta.crew.GivenTask;
import dev.fiesta.problem.MachineException;
import dev.fiesta.source.files.FileSum;
import dev.fiesta.source.files.Paths;
import dev.fiesta.source.files.SharedFile;
import dev.fiesta.source.files.TemporaryFiles;
import dev.fiesta.task.Task;
import java.io.DataInputStream;
import java.io.IOException;
import java.util.ArrayDeque;
import java.util.Deque;
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
        Deque<GivenTask> open = new ArrayDeque<>();
        try (Crew.Work work = crew.begin(Crew.Purpose.SUMS)) {
            for (long next = 0; next < pieces || !open.isEmpty(); ) {
                while (next < pieces && open.size() < 2 * crew.members()) {
                    long to = Math.min(pieces, next + step);
                    open.add(GivenTask.of(work, Task.sums(Fiesta.version(), file, next, to)));
                    next = to;
                }
                take(open.remove(), step);
            }
        } finally {
            open.forEach(GivenTask::close);
        }
        return FileSum.of(sums);
    }

    private void take(GivenTask asked, long step) {
        try (asked;
                DataInputStream in = asked.open()) {
            for (long left = Math.min(step, sums.length - taken); left > 0; left--) {
                sums[taken++] = in.readLong();
            }
        } catch (IOException e) {
            throw GivenTask.unreadable(e);
        }
    }
}
