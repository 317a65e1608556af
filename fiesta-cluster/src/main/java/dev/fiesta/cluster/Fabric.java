package dev.fiesta.cluster;

import dev.fiesta.problem.MachineException;
import dev.fiesta.problem.RequestException;
import dev.fiesta.source.files.TemporaryFiles;
import java.io.ObjectInputFilter;
import java.net.BindException;
import java.net.InetAddress;
import java.net.NetworkInterface;
import java.net.SocketException;
import java.net.UnknownHostException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.UUID;
import java.util.stream.Stream;
import org.apache.ignite.Ignite;
import org.apache.ignite.IgniteException;
import org.apache.ignite.IgniteState;
import org.apache.ignite.Ignition;
import org.apache.ignite.configuration.DataRegionConfiguration;
import org.apache.ignite.configuration.DataStorageConfiguration;
import org.apache.ignite.configuration.IgniteConfiguration;
import org.apache.ignite.failure.StopNodeFailureHandler;
import org.apache.ignite.logger.NullLogger;
import org.apache.ignite.spi.communication.tcp.TcpCommunicationSpi;
import org.apache.ignite.spi.discovery.tcp.TcpDiscoverySpi;
import org.apache.ignite.spi.discovery.tcp.ipfinder.vm.TcpDiscoveryVmIpFinder;
import org.apache.ignite.spi.failover.always.AlwaysFailoverSpi;
import org.apache.ignite.ssl.SslContextFactory;
import org.jspecify.annotations.Nullable;

/**
 * What the machines of a crew meet by: who is there, who is lost, who does which task. Nothing is kept in it, nothing is asked of it
 * by other programs, no class travels.
 */
final class Fabric {
    /** How long a machine may be silent before it is taken for lost, in milliseconds; tests wait less. */
    private static final long SILENT = Long.getLong("fiesta.crew.silent", 10_000);

    /** How long a thread of the grid itself may wait for a processor. */
    private static final long BLOCKED = 60_000;

    /** How long a machine tries to reach its neighbour again, before the next one is its neighbour. */
    private static final long RECOVERED = 2_000;

    private static final long LEAST_REGION = 10L << 20;
    private static final long MOST_REGION = 32L << 20;
    private static final int ATTEMPTS = 4;
    /** Messages between two members go there: so far above the ports where they find each other. */
    private static final int MESSAGES = 200;

    private Fabric() {}

    /**
     * Joins the others, to ask them.
     *
     * @throws RequestException when nobody may meet so
     * @throws MachineException when nobody is there
     */
    static Ignite ask(CrewFile crew, Encryption encryption) {
        return start(crew, null, encryption, new IgniteConfiguration());
    }

    /**
     * Joins the others, to be asked.
     *
     * @param hands do what is asked, so many tasks at once
     * @throws RequestException when nobody may meet so
     * @throws MachineException when it cannot be joined
     */
    static Ignite join(CrewFile crew, Encryption encryption, Hands hands, int atOnce) {
        for (Iterator<CrewFile.Place> places = own(crew).iterator(); ; ) {
            IgniteConfiguration settings =
                    new IgniteConfiguration().setLifecycleBeans(hands).setPublicThreadPoolSize(atOnce);
            CrewFile.Place at = places.next();
            try {
                return start(crew, at, encryption, settings);
            } catch (MachineException e) {
                if (!(e.getCause() instanceof BindException) || !places.hasNext()) {
                    throw e;
                }
            }
        }
    }

    /** Whether it is still one of the others, as far as it knows. */
    static boolean isThere(Ignite fabric) {
        return Ignition.state(fabric.name()) == IgniteState.STARTED;
    }

    /** Leaves the others, and nothing behind. */
    static void leave(Ignite fabric) {
        Path work = Path.of(fabric.configuration().getWorkDirectory());
        fabric.close();
        TemporaryFiles.remove(work);
    }

    /** @param at where a member listens; null for the one who asks */
    private static Ignite start(
            CrewFile crew, CrewFile.@Nullable Place at, Encryption encryption, IgniteConfiguration settings) {
        refuseOpen(crew, encryption);
        System.setProperty("IGNITE_NO_ASCII", "true");
        System.setProperty("IGNITE_QUIET", "true");
        System.setProperty("IGNITE_UPDATE_NOTIFIER", "false");
        System.setProperty("IGNITE_NO_SHUTDOWN_HOOK", "true");
        System.setProperty("IGNITE_PERFORMANCE_SUGGESTIONS_DISABLED", "true");
        if (ObjectInputFilter.Config.getSerialFilter() != null) {
            // That of the process is the stricter one; the grid's own only knows what is bad.
            System.setProperty("IGNITE_ENABLE_OBJECT_INPUT_FILTER_AUTOCONFIGURATION", "false");
        }
        settings.setIgniteInstanceName("fiesta-" + UUID.randomUUID())
                .setConsistentId(UUID.randomUUID().toString())
                .setClientMode(at == null)
                .setGridLogger(new NullLogger())
                .setMetricsLogFrequency(0)
                .setPeerClassLoadingEnabled(false)
                .setClientConnectorConfiguration(null)
                .setConnectorConfiguration(null)
                .setFailureDetectionTimeout(SILENT)
                .setClientFailureDetectionTimeout(SILENT)
                // Never the process: it may be a program that only asks.
                .setFailureHandler(new StopNodeFailureHandler())
                .setSystemWorkerBlockedTimeout(BLOCKED)
                .setWorkDirectory(TemporaryFiles.createFolder().toString())
                .setDataStorageConfiguration(new DataStorageConfiguration()
                        .setDefaultDataRegionConfiguration(new DataRegionConfiguration()
                                .setInitialSize(LEAST_REGION)
                                .setMaxSize(MOST_REGION)))
                .setFailoverSpi(new AlwaysFailoverSpi().setMaximumFailoverAttempts(ATTEMPTS - 1));
        meet(settings, crew, at);
        SslContextFactory secured = secured(crew);
        if (secured != null) {
            settings.setSslContextFactory(secured);
        }
        try {
            return Ignition.start(settings);
        } catch (IgniteException e) {
            throw new MachineException(
                    at == null
                            ? "No member of the crew answers at " + crew.places()
                                    + ". Start them with 'fiesta member', with the same certificates"
                            : "This machine cannot join the crew at " + crew.places(),
                    deepest(e));
        }
    }

