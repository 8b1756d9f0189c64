package org.gantrel.service.notification;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Duration;
import java.time.Instant;
import java.util.Locale;

/** A mail on its way: written in the transaction of what it tells of, sent afterwards, tried again when that fails. */
@Entity
@Table(name = "delivery")
final class DeliveryRecord {

    private static final int LONGEST_ERROR = 600;
    private static final int LONGEST_BODY = 20_000;
    private static final int MOST_TRIES = 12;
    private static final Duration FIRST_PAUSE = Duration.ofSeconds(10);
    private static final int MOST_DOUBLINGS = 8;

    /** How far it has come. */
    enum State {
        WAITING,
        SENT,
        FAILED
    }

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    /** The event that it tells of; none for mails of before there was a journal. */
    private Long eventPosition;

    private Long runNumber;
    private Long teamId;
    private String address;
    private String subject;
    private String body;

    @Enumerated(EnumType.STRING)
    private State state = State.WAITING;

    private int tries;
    private Instant madeAt;
    private Instant nextTryAt;
    private Instant sentAt;
    private String lastError = "";

    protected DeliveryRecord() {}

    DeliveryRecord(
            long eventPosition, long runNumber, long teamId, String address, String subject, String body, Instant now) {
        this.eventPosition = eventPosition;
        this.runNumber = runNumber;
        this.teamId = teamId;
        this.address = address;
        this.subject = subject;
        this.body = body.length() <= LONGEST_BODY ? body : body.substring(0, LONGEST_BODY);
        this.madeAt = now;
        this.nextTryAt = now;
    }

    void sent(Instant now) {
        tries++;
        state = State.SENT;
        sentAt = now;
        nextTryAt = null;
        lastError = "";
    }

    /** Plans the next try, each pause twice the one before, or gives up after the last. */
    void failed(String error, Instant now) {
        tries++;
        lastError = error.length() <= LONGEST_ERROR ? error : error.substring(0, LONGEST_ERROR);
        if (tries >= MOST_TRIES) {
            state = State.FAILED;
            nextTryAt = null;
        } else {
            nextTryAt = now.plus(FIRST_PAUSE.multipliedBy(1L << Math.min(tries - 1, MOST_DOUBLINGS)));
        }
    }

    boolean isWaiting() {
        return state == State.WAITING;
    }

    /** Nothing once it is sent or given up. */
    Instant nextTryAt() {
        return nextTryAt;
    }

    Long id() {
        return id;
    }

    String address() {
        return address;
    }

    String subject() {
        return subject;
    }

    String body() {
        return body;
    }

    Long teamId() {
        return teamId;
    }

    DeliveryView view(String team) {
        return new DeliveryView(
                id,
                runNumber,
                team,
                address,
                subject,
                state.name().toLowerCase(Locale.ROOT),
                tries,
                madeAt,
                nextTryAt,
                sentAt,
                lastError.isEmpty() ? null : lastError);
    }
}
