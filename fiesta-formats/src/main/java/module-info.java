/** Formats of tables besides delimited text: JSON, workbooks, databases. */
module dev.fiesta.formats {
    requires transitive dev.fiesta;
    requires transitive java.sql;
    requires static com.github.luben.zstd_jni;
    requires java.xml;
    requires org.dhatim.fastexcel.reader;
    requires tools.jackson.databind;

    exports dev.fiesta.formats;
}
