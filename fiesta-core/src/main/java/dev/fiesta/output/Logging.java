package dev.fiesta.output;

/** Libraries of ours log; where nobody provides logging, the one that they log through shall not say so on standard error. */
public final class Logging {
    private static final String SETTING = "slf4j.internal.verbosity";

    private Logging() {}

    /**
     * Lets logging be looked for now, in silence; what was set of it before stays.
     *
     * @param first does so: {@code LoggerFactory::getILoggerFactory}
     */
    public static synchronized void find(Runnable first) {
        if (System.getProperty(SETTING) == null) {
            System.setProperty(SETTING, "ERROR");
            first.run();
            System.clearProperty(SETTING);
        }
    }
}
