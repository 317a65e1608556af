package dev.fiesta.report;

import static org.assertj.core.api.Assertions.assertThat;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.survey.FieldSurvey;
import dev.fiesta.survey.FieldSurvey.Oddity;
import dev.fiesta.survey.Survey;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.logging.Level;
import java.util.logging.Logger;
import java.util.stream.Stream;
import javax.xml.parsers.DocumentBuilderFactory;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.font.FontMapper;
import org.apache.pdfbox.pdmodel.font.FontMappers;
import org.dhatim.fastexcel.reader.ReadableWorkbook;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Characters that hurt, in data, titles, headings and names: every format opens, and nothing of a service around it changes. */
class HostileTextsTest {
    private static final String[] HOSTILE = {
        "\u0000",
        "\u0001",
        "\u001B[2J",
        "\u009B31m",
        "\uFFFE",
        "\uFFFF",
        "\u202E",
        "\uFEFF",
        "<script>alert(1)</script>",
        "]]>",
        "&amp;",
        "=1+1",
        "{{ title }}",
        "{:least}",
        "\uD83C\uDF6A",
        "e\u0301",
        "\u05D0\u05D1",
        "''",
        "\"",
        "\\",
        "%s",
        "a\u2028b",
        "\u00A0"
    };

    @TempDir
    Path folder;

    private Report report(String hostile, boolean inBrief) throws IOException {
        StringBuilder data = new StringBuilder("\"na me\",amount,day\n");
        for (int i = 0; i < 6; i++) {
            String text = ("x" + hostile + i).replace("\"", "\"\"");
            data.append('"')
                    .append(text)
                    .append("\",")
                    .append(i * 10 + 5)
                    .append(".50,2026-05-0")
                    .append(i + 1)
                    .append('\n');
        }
        Files.writeString(folder.resolve("sales.csv"), data);
        String title =
                (inBrief ? "T" + hostile + "t" : "Title").replace("\n", " ").replace("'", "''");
        String brief = """
                brief '%1$s'
                parameter least decimal = 5
                input sales from 'sales.csv'
                table by_name from sales
                  per "na me" give takings = sum(amount), n = count()
                  totals
                  columns "na me" '%1$s', takings '%1$s' money, n
                table by_day from sales
                  per day give takings = sum(amount)
                report
                  heading '%1$s'
                  say '%1$s'
                  table by_name '%1$s'
                  chart bars by_name x "na me" y takings '%1$s'
                  chart lines by_day x day y takings '%1$s'
                """.formatted(title);
        try (Fiesta fiesta = Fiesta.open()) {
            return Report.of(Brief.of("t.brief", brief, folder), fiesta);
        }
    }

    @ParameterizedTest
    @ValueSource(booleans = {true, false})
    void everyFormatOpens(boolean inBrief) throws Exception {
        for (int i = 0; i < HOSTILE.length; i += 2) { // two of them side by side
            String hostile = HOSTILE[i] + HOSTILE[(i + 1) % HOSTILE.length];
            String why = "number " + i + (inBrief ? " in the brief" : " in the data");
            Report report = report(hostile, inBrief);
            Path out = folder.resolve("out");
            report.writeTo(
                    out,
                    Stream.of(Format.values()).filter(f -> f != Format.TERMINAL).toArray(Format[]::new));
            try (PDDocument pdf = Loader.loadPDF(out.resolve("report.pdf").toFile())) {
                assertThat(pdf.getNumberOfPages()).as(why).isPositive();
            }
            try (ReadableWorkbook book =
                    new ReadableWorkbook(out.resolve("report.xlsx").toFile())) {
                assertThat(book.getSheets().count()).as(why).isGreaterThan(1);
            }
            List<Path> drawn;
            try (Stream<Path> files = Files.walk(out)) {
                drawn = files.filter(f -> f.toString().endsWith(".svg")).toList();
            }
            assertThat(drawn).as(why).hasSize(2);
            for (Path svg : drawn) {
                DocumentBuilderFactory.newInstance()
                        .newDocumentBuilder()
                        .parse(new ByteArrayInputStream(Files.readAllBytes(svg)));
            }
            String html = Files.readString(out.resolve("report.html"));
            assertThat(html).as(why).doesNotContain("<script>alert", "\u0000", "\u0001", "\u001B", "\u009B", "\uFFFE");
            StringWriter shown = new StringWriter();
            report.print(new Terminal("en-IE", 100, 0, false), new PrintWriter(shown, true));
            assertThat(shown.toString()).as(why).doesNotContain("\u0000", "\u0001", "\u001B", "\u009B", "\u202E");
        }
    }

