package org.gantrel.service.notification;

import jakarta.persistence.CascadeType;
import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.FetchType;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.ManyToOne;
import jakarta.persistence.Table;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.hibernate.annotations.DynamicUpdate;

/** A message on its way: written in the transaction of what it tells of, sent afterwards, tried again when that fails. */
@Entity
// several write at the same time, each something else
@DynamicUpdate
@Table(name = "delivery")
final class DeliveryRecord {

    private static final int LONGEST_ERROR = 600;
    private static final int LONGEST_SUBJECT = 300;
    private static final int MOST_TRIES = 12;
    private static final Duration FIRST_PAUSE = Duration.ofSeconds(10);
    private static final int MOST_DOUBLINGS = 8;
    /** What has been tried for so long is told together with the rest when it can be told again. */
    private static final Duration STALE = Duration.ofMinutes(10);

    /** How far it has come. */
    enum State {
        WAITING,
        SENT,
        FAILED,
        /** It went out as part of another. */
        GATHERED
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

    @ManyToOne(fetch = FetchType.LAZY, cascade = CascadeType.PERSIST)
    private DeliveryText text;

    @Enumerated(EnumType.STRING)
    private State state = State.WAITING;

    private int tries;
    private Instant madeAt;
    private Instant nextTryAt;
    private Instant sentAt;
    private String lastError = "";
    private String channel = Message.MAIL;
    private String kind = "first";
    private String rule = "";
    private String person = "";
    private Long faultId;
    private boolean held;
    private Long gatheredInto;
    private boolean seen;
    private String attach = "";

    protected DeliveryRecord() {}

    /**
     * @param release when it may go out
     * @param position of the event that it tells of; nothing where time alone has brought it up
     */
    DeliveryRecord(Optional<Long> position, Message message, Instant now, Instant release) {
        this(position, message, new DeliveryText(message.text(), message.html()), now, release);
    }

    /** @param text what the message says, where it shares that with others */
    DeliveryRecord(Optional<Long> position, Message message, DeliveryText text, Instant now, Instant release) {
        this.eventPosition = position.orElse(null);
        this.runNumber = message.run().orElse(null);
        this.teamId = message.team();
        this.address = message.address();
        this.subject = cut(message.subject(), LONGEST_SUBJECT);
        this.text = text;
        this.attach = String.join("\n", message.attach());
        this.channel = message.channel();
        this.kind = message.kind();
        this.rule = message.rule();
        this.person = message.person();
        this.faultId = message.fault().orElse(null);
        this.madeAt = now;
        this.nextTryAt = release;
        this.held = release.isAfter(now);
    }

    private static String cut(String text, int most) {
        return text.length() <= most ? text : text.substring(0, most);
    }

    /** Has it go together with others that are due at the same place. */
    void hold(Instant until) {
        held = true;
        nextTryAt = until;
    }

    /** It is shown to its person by the console, and goes nowhere. @param already whether it counts as seen */
    DeliveryRecord shown(Instant now, boolean already) {
        state = State.SENT;
        seen = already;
        sentAt = now;
        nextTryAt = null;
        return this;
    }

    void gathered(long into, Instant now) {
        state = State.GATHERED;
        gatheredInto = into;
        sentAt = now;
        nextTryAt = null;
    }

    /** Plans the next try, each pause twice the one before, or gives up after the last. */
    void failed(String error, Instant now) {
        tries++;
        lastError = cut(error, LONGEST_ERROR);
        if (tries >= MOST_TRIES) {
            state = State.FAILED;
            nextTryAt = null;
        } else {
            nextTryAt = now.plus(FIRST_PAUSE.multipliedBy(1L << Math.min(tries - 1, MOST_DOUBLINGS)));
        }
    }

    /** Tries it again now, from the first try on. */
    void again(Instant now) {
        state = State.WAITING;
        tries = 0;
        held = false;
        nextTryAt = now;
    }

    void giveUp(String by) {
        state = State.FAILED;
        nextTryAt = null;
        lastError = cut("given up by " + by + (lastError.isEmpty() ? "" : "; " + lastError), LONGEST_ERROR);
    }

    void seen() {
        seen = true;
    }

    boolean isWaiting() {
        return state == State.WAITING;
    }

    /** Whether it goes together with others that are due at the same place. */
    boolean gathers(Instant now) {
        return held || tries > 0 && madeAt.plus(STALE).isBefore(now);
    }

    /** Nothing once it is sent or given up. */
    Instant nextTryAt() {
        return nextTryAt;
    }

    Long id() {
        return id;
    }

    Optional<Long> eventPosition() {
        return Optional.ofNullable(eventPosition);
    }

    Optional<Long> run() {
        return Optional.ofNullable(runNumber);
    }

    String address() {
        return address;
    }

    String subject() {
        return subject;
    }

    String body() {
        return text.body();
    }

    /** Empty where there is plain text alone. */
    String html() {
        return text.html();
    }

    /** Which outputs of the run go along, by names or patterns. */
    List<String> attach() {
        return attach.lines().toList();
    }

    String channel() {
        return channel;
    }

    String kind() {
        return kind;
    }

    String rule() {
        return rule;
    }

    String person() {
        return person;
    }

    Optional<Long> fault() {
        return Optional.ofNullable(faultId);
    }

    Long teamId() {
        return teamId;
    }

    /** Whose it is; 0 for the installation. */
    long teamOrNone() {
        return teamId == null ? 0 : teamId;
    }

    Instant madeAt() {
        return madeAt;
    }

    boolean isSeen() {
        return seen;
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
                lastError.isEmpty() ? null : lastError,
                channel,
                kind,
                rule.isEmpty() ? null : rule,
                person.isEmpty() ? null : person,
                faultId,
                gatheredInto,
                eventPosition);
    }
}
