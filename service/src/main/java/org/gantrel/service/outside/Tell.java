package org.gantrel.service.outside;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import org.springframework.data.domain.Persistable;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** What was told of a run whose work others do. */
@Entity
@Table(name = "outside_tell")
final class Tell implements Persistable<Long> {

    private static final JsonMapper JSON = JsonMapper.shared();

    @Id
    private Long runNumber;

    private long jobId;
    private String toldBy;
    private String tellKey;
    private Instant beganAt;
    private Instant endedAt;
    private Integer exitCode;
    private String state = "";
    private String message = "";
    private String results = "{}";

    protected Tell() {}

    Tell(long run, long job, String by, String key, Instant now) {
        this.runNumber = run;
        this.jobId = job;
        this.toldBy = by;
        this.tellKey = key;
        this.beganAt = now;
    }

    void end(Optional<Integer> code, String how, String said, Map<String, String> gave, Instant now) {
        endedAt = now;
        exitCode = code.orElse(null);
        state = how;
        message = said;
        results = JSON.writeValueAsString(gave);
    }

    long run() {
        return runNumber;
    }

    /** What makes the start one and the same when it is told twice; empty where nothing does. */
    String key() {
        return tellKey;
    }

    boolean isOver() {
        return endedAt != null;
    }

    Optional<Integer> exitCode() {
        return Optional.ofNullable(exitCode);
    }

    String state() {
        return state;
    }

    String message() {
        return message;
    }

    Map<String, String> results() {
        return JSON.readValue(results, new TypeReference<Map<String, String>>() {});
    }

    @Override
    public Long getId() {
        return runNumber;
    }

    @Override
    public boolean isNew() {
        return endedAt == null;
    }
}
