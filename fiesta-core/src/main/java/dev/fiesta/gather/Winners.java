package dev.fiesta.gather;

import dev.fiesta.gather.values.Drawer;
import dev.fiesta.gather.values.Image;
import dev.fiesta.value.Column;
import dev.fiesta.value.LongColumn;
import dev.fiesta.value.Type;
import java.util.ArrayDeque;
import java.util.Arrays;
import java.util.Deque;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * A queue of rows that may still win in a frame: for each what decides, what is shown, and how many rows came before it. Rows go from the
 * front, come at the end and go from there as well. Where there is a drawer, both ends are held, and what is between them is put away.
 */
final class Winners {
    private static final int FEW = 64;

    private final @Nullable Drawer drawer;
    private final int page;
    private Image deciding;
    private Image shown;
    private Part front = new Part();
    private Part back = new Part();
    private final Deque<Integer> between = new ArrayDeque<>();

    /** @param drawer takes what is too much, null where everything is held */
    Winners(Type shown, Type deciding, @Nullable Drawer drawer) {
        this.shown = new Image(shown);
        this.deciding = new Image(deciding);
        this.drawer = drawer;
        this.page = drawer == null ? 0 : drawer.rows();
    }

    /** Rows side by side, in the order in which they came. */
    private static final class Part {
        private long[] decides = new long[FEW];
        private long[] shows = new long[FEW];
        private long[] places = new long[FEW];
        private int first;
        private int end;

        boolean isEmpty() {
            return first == end;
        }

        int size() {
            return end - first;
        }

        void add(long decides, long shows, long place) {
            if (end == places.length) {
                makeRoom();
            }
            this.decides[end] = decides;
            this.shows[end] = shows;
            this.places[end++] = place;
        }

        /** What is left moves to the beginning; where that gives little, there is twice the room. */
        private void makeRoom() {
            int size = size();
            int room = size > places.length / 2 ? 2 * places.length : places.length;
            decides = moved(decides, room);
            shows = moved(shows, room);
            places = moved(places, room);
            first = 0;
            end = size;
        }

        private long[] moved(long[] values, int room) {
            long[] to = room == values.length ? values : new long[room];
            System.arraycopy(values, first, to, 0, size());
            return to;
        }
    }

    /** About the bytes of the texts that are known. */
    long texts() {
        return deciding.memory() + shown.memory();
    }

    Image deciding() {
        return deciding;
    }

    Image shown() {
        return shown;
    }

    boolean isEmpty() {
        return front.isEmpty() && back.isEmpty() && between.isEmpty();
    }

    void add(long decides, long shows, long place) {
        if (drawer != null && back.size() >= 2 * page) {
            putAway(drawer);
        }
        back.add(decides, shows, place);
    }

    /** What decides of the last row. */
    long last() {
        Part part = end();
        return part.decides[part.end - 1];
    }

    void removeLast() {
        end().end--;
    }

    /** How many rows came before the first. */
    long firstPlace() {
        Part part = start();
        return part.places[part.first];
    }

    /** What is shown of the first row. */
    long first() {
        Part part = start();
        return part.shows[part.first];
    }

    void removeFirst() {
        start().first++;
    }

    /** The part that the first row stands in. */
    private Part start() {
        if (front.isEmpty()) {
            if (between.isEmpty()) {
                Part empty = front;
                front = back;
                back = empty;
            } else {
                fetch(between.removeFirst(), front);
            }
        }
        return front;
    }

    /** The part that the last row stands in. */
    private Part end() {
        if (!back.isEmpty()) {
            return back;
        }
        if (between.isEmpty()) {
            return front;
        }
        fetch(between.removeLast(), back);
        return back;
    }

    /** Half of the rows at the end go to the drawer. */
    private void putAway(Drawer drawer) {
        int from = back.first;
        int to = from + page;
        Column[] rows = {
            deciding.column(Arrays.copyOfRange(back.decides, from, to), page, null),
            shown.column(Arrays.copyOfRange(back.shows, from, to), page, null),
            new LongColumn(Type.INTEGER, Arrays.copyOfRange(back.places, from, to), page, null)
        };
        between.add(drawer.put(rows, page));
        back.first = to;
    }

    private void fetch(int number, Part part) {
        Column[] rows = Objects.requireNonNull(drawer).get(number);
        part.decides = deciding.of(rows[0].flat()).clone();
        part.shows = shown.of(rows[1].flat()).clone();
        part.places = ((LongColumn) rows[2].flat()).values().clone();
        part.first = 0;
        part.end = part.places.length;
    }

    /** Forgets the texts of rows that are not held here. */
    void forget() {
        Image decides = new Image(deciding.type());
        Image shows = new Image(shown.type());
        for (Part part : new Part[] {front, back}) {
            for (int i = part.first; i < part.end; i++) {
                part.decides[i] = decides.take(deciding, part.decides[i]);
                part.shows[i] = shows.take(shown, part.shows[i]);
            }
        }
        deciding = decides;
        shown = shows;
    }
}
