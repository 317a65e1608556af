package dev.fiesta.formats;

import java.sql.Connection;
import java.sql.Driver;
import java.sql.DriverPropertyInfo;
import java.util.Properties;
import java.util.logging.Logger;

/** A driver on the path of every test here that cannot be made: it stands in nobody's way. */
public final class BrokenDriver implements Driver {
    /** Ends as drivers do that ask for more than the machine allows. */
    public BrokenDriver() {
        throw new ExceptionInInitializerError("this machine does not let it in");
    }

    @Override
    public Connection connect(String url, Properties info) {
        throw new AssertionError("never made");
    }

    @Override
    public boolean acceptsURL(String url) {
        throw new AssertionError("never made");
    }

    @Override
    public DriverPropertyInfo[] getPropertyInfo(String url, Properties info) {
        throw new AssertionError("never made");
    }

    @Override
    public int getMajorVersion() {
        return 0;
    }

    @Override
    public int getMinorVersion() {
        return 0;
    }

    @Override
    public boolean jdbcCompliant() {
        return false;
    }

    @Override
    public Logger getParentLogger() {
        return Logger.getAnonymousLogger();
    }
}
