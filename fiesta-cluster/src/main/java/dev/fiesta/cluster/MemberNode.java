package dev.fiesta.cluster;

import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.source.InputFormat;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.apache.ignite.Ignite;
import org.apache.ignite.spi.discovery.tcp.TcpDiscoverySpi;

/** A member of a crew: it does tasks for others until it is closed. */
public final class MemberNode implements AutoCloseable {
    /** While one task writes what it found, another may read. */
    private static final int AT_ONCE = 2;

    private final Ignite fabric;
    private final CountDownLatch ended = new CountDownLatch(1);

    private MemberNode(Ignite fabric) {
        this.fabric = fabric;
    }

    /**
     * Joins a crew.
     *
     * @param file who belongs to it
     * @param encryption whether it may be joined without certificates, where it is on other machines
     * @param formats of inputs that it reads besides delimited text
     * @return the member, which works until it is closed
     * @throws dev.fiesta.problem.RequestException when it may not be joined so
     * @throws dev.fiesta.problem.MachineException when it cannot be joined
     */
    public static MemberNode join(CrewFile file, Encryption encryption, InputFormat... formats) {
        FiestaBuilder settings = Fiesta.with();
        List.of(formats).forEach(settings::reads);
        if (file.threads() > 0) {
            settings.threads(file.threads());
        }
        if (file.memory() > 0) {
            settings.memory(file.memory());
        }
        if (!file.mayRead().isEmpty()) {
            settings.mayRead(file.mayRead().toArray(Path[]::new));
            settings.mayRead(RunFolder.ofAll(file.folder())); // where files are placed that only the one who asks sees
        }
        Hands hands = new Hands(settings.member(), file.folder());
        return new MemberNode(Fabric.join(file, encryption, hands, AT_ONCE));
    }

    /** {@return how many members the crew has now} */
    public int members() {
        return fabric.cluster().forServers().nodes().size();
    }

    /** {@return where the others find it} */
    public String place() {
        return String.join(", ", fabric.cluster().localNode().addresses()) + ":"
                + ((TcpDiscoverySpi) fabric.configuration().getDiscoverySpi()).getLocalPort();
    }

    /**
     * Waits until it is closed, or was lost: the others take a machine for lost that was silent too long.
     *
     * @return whether it was lost
     * @throws InterruptedException when somebody asked this thread to stop
     */
    public boolean await() throws InterruptedException {
        while (!ended.await(1, TimeUnit.SECONDS)) {
            if (!Fabric.isThere(fabric)) {
                return true;
            }
        }
        return false;
    }

    @Override
    public void close() {
        ended.countDown();
        Fabric.leave(fabric);
    }
}
