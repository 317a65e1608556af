package dev.fiesta.editing;

import dev.fiesta.catalogue.ClauseEntry;
import dev.fiesta.catalogue.Entry;
import dev.fiesta.catalogue.WordEntry;
import dev.fiesta.catalogue.WordEntry.Place;
import dev.fiesta.language.Keywords;
import dev.fiesta.plan.Catalogue;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What the catalogues say of a word, by where it stands. */
final class WordLookup {
    /** All functions. */
    static final List<Entry> FUNCTIONS = Catalogue.entries();

    /**
     * A word and what is said of it.
     *
     * @param form how it is written
     * @param about what it does
     */
    record Said(String form, String about) {}

    private WordLookup() {}

    /** What is said of a word of the language in the part, clause or piece that begins with another; null where nothing is. */
    static @Nullable Said word(String word, String start) {
        String first = word.split(" ")[0];
        for (ClauseEntry clause : ClauseEntry.all()) {
            if (clause.name().equals(first) && first.equals(start)) {
                return new Said(clause.form(), clause.about());
            }
        }
        List<Place> places = places(start);
        return WordEntry.all().stream()
                .filter(e -> e.words().contains(first))
                .min(Comparator.comparingInt(e -> rank(places, e.place())))
                .map(e -> new Said(e.form(), e.about()))
                .orElse(null);
    }

    private static int rank(List<Place> places, Place place) {
        int at = places.indexOf(place);
        return at < 0 ? places.size() : at;
    }

    private static List<Place> places(String start) {
        List<Place> places = new ArrayList<>();
        if (start.equals("input") || start.equals("fields")) {
            places.addAll(List.of(Place.INPUT, Place.TYPE));
        } else if (start.equals("chart")) {
            places.addAll(List.of(Place.CHART, Place.REPORT));
        } else if (Keywords.PIECES.contains(start)) {
            places.add(Place.REPORT);
        } else if (start.equals("columns")) {
            places.add(Place.FORMAT);
        } else if (start.equals("parameter")) {
            places.addAll(List.of(Place.TYPE, Place.PART));
        } else {
            places.addAll(List.of(Place.CLAUSE, Place.CALL, Place.EXPRESSION));
        }
        places.add(Place.PART);
        return places;
    }

    /** What is said of a clause. */
    static @Nullable Said clause(String name) {
        return ClauseEntry.all().stream()
                .filter(c -> c.name().equals(name))
                .findFirst()
                .map(c -> new Said(c.form(), c.about()))
                .orElse(null);
    }

    /** The function of a name, or null. */
    static @Nullable Entry function(String name) {
        return FUNCTIONS.stream().filter(f -> f.name().equals(name)).findFirst().orElse(null);
    }
}
