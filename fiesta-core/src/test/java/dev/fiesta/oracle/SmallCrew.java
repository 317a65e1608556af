package dev.fiesta.oracle;

import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.Repeats;
import dev.fiesta.member.LocalCrew;
import org.jspecify.annotations.Nullable;

/** A Fiesta, every twentieth time with a crew of 1 to 7 members who read stretches of a few bytes. */
record SmallCrew(@Nullable LocalCrew crew, Fiesta fiesta) implements AutoCloseable {
    /** One question of so many is asked of a crew; 1 for all. */
    private static final int ONE_OF = Integer.getInteger("fiesta.crews", Repeats.of(20, 5));

    /** @param seed a number that tells whether it has a crew, and which; -1 for none */
    static SmallCrew of(FiestaBuilder settings, long seed) {
        if (seed < 0 || seed % ONE_OF != 3 % ONE_OF) {
            return new SmallCrew(null, settings.open());
        }
        int members = 1 + (int) (seed / ONE_OF % 7);
        int merged = 2 + (int) (seed % 3);
        LocalCrew crew = new LocalCrew(settings.member(), members, 40 + seed % 11 * 40, 0, merged);
        return new SmallCrew(crew, settings.crew(crew).open());
    }

    @Override
    public void close() {
        fiesta.close();
        if (crew != null) {
            crew.close();
        }
    }
}
