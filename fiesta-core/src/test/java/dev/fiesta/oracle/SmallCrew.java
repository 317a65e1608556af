package dev.fiesta.oracle;

import dev.fiesta.Fiesta;
import dev.fiesta.FiestaBuilder;
import dev.fiesta.member.LocalCrew;

/** A Fiesta, every third time with a crew of 1 to 7 members who read stretches of a few bytes. */
record SmallCrew(LocalCrew crew, Fiesta fiesta) implements AutoCloseable {
    static SmallCrew of(FiestaBuilder settings, long seed) {
        LocalCrew crew = new LocalCrew(settings.member(), 1 + (int) (seed / 3 % 7), 16 + seed % 11 * 20, 0);
        return new SmallCrew(crew, (seed % 3 == 2 ? settings.crew(crew) : settings).open());
    }

    @Override
    public void close() {
        fiesta.close();
        crew.close();
    }
}
