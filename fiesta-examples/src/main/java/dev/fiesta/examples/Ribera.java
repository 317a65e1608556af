package dev.fiesta.examples;

import dev.fiesta.output.OutputFile;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.List;
import java.util.Objects;
import java.util.SplittableRandom;
import java.util.stream.IntStream;

/**
 * The made-up Ribera festivals: a season of twenty weekends, six sites, forty stalls. {@link #unpack} writes the files that
 * are shipped; {@link #write} makes any number of sales, the same bytes for the same number and seed.
 *
 * <p>The season has its story: evenings and lunch hours, ices in the heat and broth in the rain, a storm on the weekend of
 * 10 July, works before the Station Yard two weeks later, a new stall on the Quay from 17 July, dearer cheese from 1 August,
 * tills that charged twice on the Quay on 8 August and paid back the day after, and a few orders of a whole company.
 */
public final class Ribera {
    /** The sales that are shipped. */
    public static final int SALES = 60_000;
    /** The seed of the files that are shipped. */
    public static final long SEED = 2026;
    /** The files that are shipped. */
    public static final List<String> FILES = List.of(
            "sales-2026-05.csv",
            "sales-2026-06.csv",
            "sales-2026-07.csv",
            "sales-2026-08.csv",
            "sales-2026-09.csv",
            "stalls.csv",
            "takings.brief",
            "season.brief");

    private static final String HEADER = "sale_id,sold_at,site,stall,item,method,status,quantity,amount,fee,tip,note\n";
    private static final LocalDate FIRST_FRIDAY = LocalDate.of(2026, 5, 1);
    private static final int WEEKENDS = 20;
    private static final int[] DAY_START = {16 * 60, 11 * 60, 11 * 60};
    private static final int[] DAY_LENGTH = {7 * 60, 12 * 60, 10 * 60};
    /** How busy each opening hour is: Friday from 16, Saturday from 11, Sunday from 11. */
    private static final int[] BUSY = {
        2, 3, 5, 8, 9, 7, 4, 3, 5, 6, 4, 3, 4, 5, 8, 10, 11, 9, 5, 4, 7, 8, 6, 5, 5, 4, 3, 2, 1
    };
    /** The weather of each weekend: rain, cold, mild, warm, hot, and a storm. */
    private static final String WEATHER = "cmmrwwmwhhshhwwhwmrm";

    private static final String[] SITES = {"Quay", "Meadow", "Old Town", "Orchard", "Station Yard", "Lighthouse"};
    private static final int[] SITE_WEIGHT = {26, 22, 19, 14, 11, 8};
    private static final String[] KINDS = {"bakery", "grill", "drinks", "sweets", "crafts", "noodles", "ices", "cheese"
    };
    private static final String[][] ITEMS = {
        {"almond tart", "olive bread", "spinach pie"},
        {"grilled sardines", "pepper skewer", "corn cob"},
        {"lemonade", "iced tea", "elderflower fizz"},
        {"churros", "candied nuts", "fudge"},
        {"candles", "ceramics", "linen bag"},
        {"noodle box", "dumplings", "broth"},
        {"sorbet", "ice cream", "granita"},
        {"cheese plate", "goat roll", "fondue pot"}
    };
    private static final int[][] PRICES = {
        {420, 350, 510}, {890, 640, 380}, {310, 330, 450}, {420, 390, 480},
        {1290, 2450, 1600}, {950, 820, 700}, {360, 410, 340}, {1150, 680, 1480}
    };
    private static final String[] NOTES = {
        "\"extra sauce, no onion\"",
        "\"said \"\"later\"\", paid after all\"",
        "paper bag",
        "\"gift, wrapped\"",
        "spilt and replaced",
        "\"regular, \"\"the usual\"\"\""
    };
    private static final int STALLS = 40;
    private static final int QUAY = 0;
    private static final int STATION_YARD = 4;
    private static final int CHEESE = 7;
    private static final int NEW_STALL = 5;
    private static final int NEW_STALL_FROM = 11;
    private static final int WORKS = 12;
    private static final int CHARGED_TWICE = 14;
    private static final LocalDate DEARER_CHEESE = LocalDate.of(2026, 8, 1);

