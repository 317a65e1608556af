package dev.fiesta.cluster;

import dev.fiesta.crew.StageFile;
import dev.fiesta.member.Member;
import dev.fiesta.problem.FiestaException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.apache.ignite.lifecycle.LifecycleBean;
import org.apache.ignite.lifecycle.LifecycleEventType;

/** Does tasks with what lies in the folders of runs. A part of the settings by which a member meets the others, where its jobs find it. */
final class Hands implements LifecycleBean {
    private final Member member;
    private final Path folder;

    /** @param folder where those of runs stand */
    Hands(Member member, Path folder) {
        this.member = member;
        this.folder = folder;
    }

    @Override
    public void onLifecycleEvent(LifecycleEventType event) {}

    /** Does a task; nothing, or why it could not be done. */
    String work(String run, String answer, byte[] task) {
        Path own = folder.resolve(RunFolder.named(run));
        if (!Files.isDirectory(own)) {
            return "the folder '" + own + "' is not there on this machine";
        }
        try {
            StageFile.write(
                    own.resolve(RunFolder.named(answer)),
                    out -> member.work(
                            task, (name, section) -> StageFile.open(own.resolve(RunFolder.named(name)), section), out));
            return "";
        } catch (FiestaException e) {
            return e.getMessage();
        } catch (IOException e) {
            return "the folder '" + own + "' cannot be written (" + e.getMessage() + ")";
        } catch (RuntimeException | OutOfMemoryError e) {
            return "it failed: " + e;
        }
    }
}
