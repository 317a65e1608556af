package dev.fiesta.parquet;

import org.slf4j.LoggerFactory;

/** The library that knows the files logs; where nobody provides logging it shall not say so on standard error, once in a process. */
final class Logging {
    private static final String SETTING = "slf4j.internal.verbosity";

    private Logging() {}

    static synchronized void find() {
        if (System.getProperty(SETTING) == null) {
            System.setProperty(SETTING, "ERROR");
            LoggerFactory.getILoggerFactory();
            System.clearProperty(SETTING);
        }
    }
}
