/** Briefs as documents: pages, paper, workbooks, charts, and the record by which they repeat. */
module dev.fiesta.report {
    requires transitive dev.fiesta;
    requires com.dynatrace.hash4j;
    requires de.siegmar.fastcsv;
    requires dev.fiesta.formats;
    requires io.pebbletemplates;
    requires java.desktop;
    requires java.logging;
    requires jdk.xml.dom; // by what draws charts on paper
    requires openhtmltopdf.core;
    requires openhtmltopdf.pdfbox;
    requires openhtmltopdf.svg.support;
    requires org.apache.commons.io; // by what lays pages out, which says so nowhere
    requires org.apache.commons.logging; // by what writes them
    requires org.apache.pdfbox;
    requires org.apache.xmlgraphics.batik.svggen;
    requires org.dhatim.fastexcel;
    requires org.dhatim.fastexcel.reader; // so that workbooks can be read where reports are made
    requires org.jfree.jfreechart;
    requires org.slf4j;
    requires tools.jackson.databind;

    uses dev.fiesta.TableWriter;
    uses dev.fiesta.report.sheet.SheetCharts;

    exports dev.fiesta.report;
    exports dev.fiesta.report.sheet;

    // Templates ask the pieces of a report for what they show.
    opens dev.fiesta.report;
    opens dev.fiesta.report.chart;
    opens dev.fiesta.report.content;
    opens dev.fiesta.report.page;
    opens dev.fiesta.report.text;
}