    /** What a service around the library has set stays as it is, and nobody prints. */
    @Test
    void nothingAroundIsTouched() throws IOException {
        FontMapper mapper = FontMappers.instance();
        Logger root = Logger.getLogger("");
        Level level = root.getLevel();
        Level pdf = Logger.getLogger("org.apache.pdfbox").getLevel();
        Level page = Logger.getLogger("com.openhtmltopdf").getLevel();
        PrintStream err = System.err;
        PrintStream out = System.out;
        ByteArrayOutputStream printed = new ByteArrayOutputStream();
        System.setErr(new PrintStream(printed, true, StandardCharsets.UTF_8));
        System.setOut(new PrintStream(printed, true, StandardCharsets.UTF_8));
        try {
            report("x", false).writeTo(folder.resolve("out"), Format.PDF, Format.XLSX, Format.HTML, Format.PNG);
        } finally {
            System.setErr(err);
            System.setOut(out);
        }
        assertThat(printed.toString(StandardCharsets.UTF_8)).isEmpty();
        assertThat(FontMappers.instance()).isSameAs(mapper);
        assertThat(root.getLevel()).isEqualTo(level);
        assertThat(Logger.getLogger("org.apache.pdfbox").getLevel()).isEqualTo(pdf);
        assertThat(Logger.getLogger("com.openhtmltopdf").getLevel()).isEqualTo(page);
        try (Stream<Path> left = Files.list(Path.of(System.getProperty("java.io.tmpdir")))) {
            assertThat(left.map(f -> f.getFileName().toString()).filter(n -> n.startsWith("+~JF")))
                    .isEmpty();
        }
    }

    /** What a survey proposes can be written, and does what it says, on the very data it was made from. */
    @Test
    void whatASurveyProposesRuns() throws IOException {
        StringBuilder data =
                new StringBuilder("\"Sale id\",\"Sold on\",Amount,Price,State,Code,Mixed,Gone,Näme,Paid\n");
        for (int i = 0; i < 60; i++) {
            data.append(i + 1).append(',');
            data.append(String.format("%02d/05/2026", 1 + i % 28)).append(',');
            data.append('"').append(i).append(",5").append(i % 10).append("\",");
            data.append(i % 50 == 7 ? "n/a" : i + ".25").append(',');
            data.append(i % 3 == 0 ? " settled" : i % 3 == 1 ? "Settled" : "settled")
                    .append(',');
            data.append(String.format("%03d", i % 7)).append(',');
            data.append(i % 20 == 0 ? "2026-05-" + (10 + i % 9) : String.format("%02d/05/2026", 1 + i % 28))
                    .append(',');
            data.append(',')
                    .append(i % 2 == 0 ? "ä" : "b")
                    .append(i % 3 == 0 ? ",€ 1.50" : ",12.25 EUR")
                    .append('\n');
        }
        Path file = Files.writeString(folder.resolve("sales.csv"), data);
        try (Fiesta fiesta = Fiesta.open()) {
            Survey survey = fiesta.read(file).survey();
            List<String> tried = new ArrayList<>();
            for (String line : lines(survey)) {
                boolean option =
                        line.startsWith("fields ") || line.startsWith("missing ") || line.equals("decimal comma");
                int rows = option
                        ? fiesta.read(List.of(file), line).run().rows()
                        : fiesta.read(file).then(line).run().rows();
                assertThat(rows).as(line).isEqualTo(60);
                tried.add(line.split(" ")[0]);
            }
            assertThat(tried).contains("fields", "add", "check", "missing");
            Draft draft = Draft.of(
                    "sales",
                    List.of("sales.csv"),
                    "",
                    options -> fiesta.read(List.of(file), options).survey());
            Map<String, dev.fiesta.Result> results = Report.of(Brief.of("draft.brief", draft.text(), folder), fiesta)
                    .results();
            assertThat(results).isNotEmpty();
        }
    }

    /** The lines that a survey prints below what it found. */
    private static List<String> lines(Survey survey) {
        StringWriter out = new StringWriter();
        new SurveyView("sales", survey).print(200, false, new PrintWriter(out, true));
        List<String> lines = out.toString()
                .lines()
                .filter(l -> l.startsWith("      ") && !l.startsWith("       "))
                .map(String::strip)
                .toList();
        long proposed = survey.fields().stream()
                .map(FieldSurvey::oddities)
                .flatMap(List::stream)
                .map(Oddity::suggestion)
                .filter(java.util.Objects::nonNull)
                .count();
        assertThat((long) lines.size()).isEqualTo(proposed);
        return lines;
    }
}