    /** What all else came of. */
    static Throwable deepest(Throwable failure) {
        Throwable cause = failure;
        while (cause.getCause() != null) {
            cause = cause.getCause();
        }
        return cause;
    }

    private static void refuseOpen(CrewFile crew, Encryption encryption) {
        boolean secured = crew.keys() != null && crew.trusted() != null;
        if (!secured && !crew.isLoopback() && encryption == Encryption.NEEDED) {
            throw new RequestException("The crew at " + crew.places()
                    + " is on other machines and has no certificates: name 'keys' and 'trusted' in its file, or say "
                    + "--insecure on every machine.");
        }
    }

    private static void meet(IgniteConfiguration settings, CrewFile crew, CrewFile.@Nullable Place at) {
        TcpDiscoverySpi finding = new TcpDiscoverySpi();
        finding.setIpFinder(new TcpDiscoveryVmIpFinder(true)
                .setAddresses(crew.members().stream()
                        .flatMap(place -> place.addresses().stream())
                        .toList()));
        finding.setJoinTimeout(SILENT);
        finding.setConnectionRecoveryTimeout(RECOVERED);
        TcpCommunicationSpi messages = new TcpCommunicationSpi();
        if (at != null) {
            finding.setLocalPort(at.port());
            int tried = at.last() - at.port() + 1;
            finding.setLocalPortRange(tried);
            messages.setLocalPort(at.port() + MESSAGES);
            messages.setLocalPortRange(tried);
        } else {
            messages.setLocalPort(crew.members().get(0).port() + 2 * MESSAGES);
        }
        if (crew.isLoopback()) {
            settings.setLocalHost("127.0.0.1");
        } else if (at != null && isHere(at.host())) {
            settings.setLocalHost(at.host());
        }
        settings.setDiscoverySpi(finding);
        settings.setCommunicationSpi(messages);
    }

    /** The places of the crew that are on this machine, by address; where none is known to be, its first. */
    private static List<CrewFile.Place> own(CrewFile crew) {
        List<CrewFile.Place> own = new ArrayList<>();
        for (CrewFile.Place place : crew.members()) {
            addresses(place.host())
                    .filter(Fabric::isHere)
                    .findFirst()
                    .ifPresent(host -> own.add(new CrewFile.Place(host, place.port(), place.last())));
        }
        return own.isEmpty() ? List.of(crew.members().get(0)) : own;
    }

    private static Stream<String> addresses(String host) {
        try {
            return Stream.of(InetAddress.getAllByName(host)).map(InetAddress::getHostAddress);
        } catch (UnknownHostException e) {
            return Stream.empty();
        }
    }

    private static boolean isHere(String host) {
        try {
            InetAddress address = InetAddress.getByName(host);
            return address.isLoopbackAddress() || NetworkInterface.getByInetAddress(address) != null;
        } catch (UnknownHostException | SocketException e) {
            return false;
        }
    }

    private static @Nullable SslContextFactory secured(CrewFile crew) {
        if (crew.keys() == null || crew.trusted() == null) {
            return null;
        }
        String variable = crew.passwordVariable();
        String password = variable == null ? null : System.getenv(variable);
        if (password == null) {
            throw new RequestException(
                    variable == null
                            ? "The crew has certificates but no password for them: add 'password from environment NAME'."
                            : "The variable " + variable
                                    + ", which holds the password of the crew's certificates, is not set.");
        }
        SslContextFactory secured = new SslContextFactory();
        secured.setKeyStoreType("PKCS12");
        secured.setTrustStoreType("PKCS12");
        secured.setKeyStoreFilePath(crew.keys().toString());
        secured.setKeyStorePassword(password.toCharArray());
        secured.setTrustStoreFilePath(crew.trusted().toString());
        secured.setTrustStorePassword(password.toCharArray());
        secured.setProtocol("TLSv1.3");
        return secured;
    }
}
