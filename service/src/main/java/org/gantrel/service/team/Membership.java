package org.gantrel.service.team;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.FetchType;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import org.gantrel.core.access.Role;

/** What a person is in a team. */
@Entity
final class Membership {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    @ManyToOne(fetch = FetchType.LAZY)
    private Person person;

    @ManyToOne(fetch = FetchType.LAZY)
    private Team team;

    @Enumerated(EnumType.STRING)
    private Role role;

    protected Membership() {}

    Membership(Person person, Team team, Role role) {
        this.person = person;
        this.team = team;
        this.role = role;
    }

    Person person() {
        return person;
    }

    Team team() {
        return team;
    }

    Role role() {
        return role;
    }

    void setRole(Role role) {
        this.role = role;
    }
}
