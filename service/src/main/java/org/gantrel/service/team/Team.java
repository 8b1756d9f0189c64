package org.gantrel.service.team;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.job.Retention;
import org.hibernate.annotations.DynamicUpdate;

/** A team: it owns jobs, and people belong to it. */
@Entity
@DynamicUpdate
public class Team {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private String name;
    private String about;
    private String keepRuns = "";
    private String keepLogs = "";
    /** A full path a line. */
    private String folders = "";

    protected Team() {}

    Team(String name, String about) {
        this.name = name;
        this.about = about;
    }

    /** How long its jobs' runs and logs are kept, where the jobs say nothing themselves. */
    void keep(Retention retention) {
        keepRuns = retention.runs().map(Duration::toString).orElse("");
        keepLogs = retention.logs().map(Duration::toString).orElse("");
    }

    public Retention retention() {
        return new Retention(
                Optional.of(keepRuns).filter(text -> !text.isEmpty()).map(Duration::parse),
                Optional.of(keepLogs).filter(text -> !text.isEmpty()).map(Duration::parse));
    }

    /** Lists the folders that its jobs' work with files may use; none for all that their accounts may. */
    void allow(List<String> paths) {
        folders = String.join("\n", paths);
    }

    public List<String> folders() {
        return folders.lines().toList();
    }

    public Long id() {
        return id;
    }

    public String name() {
        return name;
    }

    public String about() {
        return about;
    }
}
