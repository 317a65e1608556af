package dev.fiesta.member;

import dev.fiesta.problem.Notices;
import dev.fiesta.source.Source;
import dev.fiesta.value.Schema;

/** An input of which a member knows the fields only: others read it. */
record FieldsOnly(Schema schema) implements Source {
    @Override
    public Scan scan(Notices notices) {
        throw new UnsupportedOperationException("this input is read by the one who asks");
    }
}
