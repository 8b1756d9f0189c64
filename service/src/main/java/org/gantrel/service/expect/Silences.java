package org.gantrel.service.expect;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.gantrel.core.event.EventType;
import org.gantrel.service.change.Changes;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** What is silent, and the events that tell of it: each silence is told of when it begins and when it ends. */
@Component
@Transactional
public class Silences {

    private static final Duration KEPT = Duration.ofDays(90);
    private static final int LONGEST_MESSAGE = 600;

    /** A silence. @param what what was expected */
    public record Silence(
            long id,
            String job,
            String team,
            String what,
            Instant since,
            Instant toldAt,
            String message,
            String seenBy) {}

    private final SilenceStore store;
    private final Jobs jobs;
    private final Journal journal;
    private final Changes changes;
    private final Clock clock;

    Silences(SilenceStore store, Jobs jobs, Journal journal, Changes changes, Clock clock) {
        this.store = store;
        this.jobs = jobs;
        this.journal = journal;
        this.changes = changes;
        this.clock = clock;
    }

    /** All that is silent now. */
    @Transactional(readOnly = true)
    public List<Silence> now() {
        return store.findByEndedAtIsNullOrderById().stream().map(this::value).toList();
    }

    private Silence value(SilenceRecord record) {
        JobEntry job = jobs.withId(record.jobId());
        return new Silence(
                record.id(),
                job.name(),
                job.team(),
                record.what(),
                record.since(),
                record.toldAt(),
                record.message(),
                record.seenBy());
    }

    /** Notes that something has not come, once; says whether that is news. */
    public boolean begin(JobEntry job, String what, Instant since, String message) {
        if (store.findFirstByJobIdAndWhatAndEndedAtIsNull(job.id(), what).isPresent()) {
            return false;
        }
        String said = message.length() <= LONGEST_MESSAGE ? message : message.substring(0, LONGEST_MESSAGE);
        store.saveAndFlush(new SilenceRecord(job.id(), what, since, said, clock.instant()));
        tell(EventType.JOB_SILENT, job, what, since, said);
        return true;
    }

    /** Notes that it has come after all; says whether it was silent. */
    public boolean end(JobEntry job, String what, String message) {
        return store.findFirstByJobIdAndWhatAndEndedAtIsNull(job.id(), what)
                .map(record -> {
                    record.end(clock.instant());
                    tell(EventType.JOB_HEARD, job, what, record.since(), message);
                    return true;
                })
                .orElse(false);
    }

    /** Ends a silence of which nobody is told: nothing is expected any more. */
    void drop(long id) {
        store.findById(id).ifPresent(record -> record.end(clock.instant()));
    }

    private void tell(EventType type, JobEntry job, String what, Instant since, String message) {
        journal.write(
                type.type(),
                job.team(),
                Map.of("job", job.name(), "what", what, "since", since.toString(), "message", message));
    }

    /** Notes who sees to it, or that nobody does any more. */
    Silence seeTo(Caller caller, long id, boolean sees) {
        SilenceRecord record = store.findById(id)
                .filter(each -> each.endedAt().isEmpty())
                .orElseThrow(() -> Refusal.notFound("there is no silence " + id));
        record.seenTo(sees ? caller.name() : "");
        Silence value = value(record);
        changes.record(caller, sees ? "sees to" : "leaves", "silence", value.job(), value.team(), value.message());
        journal.write("gantrel.silence.changed", value.team(), Map.of("job", value.job()));
        return value;
    }

    void thin() {
        store.thin(clock.instant().minus(KEPT));
    }
}
