/** Tables of records: reading, grouping, ranking, walking; the computation of Fiesta without any interface. */
module dev.fiesta {
    requires transitive org.jspecify;
    requires re2j;
    requires ch.randelshofer.fastdoubleparser;

    exports dev.fiesta;
    exports dev.fiesta.value;
    exports dev.fiesta.language;
    exports dev.fiesta.problem;
    exports dev.fiesta.catalogue;
}
