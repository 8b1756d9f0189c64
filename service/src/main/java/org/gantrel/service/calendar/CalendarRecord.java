package org.gantrel.service.calendar;

import jakarta.persistence.Entity;
import jakarta.persistence.FetchType;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.Table;
import org.gantrel.core.calendar.Calendar;
import org.gantrel.service.team.Team;
import org.hibernate.annotations.DynamicUpdate;

/** A calendar: whose it is, and which revision is its latest. */
@Entity
@DynamicUpdate
@Table(name = "calendar")
final class CalendarRecord {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private String name;

    @ManyToOne(fetch = FetchType.LAZY)
    private Team team;

    private String about;
    private int revision;
    private boolean retired;

    protected CalendarRecord() {}

    CalendarRecord(String name) {
        this.name = name;
    }

    void revise(Calendar calendar, Team owner) {
        team = owner;
        about = calendar.about();
        revision++;
        retired = false;
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

    boolean isRetired() {
        return retired;
    }
}
