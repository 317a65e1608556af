package dev.fiesta.moved;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.fiesta.moved.Decomposition.Group;
import dev.fiesta.moved.Decomposition.Pair;
import dev.fiesta.moved.Decomposition.Part;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

/** Parts add up to the whole, to the last digit, whatever the groups are. */
class DecompositionTest {
    private static Fraction of(String number) {
        return Fraction.of(new BigDecimal(number));
    }

    private static Pair pair(String above, String base) {
        return new Pair(of(above), of(base));
    }

    private static Fraction sum(List<Fraction> all) {
        return all.stream().reduce(Fraction.ZERO, Fraction::plus);
    }

    /** With groups that are on one side only, negative values, and bases of zero. */
    private static List<Group> groups(SplittableRandom random) {
        List<Group> groups = new ArrayList<>();
        for (int i = random.nextInt(1, 9); i > 0; i--) {
            Pair[] sides = new Pair[2];
            for (int side = 0; side < 2; side++) {
                int base = random.nextInt(5) == 0 ? 0 : random.nextInt(-3, 40);
                String above =
                        BigDecimal.valueOf(random.nextInt(-90_000, 900_000), 2).toPlainString();
                sides[side] = random.nextInt(6) == 0 ? null : pair(above, Integer.toString(base));
            }
            groups.add(new Group(sides[0], sides[1]));
        }
        return groups;
    }

    @Test
    void partsAddUp() {
        int told = 0;
        for (long seed = 0; seed < 3_000; seed++) {
            List<Group> groups = groups(new SplittableRandom(seed));
            Decomposition sums = Decomposition.ofSum(groups);
            check(seed, sums);
            try {
                check(seed, Decomposition.ofRatio(groups));
                told++;
            } catch (ArithmeticException e) {
                assertThat(e).hasMessage("nothing is divided by 0");
            }
        }
        assertThat(told).isGreaterThan(2_000);
    }

    private static void check(long seed, Decomposition all) {
        Fraction moved = all.after().minus(all.before());
        List<Fraction> wholes = all.parts().stream().map(Part::whole).toList();
        assertThat(sum(wholes)).as("seed " + seed).isEqualTo(moved);
        for (int digits : new int[] {0, 2, 12}) {
            List<BigDecimal> written = Decomposition.written(wholes, digits);
            assertThat(written.stream().reduce(BigDecimal.ZERO, BigDecimal::add))
                    .as("seed " + seed)
                    .isEqualByComparingTo(moved.rounded(digits, RoundingMode.HALF_EVEN));
            for (int i = 0; i < written.size(); i++) {
                Fraction error = Fraction.of(written.get(i)).minus(wholes.get(i));
                BigDecimal unit = BigDecimal.ONE.movePointLeft(digits);
                assertThat(error.rounded(digits + 6, RoundingMode.HALF_EVEN).abs())
                        .as("seed " + seed)
                        .isLessThanOrEqualTo(unit);
            }
        }
    }

    /** Where every value has a base, records and values, or mix and level, make the part. */
    @Test
    void bothSidesOfAPartMakeIt() {
        for (long seed = 0; seed < 1_000; seed++) {
            SplittableRandom random = new SplittableRandom(seed);
            List<Group> groups = new ArrayList<>();
            for (int i = random.nextInt(1, 6); i > 0; i--) {
                groups.add(new Group(
                        pair("" + random.nextInt(-50, 500), "" + random.nextInt(1, 9)),
                        random.nextInt(4) == 0
                                ? null
                                : pair("" + random.nextInt(-50, 500), "" + random.nextInt(1, 9))));
            }
            for (Part part : Decomposition.ofSum(groups).parts()) {
                assertThat(part.amount().plus(part.level())).isEqualTo(part.whole());
            }
        }
    }

    @Test
    void knownMovesAreTold() {
        // twice as many records of the same height, and the same number twice as high
        List<Part> parts = Decomposition.ofSum(List.of(
                        new Group(pair("100", "10"), pair("200", "20")),
                        new Group(pair("100", "10"), pair("200", "10")),
                        new Group(null, pair("30", "3"))))
                .parts();
        assertThat(parts.get(0).amount()).isEqualTo(of("100"));
        assertThat(parts.get(0).level()).isEqualTo(Fraction.ZERO);
        assertThat(parts.get(1).amount()).isEqualTo(Fraction.ZERO);
        assertThat(parts.get(1).level()).isEqualTo(of("100"));
        assertThat(parts.get(2).amount())
                .as("its mean is taken to be the other side's")
                .isEqualTo(of("30"));
        assertThat(parts.get(2).before()).isEqualTo(Fraction.ZERO);

        // both kinds keep their means of 10 and 20, and the dear kind sells more: all of the move is mix
        Decomposition mix = Decomposition.ofRatio(List.of(
                new Group(pair("100", "10"), pair("100", "10")), new Group(pair("200", "10"), pair("600", "30"))));
        assertThat(mix.before()).isEqualTo(of("15"));
        assertThat(mix.after()).isEqualTo(of("17.5"));
        assertThat(mix.parts()).allSatisfy(p -> assertThat(p.level()).isEqualTo(Fraction.ZERO));
        assertThat(sum(mix.parts().stream().map(Part::amount).toList())).isEqualTo(of("2.5"));

        // something without a base moves the whole by its own height
        Decomposition odd = Decomposition.ofRatio(
                List.of(new Group(pair("100", "10"), pair("100", "10")), new Group(null, pair("5", "0"))));
        assertThat(odd.parts().get(1).level()).isEqualTo(of("0.5"));
        assertThat(odd.parts().get(1).after()).isNull();
        assertThatThrownBy(() -> Decomposition.ofRatio(List.of(new Group(pair("1", "0"), pair("1", "1")))))
                .isInstanceOf(ArithmeticException.class);
    }

    @Test
    void fractionsAreExact() {
        assertThat(Fraction.of(0.1)).isNotEqualTo(of("0.1"));
        assertThat(Fraction.of(3L).over(of("-1.5"))).isEqualTo(of("-2"));
        assertThat(of("0.5").half().rounded(1, RoundingMode.HALF_EVEN)).isEqualTo("0.2");
        assertThat(of("-0.3")).isLessThan(of("-0.2"));
        assertThat(Fraction.of(new BigDecimal("1e3"))).isEqualTo(of("1000"));
    }
}
