package dev.fiesta.catalogue;

/** The small table that examples of gathering and walking functions work on. */
public final class SampleTable {
    /** As delimited text: a stall's takings on five days, one of them missing. */
    public static final String TEXT = "day,site,takings\n"
            + "2026-05-01,Quay,10.00\n"
            + "2026-05-02,Quay,20.00\n"
            + "2026-05-03,Meadow,20.00\n"
            + "2026-05-04,Meadow,\n"
            + "2026-05-05,Meadow,50.00\n";

    private SampleTable() {}
}
