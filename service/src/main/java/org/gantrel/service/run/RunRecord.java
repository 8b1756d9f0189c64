package org.gantrel.service.run;

import jakarta.persistence.Convert;
import jakarta.persistence.Entity;
import jakarta.persistence.EnumType;
import jakarta.persistence.Enumerated;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.SearchWords;
import org.gantrel.service.job.JobRecord;

/** One execution of a job. Its setters are its moves: created, begun, asked to stop, ended. */
@Entity
@Table(name = "run")
public final class RunRecord {

    private static final int LONGEST_MESSAGE = 2_000;

    /** Why a run is being stopped. */
    public enum Stopping {
        NO,
        CANCEL,
        LIMIT
    }

    @Id
    private Long number;

    private Long jobId;
    private String jobName;
    private Long teamId;
    private String kind;
    private int revision;

    @Enumerated(EnumType.STRING)
    private RunState state = RunState.WAITING;

    @Enumerated(EnumType.STRING)
    private CauseKind cause;

    private String causeRef;
    private String starter;
    private Instant plannedAt;
    private String zone;
    private Instant queuedAt;
    private Instant startedAt;
    private Instant finishedAt;
    private String actsAs = "";
    private int attempt = 1;
    private Integer exitCode;
    private String message = "";
    private String waitingFor = "";
    private Long parent;
    private String step;

    @Convert(converter = ValuesColumn.class)
    private Map<String, String> parameters;

    private String sealed;

    @Convert(converter = ValuesColumn.class)
    private Map<String, String> results = Map.of();

    @Enumerated(EnumType.STRING)
    private Stopping stopping = Stopping.NO;

    private String stoppedBy = "";
    private String takenBy = "";

    protected RunRecord() {}

    RunRecord(long number, NewRun from, Map<String, String> shown, String sealed, Instant now) {
        this.number = number;
        JobRecord job = from.job();
        this.jobId = job.id();
        this.jobName = job.name();
        this.teamId = job.team().id();
        this.kind = from.over().isPresent() ? "sweep" : job.kind();
        this.revision = job.revision();
        this.cause = from.cause();
        this.causeRef = from.causeRef();
        this.starter = from.starter();
        this.plannedAt = from.planned().at();
        this.zone = from.planned().zone().getId();
        this.queuedAt = now;
        this.parent = from.parent().orElse(null);
        // a null parent leaves the pair of parent and step free to repeat
        this.step = from.step();
        this.parameters = shown;
        this.sealed = sealed;
    }

    /** The words that it can be found by, as far as is known of it yet. */
    Set<String> words() {
        return SearchWords.of(
                number + " " + jobName + " " + starter + " " + message + " " + String.join(" ", parameters.values()));
    }

    void waitFor(String what) {
        waitingFor = what;
    }

    void begin(String identity, Instant now) {
        state = RunState.RUNNING;
        waitingFor = "";
        actsAs = identity;
        startedAt = now;
    }

    void askToStop(Stopping why, String by) {
        stopping = why;
        stoppedBy = by;
    }

    void end(Ending ending, Integer code, Instant now) {
        state = ending.state();
        waitingFor = "";
        message = cut(ending.message(), LONGEST_MESSAGE);
        exitCode = code;
        finishedAt = startedAt != null && now.isBefore(startedAt) ? startedAt : now;
    }

    void keepResults(Map<String, String> given) {
        results = given;
    }

    void takeCharge(String person) {
        takenBy = person;
    }

    public Long number() {
        return number;
    }

    public Long jobId() {
        return jobId;
    }

    public String jobName() {
        return jobName;
    }

    public Long teamId() {
        return teamId;
    }

    public boolean isChain() {
        return kind.equals("chain");
    }

    /** Whether it runs a job over a roster. */
    public boolean isSweep() {
        return kind.equals("sweep");
    }

    public String kind() {
        return kind;
    }

    public int revision() {
        return revision;
    }

    public RunState state() {
        return state;
    }

    public CauseKind cause() {
        return cause;
    }

    public String causeRef() {
        return causeRef;
    }

    public String starter() {
        return starter;
    }

    public Instant plannedAt() {
        return plannedAt;
    }

    public PlannedTime planned() {
        return new PlannedTime(plannedAt, ZoneId.of(zone));
    }

    public Instant queuedAt() {
        return queuedAt;
    }

    public Optional<Instant> startedAt() {
        return Optional.ofNullable(startedAt);
    }

    public Optional<Instant> finishedAt() {
        return Optional.ofNullable(finishedAt);
    }

    /** How long it took; nothing before it ended, or where it never began. */
    public Optional<Duration> took() {
        return startedAt == null || finishedAt == null
                ? Optional.empty()
                : Optional.of(Duration.between(startedAt, finishedAt));
    }

    public String actsAs() {
        return actsAs;
    }

    public int attempt() {
        return attempt;
    }

    public Optional<Integer> exitCode() {
        return Optional.ofNullable(exitCode);
    }

    public String message() {
        return message;
    }

    public String waitingFor() {
        return waitingFor;
    }

    public Optional<Long> parent() {
        return Optional.ofNullable(parent);
    }

    public String step() {
        return step;
    }

    /** The values as they may be shown: secrets are masked. */
    public Map<String, String> parameters() {
        return parameters;
    }

    /** The values that it gave. */
    public Map<String, String> results() {
        return results;
    }

    /** The same secrets under another key. */
    void seal(String again) {
        sealed = again;
    }

    String sealed() {
        return sealed;
    }

    public Stopping stopping() {
        return stopping;
    }

    public String stoppedBy() {
        return stoppedBy;
    }

    public String takenBy() {
        return takenBy;
    }

    private static String cut(String text, int longest) {
        return text.length() <= longest ? text : text.substring(0, longest - 3) + "...";
    }
}
