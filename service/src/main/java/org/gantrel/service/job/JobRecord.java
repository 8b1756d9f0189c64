package org.gantrel.service.job;

import jakarta.persistence.Entity;
import jakarta.persistence.FetchType;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.Table;
import org.gantrel.core.job.Job;
import org.gantrel.service.team.Team;
import org.hibernate.annotations.DynamicUpdate;

/** A job as the service knows it; what it does stands in its revisions. */
@Entity
@DynamicUpdate
@Table(name = "job")
final class JobRecord {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private String name;

    @ManyToOne(fetch = FetchType.LAZY)
    private Team team;

    private String kind;
    private String about;
    private int revision;
    private boolean retired;

    protected JobRecord() {}

    JobRecord(String name) {
        this.name = name;
    }

    /** Takes on what a new revision says. */
    void revise(Job job, Team owner) {
        team = owner;
        kind = kind(job);
        about = job.about();
        revision++;
        retired = false;
    }

    static String kind(Job job) {
        return job instanceof Job.Chain ? "chain" : "task";
    }

    Long id() {
        return id;
    }

    String name() {
        return name;
    }

    Team team() {
        return team;
    }

    String kind() {
        return kind;
    }

    String about() {
        return about;
    }

    int revision() {
        return revision;
    }

    /** A retired job starts no more; its runs stay known. */
    boolean isRetired() {
        return retired;
    }

    void retire() {
        retired = true;
    }

    JobEntry value() {
        return new JobEntry(id, name, team.id(), team.name(), kind, about, revision, retired);
    }
}
