package org.gantrel.service.journal;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.PostLoad;
import jakarta.persistence.PostPersist;
import jakarta.persistence.Table;
import jakarta.persistence.Transient;
import java.time.Instant;
import java.util.Map;
import org.springframework.data.domain.Persistable;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** An event in the journal. It is written once and never changed. */
@Entity
@Table(name = "event")
final class EventRecord implements Persistable<Long> {

    private static final JsonMapper JSON = JsonMapper.shared();

    @Id
    private Long position;

    private String type;
    private Instant at;
    private Long runNumber;
    private String team;
    private String about;

    @Transient
    private boolean written;

    protected EventRecord() {}

    EventRecord(long position, String type, Instant at, Long run, String team, Map<String, Object> about) {
        this.position = position;
        this.type = type;
        this.at = at;
        this.runNumber = run;
        this.team = team;
        this.about = JSON.writeValueAsString(about);
    }

    Event value() {
        return new Event(
                position,
                type,
                at,
                runNumber,
                team,
                JSON.readValue(about, new TypeReference<Map<String, Object>>() {}));
    }

    @Override
    public Long getId() {
        return position;
    }

    @Override
    public boolean isNew() {
        return !written;
    }

    @PostLoad
    @PostPersist
    void isWritten() {
        written = true;
    }
}
