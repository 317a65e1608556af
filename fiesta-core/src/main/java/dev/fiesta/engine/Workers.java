package dev.fiesta.engine;

import java.util.ArrayList;
import java.util.List;

/** Several threads at the same job, the calling one among them. */
public final class Workers {
    private Workers() {}

    /**
     * Runs a job on several threads and waits for all of them.
     *
     * @param job handles its own failures
     * @param interrupted is told, once, when the calling thread is interrupted while it waits; its mark stays set
     */
    public static void run(int count, Runnable job, Runnable interrupted) {
        List<Thread> others = new ArrayList<>();
        for (int i = 1; i < count; i++) {
            Thread thread = new Thread(job, "fiesta-worker-" + i);
            thread.setDaemon(true);
            thread.start();
            others.add(thread);
        }
        job.run();
        boolean marked = false;
        for (Thread thread : others) {
            while (thread.isAlive()) {
                try {
                    thread.join();
                } catch (InterruptedException e) {
                    marked = true;
                    interrupted.run();
                }
            }
        }
        if (marked) {
            Thread.currentThread().interrupt();
        }
    }
}
