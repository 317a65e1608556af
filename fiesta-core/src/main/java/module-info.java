/** Tables of records: reading, grouping, ranking, walking; the computation of Fiesta without any interface. */
module dev.fiesta {
    requires transitive org.jspecify;
    requires static com.github.luben.zstd_jni;
    requires ch.randelshofer.fastdoubleparser;

    exports dev.fiesta;
    exports dev.fiesta.value;
    exports dev.fiesta.editing;
    exports dev.fiesta.language;
    exports dev.fiesta.output;
    exports dev.fiesta.problem;
    exports dev.fiesta.progress;
    exports dev.fiesta.source;
    exports dev.fiesta.source.cells;
    exports dev.fiesta.source.files;
    exports dev.fiesta.survey;
    exports dev.fiesta.catalogue;
    exports dev.fiesta.copy;
    exports dev.fiesta.moved;
    exports dev.fiesta.crew;
    exports dev.fiesta.member;
}
