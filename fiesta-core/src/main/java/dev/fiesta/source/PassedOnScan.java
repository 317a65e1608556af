package dev.fiesta.source;

/** A reading of a source over another one, of whose readers it makes its own. */
abstract class PassedOnScan implements Source.Scan {
    private final Source.Scan scan;

    PassedOnScan(Source.Scan scan) {
        this.scan = scan;
    }

    @Override
    public double share() {
        return scan.share();
    }

    @Override
    public boolean readsAgain() {
        return scan.readsAgain();
    }

    @Override
    public void stop(long sequence) {
        scan.stop(sequence);
    }

    @Override
    public void close() {
        scan.close();
    }
}
