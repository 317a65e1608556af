package dev.fiesta.member;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Random;

/** Sales with gaps, and amounts of which some are none. */
final class DirtySales {
    private DirtySales() {}

    static Path write(Path folder, int rows, int sites, int items) throws IOException {
        Random random = new Random(5);
        StringBuilder text = new StringBuilder("site,item,day,quantity,amount,score\n");
        for (int i = 0; i < rows; i++) {
            text.append(random.nextInt(30) == 0 ? "" : "site " + random.nextInt(sites))
                    .append(",item ")
                    .append(random.nextInt(items))
                    .append(String.format(",2026-%02d-%02d,", 5 + random.nextInt(4), 10 + random.nextInt(10)))
                    .append(i)
                    .append(random.nextInt(50) == 0 ? ",some" : String.format(",%d.50", random.nextInt(90)))
                    .append(String.format(",%d.25\n", i % 13));
        }
        return Files.writeString(folder.resolve("sales.csv"), text);
    }
}
