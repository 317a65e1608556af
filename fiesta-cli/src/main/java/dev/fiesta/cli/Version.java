package dev.fiesta.cli;

import picocli.CommandLine.IVersionProvider;

/** The version of the command. */
final class Version implements IVersionProvider {
    @Override
    public String[] getVersion() {
        String version = Main.class.getPackage().getImplementationVersion();
        return new String[] {"fiesta " + (version == null ? "0.1.0" : version)};
    }
}
