package org.gantrel.service.chain;

import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.util.Optional;
import org.gantrel.core.chain.StepNow;
import org.gantrel.core.chain.StepNow.Place;
import org.gantrel.core.run.RunState;

/** What became of a step of a chain's run. */
@Entity
@Table(name = "chain_step")
public class StepRecord {

    private static final int LONGEST = 2_000;

    @Id
    @GeneratedValue(strategy = GenerationType.IDENTITY)
    private Long id;

    private Long runNumber;
    private String step;

    @Enumerated(EnumType.STRING)
    private Place place = Place.PENDING;

    @Enumerated(EnumType.STRING)
    private RunState state = RunState.WAITING;

    private int turn;
    private int round = 1;
    private Long child;
    private Instant beganAt;
    private Instant turnedAt;
    private Instant endedAt;
    private Instant untilAt;
    private String message = "";
    private String person = "";
    private String meeting = "";
    private String matched = "";
    private boolean failedRows;

    protected StepRecord() {}

    StepRecord(long runNumber, String step) {
        this.runNumber = runNumber;
        this.step = step;
    }

    /** It begins, in a round. */
    public void begin(int inRound, Instant now) {
        place = Place.UNDER_WAY;
        state = RunState.RUNNING;
        round = inRound;
        beganAt = now;
        turnedAt = now;
        endedAt = null;
        untilAt = null;
        message = "";
        person = "";
        turn = 0;
        child = null;
    }

    /** A run of it begins; the next one where there was one before. */
    public void turn(long run, Instant now) {
        child = run;
        turn++;
        turnedAt = now;
        untilAt = null;
        failedRows = false;
    }

    /** It waits, at most until a time, and says for what. */
    public void await(Optional<Instant> until, String forWhat) {
        untilAt = until.orElse(null);
        message = cut(forWhat);
    }

    /** It waits no longer than until then, whatever was said before. */
    public void awaitAtMost(Instant latest) {
        if (untilAt != null && untilAt.isAfter(latest)) {
            untilAt = latest;
        }
    }

    /** It waits at a meeting. */
    public void meet(String name, String of) {
        meeting = name;
        matched = of.length() > 300 ? of.substring(0, 300) : of;
    }

    /** It ended. */
    public void end(RunState how, String why, Instant now) {
        place = Place.ENDED;
        state = how;
        endedAt = now;
        untilAt = null;
        message = cut(why);
        if (beganAt == null) {
            beganAt = now;
            turnedAt = now;
        }
    }

    /** It can no longer begin. */
    public void outOfReach(String why, Instant now) {
        place = Place.OUT_OF_REACH;
        state = RunState.SKIPPED;
        beganAt = null;
        turnedAt = null;
        endedAt = now;
        untilAt = null;
        message = cut(why);
    }

    /** Its time may come again. @param onlyFailedRows whether only those rows of its sweep are to run that ended badly */
    public void again(boolean onlyFailedRows) {
        place = Place.PENDING;
        state = RunState.WAITING;
        beganAt = null;
        turnedAt = null;
        endedAt = null;
        untilAt = null;
        message = "";
        person = "";
        meeting = "";
        matched = "";
        failedRows = onlyFailedRows;
    }

    /** It goes on where it was: the run of it does. */
    public void goOn(int inRound) {
        place = Place.UNDER_WAY;
        state = RunState.RUNNING;
        round = inRound;
        endedAt = null;
        message = "";
    }

    public void by(String who) {
        person = who;
    }

    private static String cut(String text) {
        return text.length() <= LONGEST ? text : text.substring(0, LONGEST - 3) + "...";
    }

    /** Where it is; nothing while its time has not come. */
    public Optional<StepNow> now() {
        return place == Place.PENDING ? Optional.empty() : Optional.of(new StepNow(place, state));
    }

    public boolean isUnderWay() {
        return place == Place.UNDER_WAY;
    }

    public long runNumber() {
        return runNumber;
    }

    public String step() {
        return step;
    }

    public Place place() {
        return place;
    }

    public RunState state() {
        return state;
    }

    public int turn() {
        return turn;
    }

    public int round() {
        return round;
    }

    public Optional<Long> child() {
        return Optional.ofNullable(child);
    }

    public Optional<Instant> beganAt() {
        return Optional.ofNullable(beganAt);
    }

    /** When its latest run began. */
    public Optional<Instant> turnedAt() {
        return Optional.ofNullable(turnedAt);
    }

    public Optional<Instant> endedAt() {
        return Optional.ofNullable(endedAt);
    }

    public Optional<Instant> untilAt() {
        return Optional.ofNullable(untilAt);
    }

    public String message() {
        return message;
    }

    public String person() {
        return person;
    }

    public String meeting() {
        return meeting;
    }

    public String matched() {
        return matched;
    }

    public boolean failedRows() {
        return failedRows;
    }
}