    private final SplittableRandom random;
    private final long sales;
    private final double[] until = new double[WEEKENDS];
    private final double[] hourUntil = new double[BUSY.length];

    private Ribera(long sales, long seed) {
        this.random = new SplittableRandom(seed);
        this.sales = sales;
        double sum = 0;
        for (int k = 0; k < WEEKENDS; k++) {
            double usual = 0.4 + 0.8 * StrictMath.sin(StrictMath.PI * (k + 1) / (WEEKENDS + 1));
            sum += (usual + random.nextInt(20) / 100.0) * visitors(WEATHER.charAt(k));
            until[k] = sum;
        }
        for (int k = 0; k < WEEKENDS; k++) {
            until[k] /= sum;
        }
        int busy = IntStream.of(BUSY).sum();
        for (int hour = 0, before = 0; hour < BUSY.length; hour++) {
            before += BUSY[hour];
            hourUntil[hour] = (double) before / busy;
        }
    }

    private static double visitors(char weather) {
        return switch (weather) {
            case 's' -> 0.3;
            case 'r' -> 0.6;
            case 'c' -> 0.8;
            case 'm' -> 1.0;
            default -> 1.15;
        };
    }

    /** Copies the files that are shipped into a folder; what is there already is left as it is. */
    public static void unpack(Path folder) throws IOException {
        Files.createDirectories(folder);
        for (String file : FILES) {
            if (Files.exists(folder.resolve(file))) {
                continue;
            }
            try (InputStream in = Objects.requireNonNull(Ribera.class.getResourceAsStream("/ribera/" + file))) {
                OutputFile.writeBytes(folder.resolve(file), in.readAllBytes());
            }
        }
    }

    /** Makes {@code sales-2026-MM.csv} and {@code stalls.csv} with so many sales. */
    public static void write(Path folder, long sales, long seed) throws IOException {
        Files.createDirectories(folder);
        Ribera season = new Ribera(sales, seed);
        Files.writeString(folder.resolve("stalls.csv"), season.stalls());
        OutputStream out = null;
        int month = 0;
        try {
            StringBuilder line = new StringBuilder();
            for (long i = 0; i < sales; i++) {
                int minute = season.minute(i);
                LocalDate day = FIRST_FRIDAY.plusDays(season.weekend(i) * 7L + season.dayOf(minute));
                if (out == null || day.getMonthValue() != month) {
                    if (out != null) {
                        out.close();
                    }
                    month = day.getMonthValue();
                    out = new BufferedOutputStream(
                            Files.newOutputStream(folder.resolve(String.format("sales-2026-%02d.csv", month))),
                            1 << 16);
                    out.write(HEADER.getBytes(StandardCharsets.UTF_8));
                }
                line.setLength(0);
                season.sale(line, i, day, minute);
                out.write(line.toString().getBytes(StandardCharsets.UTF_8));
            }
        } finally {
            if (out != null) {
                out.close();
            }
        }
    }

    /** Writes all sales into one stream with a single header. */
    public static void writeSales(OutputStream out, long sales, long seed) throws IOException {
        Ribera season = new Ribera(sales, seed);
        season.stalls();
        out.write(HEADER.getBytes(StandardCharsets.UTF_8));
        StringBuilder line = new StringBuilder();
        for (long i = 0; i < sales; i++) {
            int minute = season.minute(i);
            line.setLength(0);
            season.sale(line, i, FIRST_FRIDAY.plusDays(season.weekend(i) * 7L + season.dayOf(minute)), minute);
            out.write(line.toString().getBytes(StandardCharsets.UTF_8));
        }
    }

