package org.gantrel.service.telling;

import jakarta.persistence.Entity;
import jakarta.persistence.Table;
import java.time.Instant;
import org.gantrel.service.change.Revision;

/** What a rule, duty list or channel was defined as from one change to the next. */
@Entity
@Table(name = "telling_revision")
final class TellingRevision extends Revision {

    private Long tellingId;

    protected TellingRevision() {}

    TellingRevision(TellingRecord telling, String definition, String madeBy, Instant madeAt) {
        super(telling.revision(), definition, madeBy, madeAt);
        this.tellingId = telling.id();
    }
}
