package org.gantrel.service.credential;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.FetchType;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.Table;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.service.team.Team;
import org.hibernate.annotations.DynamicUpdate;

/** An identity as it is kept: its secret part is sealed. */
@Entity
@DynamicUpdate
@Table(name = "credential")
final class CredentialRecord {

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private String name;

    @ManyToOne(fetch = FetchType.LAZY)
    private Team team;

    @Enumerated(EnumType.STRING)
    private CredentialKind kind;

    private String about;
    private String facts;
    private String sealed = "";
    private LocalDate expiresOn;
    private String forTeams;
    private String forJobs;
    private int revision;
    private String changedBy;
    private Instant rotatedAt;
    private Instant usedAt;

    protected CredentialRecord() {}

    CredentialRecord(String name) {
        this.name = name;
    }

    void revise(Team owner, CredentialKind what, String purpose, String shown, String by) {
        team = owner;
        kind = what;
        about = purpose;
        facts = shown;
        changedBy = by;
        revision++;
    }

    void allow(List<String> teams, List<String> jobs, LocalDate until) {
        forTeams = String.join(",", teams);
        forJobs = String.join(",", jobs);
        expiresOn = until;
    }

    void keep(String sealedText, String by, Instant now) {
        sealed = sealedText;
        changedBy = by;
        rotatedAt = now;
    }

    /** The same secret under another key. */
    void seal(String again) {
        sealed = again;
    }

    void used(Instant now) {
        usedAt = now;
    }

    String name() {
        return name;
    }

    Team team() {
        return team;
    }

    CredentialKind kind() {
        return kind;
    }

    String about() {
        return about;
    }

    String facts() {
        return facts;
    }

    String sealed() {
        return sealed;
    }

    Optional<LocalDate> expiresOn() {
        return Optional.ofNullable(expiresOn);
    }

    List<String> forTeams() {
        return split(forTeams);
    }

    List<String> forJobs() {
        return split(forJobs);
    }

    int revision() {
        return revision;
    }

    String changedBy() {
        return changedBy;
    }

    Instant rotatedAt() {
        return rotatedAt;
    }

    Optional<Instant> usedAt() {
        return Optional.ofNullable(usedAt);
    }

    /** Whether a job of a team may act as it. */
    boolean isFor(String ofTeam) {
        return team.name().equals(ofTeam) || forTeams().contains(ofTeam);
    }

    boolean isFor(String ofTeam, String job) {
        return isFor(ofTeam) && (forJobs.isEmpty() || forJobs().contains(job));
    }

    private static List<String> split(String text) {
        return text.isEmpty() ? List.of() : Arrays.asList(text.split(","));
    }
}