    private String stalls() {
        StringBuilder text = new StringBuilder("stall,site,kind,pitch,since\n");
        for (int stall = 0; stall < STALLS; stall++) {
            int pitch = 4500 + random.nextInt(40) * 250;
            text.append(String.format(
                    "%03d,%s,%s,%d.%02d,%d\n",
                    stall + 1,
                    SITES[siteOf(stall)],
                    KINDS[stall % KINDS.length],
                    pitch / 100,
                    pitch % 100,
                    stall == NEW_STALL ? FIRST_FRIDAY.getYear() : 2015 + random.nextInt(11)));
        }
        return text.toString();
    }

    private static int siteOf(int stall) {
        return stall * SITES.length / STALLS;
    }

    private int weekend(long sale) {
        double part = (sale + 0.5) / sales;
        int k = 0;
        while (part > until[k]) {
            k++;
        }
        return k;
    }

    /** The minute of the weekend, counted over its opening hours, at which a sale is made; sales stand in order. */
    private int minute(long sale) {
        int k = weekend(sale);
        double from = k == 0 ? 0 : until[k - 1];
        double part = ((sale + 0.5) / sales - from) / (until[k] - from);
        int hour = 0;
        while (part > hourUntil[hour]) {
            hour++;
        }
        double start = hour == 0 ? 0 : hourUntil[hour - 1];
        return hour * 60 + Math.min(59, (int) (60 * (part - start) / (hourUntil[hour] - start)));
    }

    private int dayOf(int minute) {
        return minute < DAY_LENGTH[0] ? 0 : minute < DAY_LENGTH[0] + DAY_LENGTH[1] ? 1 : 2;
    }

    private void sale(StringBuilder line, long number, LocalDate day, int minute) {
        int dayOfWeekend = dayOf(minute);
        int clock = DAY_START[dayOfWeekend]
                + minute
                - (dayOfWeekend == 0 ? 0 : dayOfWeekend == 1 ? DAY_LENGTH[0] : DAY_LENGTH[0] + DAY_LENGTH[1]);
        int weekend = weekend(number);
        int site = site(day.getMonthValue(), weekend);
        int stall = stall(site, weekend, clock / 60, !day.isBefore(DEARER_CHEESE));
        int kind = stall % KINDS.length;
        int item = random.nextInt(3);
        int quantity = quantity(kind);
        int method = random.nextInt(100);
        int fate = random.nextInt(1000);
        boolean paidBack = weekend == CHARGED_TWICE && dayOfWeekend == 2 && site == QUAY && method < 55;
        boolean refund = fate >= (paidBack ? 600 : 970);
        int amount = price(stall, item, !day.isBefore(DEARER_CHEESE)) * quantity * (refund ? -1 : 1);
        int fee = method < 55 ? Math.round(Math.abs(amount) * 0.014f) + 5 : method < 75 ? 0 : 10;
        line.append(number + 1).append(',').append(day).append(' ');
        two(line, clock / 60).append(':');
        two(line, clock % 60).append(',');
        line.append(random.nextInt(1000) < 12 ? "" : SITES[site]).append(',');
        line.append(String.valueOf(1000 + stall + 1).substring(1)).append(',');
        line.append(random.nextInt(100) == 0 ? capital(ITEMS[kind][item]) : ITEMS[kind][item])
                .append(',');
        line.append(method < 55 ? "card" : method < 75 ? "cash" : "token").append(',');
        line.append(refund ? "refunded" : fate >= 945 ? "voided" : "settled")
                .append(',')
                .append(quantity)
                .append(',');
        cents(line, amount).append(',');
        cents(line, fee).append(',');
        if (!refund && random.nextInt(100) < 38) {
            cents(line, 20 + random.nextInt(30) * 10);
        }
        line.append(',')
                .append(random.nextInt(100) < 4 ? NOTES[random.nextInt(NOTES.length)] : "")
                .append('\n');
    }

