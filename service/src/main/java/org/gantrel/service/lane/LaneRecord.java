package org.gantrel.service.lane;

import jakarta.persistence.Entity;
import jakarta.persistence.FetchType;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.Table;
import org.gantrel.core.lane.Lane;
import org.gantrel.service.team.Team;
import org.hibernate.annotations.DynamicUpdate;

/** A lane: whose it is, how wide it is now, and whether it is closed. */
@Entity
@DynamicUpdate
@Table(name = "lane")
final class LaneRecord {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private String name;

    @ManyToOne(fetch = FetchType.LAZY)
    private Team team;

    private String about;
    private int revision;
    private boolean retired;
    private int width;
    private String shutBy = "";
    private String shutWhy = "";

    protected LaneRecord() {}

    LaneRecord(String name) {
        this.name = name;
    }

    /** Takes on a definition; its width counts from now on, whatever was set by hand. */
    void revise(Lane lane, Team owner) {
        team = owner;
        about = lane.about();
        width = lane.width();
        revision++;
        retired = false;
    }

    void widen(int to) {
        width = to;
    }

    void shut(String by, String why) {
        shutBy = by;
        shutWhy = why;
    }

    void open() {
        shutBy = "";
        shutWhy = "";
    }

    void retire() {
        retired = true;
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

    String about() {
        return about;
    }

    int revision() {
        return revision;
    }

    int width() {
        return width;
    }

    String shutBy() {
        return shutBy;
    }

    String shutWhy() {
        return shutWhy;
    }

    boolean isShut() {
        return !shutBy.isEmpty();
    }
}
