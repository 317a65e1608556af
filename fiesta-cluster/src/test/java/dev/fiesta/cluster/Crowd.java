package dev.fiesta.cluster;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Result;
import dev.fiesta.Tables;
import dev.fiesta.crew.Crew;
import dev.fiesta.problem.Notices;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.SplittableRandom;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import java.util.zip.GZIPOutputStream;

/** Sales for a crew, questions to them, and what comes of these in a text. */
final class Crowd {
    /** What is asked of records of which some are set aside. */
    private static final String ASIDE = "aside ";

    /** What is asked of packed records. */
    static final String PACKED = "packed ";

    /** What is asked by one who can hold next to nothing, so that look-ups are large. */
    private static final String TIGHT = "tight ";

    /** What came in. */
    private static final String SURVEY = "survey";

    static final List<String> QUESTIONS = List.of(
            "table t from sales per site, item give n = count(), s = sum(amount), m = median(quantity) totals by site",
            "table t from sales match sites on site bring town add r = rank(within site along amount desc) only r <= 2",
            "table t from sales first 50 only quantity > 3\ntable u from sales per item give d = count_distinct(site)",
            "table t from sales only amount > 99000 sort amount desc, sale_id first 20",
            "table t from sales only amount > 90000 sort site, amount desc only quantity > 1",
            "table t from sales turn amount, quantity into what, n per site, what give s = sum(n), m = median(n)",
            "table t from sales first 2 within site along amount desc columns sale_id, site, amount",
            "table t from sales add m = mean(amount within site, item along sale_id last 5) only m < 9000 "
                    + "columns sale_id, m\ntable u from sales distinct item, quantity",
            "table t from sales add d = dense_rank(along amount desc), s = sum(quantity along amount desc running) "
                    + "only d % 97 = 5 add part = s / 7 columns sale_id, d, s, part",
            ASIDE + "table t from sales per site, item give n = count(), s = sum(amount)",
            TIGHT + "table t from sales only amount > 80000 match sites on site bring town only town <> 'town 1' "
                    + "columns sale_id, town, amount",
            PACKED + "table t from sales per site give n = count(), s = sum(amount) add r = rank(along s desc)",
            SURVEY);

    private Crowd() {}

    /** Writes a file of sales, some of which cannot be read, and some over two lines. */
    static void write(Path folder, int records) throws IOException {
        SplittableRandom random = new SplittableRandom(5);
        StringBuilder text = new StringBuilder("sale_id,site,item,quantity,amount,note\n");
        for (int i = 0; i < records; i++) {
            text.append(i)
                    .append(",site ")
                    .append(random.nextInt(9))
                    .append(",item ")
                    .append(random.nextInt(40))
                    .append(',')
                    .append(random.nextInt(5_000) == 0 ? "oops" : "" + random.nextInt(9))
                    .append(',')
                    .append(random.nextInt(100_000))
                    .append(".25,\"")
                    .append(random.nextInt(50) == 0 ? "two\nlines, or more" : "one")
                    .append("\"\n");
        }
        Files.writeString(folder.resolve("sales.csv"), text);
        try (OutputStream packed = new GZIPOutputStream(Files.newOutputStream(folder.resolve("sales.csv.gz")))) {
            packed.write(text.toString().getBytes(StandardCharsets.UTF_8));
        }
        Files.writeString(
                Files.createDirectories(folder.resolve("lists")).resolve("sites.csv"),
                "site,town\n"
                        + Stream.iterate(0, i -> i < 9, i -> i + 1)
                                .map(i -> "site " + i + ",town " + i % 4 + "\n")
                                .collect(Collectors.joining()));
    }

    /** The settings of a crew on this machine, at ports that nobody else uses. */
    static Path conf(Path folder, String more) throws IOException {
        int port = 20_000 + (int) (ProcessHandle.current().pid() * 37 % 12_000);
        Path conf = folder.resolve("crew.conf");
        Files.writeString(
                conf,
                "members 127.0.0.1:" + port + ", 127.0.0.1:" + (port + 1) + ".." + (port + 20)
                        + "\nfolder shared\ntask 300k\nalone-below 100k\nthreads 1\n" + more);
        return conf;
    }

    /** @param crew reads large inputs, or null */
    static String answer(Path folder, String question, @org.jspecify.annotations.Nullable Crew crew) {
        boolean aside = question.startsWith(ASIDE);
        boolean packed = question.startsWith(PACKED);
        String quantity = aside ? ", amount decimal(2) unreadable aside" : " bad as missing";
        String brief = "input sales from 'sales.csv" + (packed ? ".gz" : "") + "' fields quantity integer" + quantity
                + "\ninput sites from 'lists/sites.csv'\n"
                + question.replaceFirst("^(" + ASIDE + "|" + PACKED + "|" + TIGHT + ")", "");
        FiestaBuilder settings = question.startsWith(TIGHT) ? Fiesta.with().memory(1) : Fiesta.with();
        try (Fiesta fiesta =
                crew == null ? settings.open() : settings.crew(crew).open()) {
            if (question.equals(SURVEY)) {
                return fiesta.read(folder.resolve("sales.csv")).survey().toString();
            }
            Tables tables = Brief.of("crowd", brief, folder).tables(fiesta);
            Tables.Outcome outcome = tables.runCounted(tables.outputs());
            return outcome.results().values().stream().map(Crowd::told).collect(Collectors.joining("\n"))
                    + outcome.asides().values().stream()
                            .map(a -> a.count() + " " + a.first())
                            .toList();
        }
    }

    private static String told(Result result) {
        String rows = result.stream()
                .map(row -> result.schema().names().stream()
                        .map(field -> String.valueOf(row.get(field)))
                        .collect(Collectors.joining(",")))
                .collect(Collectors.joining("\n"));
        return rows + "\n" + result.totals() + "\n"
                + result.notices().list().stream().map(Notices.Notice::text).toList();
    }
}
