package org.gantrel.service.team;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** An account of a person. */
@Entity
@DynamicUpdate
public class Person {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private String name;
    private String fullName;
    private String passwordHash;
    private boolean administrator;
    private boolean shut;
    private Instant madeAt;

    protected Person() {}

    Person(String name, String fullName, String passwordHash, boolean administrator, Instant madeAt) {
        this.name = name;
        this.fullName = fullName;
        this.passwordHash = passwordHash;
        this.administrator = administrator;
        this.madeAt = madeAt;
    }

    public Long id() {
        return id;
    }

    public String name() {
        return name;
    }

    public String fullName() {
        return fullName;
    }

    public String passwordHash() {
        return passwordHash;
    }

    public boolean isAdministrator() {
        return administrator;
    }

    /** A shut account can do nothing; what it did stays known. */
    public boolean isShut() {
        return shut;
    }

    void setShut(boolean shut) {
        this.shut = shut;
    }

    void setPasswordHash(String passwordHash) {
        this.passwordHash = passwordHash;
    }
}
