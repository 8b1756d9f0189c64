package org.gantrel.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;

/** The one row that says which start of a service moves runs. */
@Entity
@Table(name = "lease")
final class LeaseRecord {

    static final int ONLY = 1;

    @Id
    private Integer id;

    private long epoch;

    protected LeaseRecord() {}

    long take() {
        return ++epoch;
    }
}
