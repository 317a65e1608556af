package dev.fiesta.brief;

import dev.fiesta.problem.FiestaException;
import dev.fiesta.problem.Notices;
import dev.fiesta.source.Source;
import dev.fiesta.step.InputTexts;
import dev.fiesta.value.Batch;
import dev.fiesta.value.Column;
import java.util.ArrayList;
import java.util.List;

/** The first texts of an input's fields; they are read when somebody asks, which is when a mistake is explained. */
public final class FirstTexts implements InputTexts.Samples {
    private static final int MOST = 200;

    private final Source source;

    public FirstTexts(Source source) {
        this.source = source;
    }

    @Override
    public List<String> of(int place) {
        List<String> texts = new ArrayList<>();
        try (Source.Scan scan = source.scan(new Notices())) {
            Batch first = scan.reader(new Notices()).next();
            scan.stop(0);
            if (first != null) {
                Column column = first.column(place);
                for (int i = 0; i < Math.min(MOST, first.size()); i++) {
                    if (column.get(i) instanceof String text && !text.isBlank()) {
                        texts.add(text.strip());
                    }
                }
            }
        } catch (FiestaException | Source.Widened e) {
            return List.of(); // the mistake that is being explained is told all the same
        }
        return texts;
    }
}