    /** The sea sites grow through the summer; few reach the Station Yard while its street is dug up. */
    private int site(int month, int weekend) {
        int shift = (month - 5) * 2;
        while (true) {
            int at = random.nextInt(100);
            int site = 0;
            for (int sum = weight(site, shift); at >= sum && site < SITES.length - 1; sum += weight(site, shift)) {
                site++;
            }
            if (weekend != WORKS || site != STATION_YARD || random.nextInt(100) < 25) {
                return site;
            }
        }
    }

    private static int weight(int site, int shift) {
        return SITE_WEIGHT[site] + (site == 0 || site == 5 ? shift : site == 1 || site == 2 ? -shift : 0);
    }

    /** Stalls of a site; the first ones sell more, and each what the hour and the weather ask for. */
    private int stall(int site, int weekend, int hour, boolean dearerCheese) {
        int first = (site * STALLS + SITES.length - 1) / SITES.length;
        int behind = ((site + 1) * STALLS + SITES.length - 1) / SITES.length;
        int count = behind - first;
        while (true) {
            boolean crowd = site == QUAY && weekend >= NEW_STALL_FROM && random.nextInt(100) < 25;
            int stall = crowd ? NEW_STALL : first + Math.min(random.nextInt(count), random.nextInt(count));
            boolean open = stall != NEW_STALL || weekend >= NEW_STALL_FROM;
            int wanted = crowd ? 100 : wanted(stall % KINDS.length, WEATHER.charAt(weekend), hour);
            if (dearerCheese && stall % KINDS.length == CHEESE) {
                wanted = wanted * 3 / 4;
            }
            if (open && random.nextInt(100) < wanted) {
                return stall;
            }
        }
    }

    /** How many of a hundred visitors buy what a kind of stall sells. */
    private static int wanted(int kind, char weather, int hour) {
        boolean wet = weather == 'r' || weather == 'c' || weather == 's';
        boolean meal = hour >= 12 && hour <= 14 || hour >= 19 && hour <= 21;
        return switch (KINDS[kind]) {
            case "bakery" -> hour < 14 ? 95 : hour < 18 ? 70 : 40;
            case "grill" -> meal ? 90 : 45;
            case "drinks" -> (hour >= 18 ? 90 : 60) + (weather == 'h' ? 10 : 0);
            case "sweets" -> hour >= 14 && hour <= 17 ? 90 : 60;
            case "crafts" -> hour < 18 ? 60 : 30;
            case "noodles" -> (wet ? 75 : 40) + (meal ? 25 : 0);
            case "ices" -> wet ? 12 : weather == 'm' ? 40 : weather == 'w' ? 70 : 100;
            default -> hour >= 18 ? 75 : 55;
        };
    }

    /** Crafts go one by one; one order in two thousand is that of a company. */
    private int quantity(int kind) {
        int few = Math.min(random.nextInt(6), random.nextInt(6));
        if (random.nextInt(2000) == 0) {
            return 20 + 5 * few;
        }
        return 1 + (KINDS[kind].equals("crafts") ? few / 3 : few);
    }

    /** In cents: each stall has its own level of prices, a fifth above or below the usual ones. */
    private static int price(int stall, int item, boolean dearerCheese) {
        int kind = stall % KINDS.length;
        int usual = PRICES[kind][item] * (dearerCheese && kind == CHEESE ? 112 : 100);
        return usual * (80 + stall * 17 % 41) / 100_000 * 10;
    }

    private static String capital(String item) {
        return Character.toUpperCase(item.charAt(0)) + item.substring(1);
    }

    private static StringBuilder two(StringBuilder line, int number) {
        return line.append((char) ('0' + number / 10)).append((char) ('0' + number % 10));
    }

    private static StringBuilder cents(StringBuilder line, int cents) {
        int size = Math.abs(cents);
        line.append(cents < 0 ? "-" : "").append(size / 100).append('.');
        return two(line, size % 100);
    }
}
