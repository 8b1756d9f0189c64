package org.gantrel.service.team;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;

/** A team: it owns jobs, and people belong to it. */
@Entity
public class Team {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private String name;
    private String about;

    protected Team() {}

    Team(String name, String about) {
        this.name = name;
        this.about = about;
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
