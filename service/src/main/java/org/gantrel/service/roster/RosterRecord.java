package org.gantrel.service.roster;

import jakarta.persistence.Entity;
import jakarta.persistence.FetchType;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.Table;
import org.gantrel.core.roster.Roster;
import org.gantrel.service.team.Team;
import org.hibernate.annotations.DynamicUpdate;

/** A roster: whose it is, and which revision is its latest. */
@Entity
@DynamicUpdate
@Table(name = "roster")
public final class RosterRecord {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private String name;

    @ManyToOne(fetch = FetchType.LAZY)
    private Team team;

    private String about;
    private int revision;
    private int rowsRevision;
    private String rowsBy = "";
    private boolean retired;

    protected RosterRecord() {}

    RosterRecord(String name) {
        this.name = name;
    }

    void revise(Roster roster, Team owner) {
        team = owner;
        about = roster.about();
        revision++;
        retired = false;
    }

    void retire() {
        retired = true;
    }

    public Long id() {
        return id;
    }

    public String name() {
        return name;
    }

    public Team team() {
        return team;
    }

    String about() {
        return about;
    }

    int revision() {
        return revision;
    }

    void changeRows(String by) {
        rowsRevision++;
        rowsBy = by;
    }

    /** How often its rows were changed. */
    int rowsRevision() {
        return rowsRevision;
    }

    /** Who changed its rows last. */
    String rowsBy() {
        return rowsBy;
    }

    public boolean isRetired() {
        return retired;
    }
}
