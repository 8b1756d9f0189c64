package org.gantrel.service.change;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Instant;

/** One line of the audit record: who did what to what, and when. Lines are only ever added. */
@Entity
final class ChangeRecord {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private Instant at;
    private String person;
    private String deed;
    private String kind;
    private String name;
    private String team;
    private String detail;

    protected ChangeRecord() {}

    ChangeRecord(Instant at, String person, String deed, String kind, String name, String team, String detail) {
        this.at = at;
        this.person = person;
        this.deed = deed;
        this.kind = kind;
        this.name = name;
        this.team = team;
        this.detail = detail;
    }

    Long id() {
        return id;
    }

    ChangeView view() {
        return new ChangeView(id, at, person, deed, kind, name, team, detail);
    }
}
