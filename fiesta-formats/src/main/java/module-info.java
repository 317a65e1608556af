/** Formats of tables besides delimited text: JSON, workbooks, databases. */
module dev.fiesta.formats {
    requires transitive dev.fiesta;
    requires transitive java.sql;
    requires static com.github.luben.zstd_jni;
    requires java.xml;
    // For workbooks only: it stands on a jar that is no module, which nothing can be linked with.
    requires static org.dhatim.fastexcel.reader;
    requires tools.jackson.databind;

    exports dev.fiesta.formats;
}
