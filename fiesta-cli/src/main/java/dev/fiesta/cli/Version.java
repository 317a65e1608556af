package dev.fiesta.cli;

import picocli.CommandLine.IVersionProvider;

/** The version of the command. */
final class Version implements IVersionProvider {
    @Override
    public String[] getVersion() {
        return new String[] {"fiesta " + dev.fiesta.Fiesta.version()};
    }
}
