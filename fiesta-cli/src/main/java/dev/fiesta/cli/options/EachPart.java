package dev.fiesta.cli.options;

import dev.fiesta.Brief;
import dev.fiesta.Fiesta;
import dev.fiesta.problem.RequestException;
import java.util.List;

/** A brief once for each value of a parameter. */
public final class EachPart {
    private final Brief brief;
    private final String parameter;
    private final List<String> told;

    /** @param told the values; when there are none, those of the field of the parameter's name in the first input that has it */
    public EachPart(Brief brief, String parameter, List<String> told) {
        this.brief = brief;
        this.parameter = parameter;
        this.told = told;
    }

    public List<Brief> briefs(Fiesta fiesta) {
        List<String> values = told.isEmpty() ? brief.valuesOf(parameter, fiesta) : told;
        if (values.isEmpty()) {
            throw new RequestException("There is no value of '" + parameter + "' to run the brief for.");
        }
        return values.stream().map(v -> brief.set(parameter, v)).toList();
    }
}
