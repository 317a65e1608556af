package dev.fiesta.task;

import dev.fiesta.problem.Notices;
import dev.fiesta.source.Source;
import dev.fiesta.value.Schema;

/** An input of which members know the fields only: it is read where it was asked. */
public record FieldsOnly(Schema schema) implements Source {
    @Override
    public Scan scan(Notices notices) {
        throw new UnsupportedOperationException("this input is read by the one who asks");
    }
}
