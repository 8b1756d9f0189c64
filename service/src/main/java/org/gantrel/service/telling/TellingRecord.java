package org.gantrel.service.telling;

import jakarta.persistence.Entity;
import jakarta.persistence.FetchType;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.Table;
import org.gantrel.service.team.Team;
import org.hibernate.annotations.DynamicUpdate;

/** A rule, duty list or channel: whose it is, and which revision of it counts. */
@Entity
@DynamicUpdate
@Table(name = "telling")
final class TellingRecord {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private String kind;
    private String name;

    @ManyToOne(fetch = FetchType.LAZY)
    private Team team;

    private int revision;
    private boolean retired;

    protected TellingRecord() {}

    TellingRecord(String kind, String name) {
        this.kind = kind;
        this.name = name;
    }

    void revise(Team owner) {
        team = owner;
        revision++;
        retired = false;
    }

    void retire() {
        retired = true;
    }

    Long id() {
        return id;
    }

    String kind() {
        return kind;
    }

    String name() {
        return name;
    }

    Team team() {
        return team;
    }

    int revision() {
        return revision;
    }

    boolean isRetired() {
        return retired;
    }
}
