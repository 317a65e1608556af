package dev.fiesta.report.sheet;

/** Makes charts that an office program draws itself, from cells of the workbook. Found as a service; without one workbooks hold pictures. */
public interface SheetCharts {
    /**
     * {@return the part of a workbook that holds a chart: XML of DrawingML, in UTF-8}
     *
     * @param chart what it shows
     */
    byte[] part(SheetChart chart);
}
