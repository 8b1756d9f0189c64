package org.gantrel.service.job;

import java.time.Clock;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.gantrel.core.access.Deed;
import org.gantrel.core.definition.Definition;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.job.Job;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.change.Changes;
import org.gantrel.service.event.Events;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.gantrel.service.web.Refusal;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The jobs and their revisions. */
@Component
@Transactional
public class Jobs {

    private record RevisionKey(long job, int revision) {}

    private final JobStore store;
    private final JobRevisionStore revisions;
    private final Owners owners;
    private final Teams teams;
    private final Changes changes;
    private final Events events;
    private final ApplicationEventPublisher followers;
    private final Clock clock;
    /** Revisions never change, so what was read once stays right. */
    private final Map<RevisionKey, Job> read = new ConcurrentHashMap<>();

    Jobs(
            JobStore store,
            JobRevisionStore revisions,
            Owners owners,
            Teams teams,
            Changes changes,
            Events events,
            ApplicationEventPublisher followers,
            Clock clock) {
        this.store = store;
        this.revisions = revisions;
        this.owners = owners;
        this.teams = teams;
        this.changes = changes;
        this.events = events;
        this.followers = followers;
        this.clock = clock;
    }

    /** The jobs in use of some teams, by name, whose name or purpose holds a text. */
    @Transactional(readOnly = true)
    List<JobRecord> search(Collection<Team> of, String text, String after, int limit) {
        String pattern = "%" + text.toLowerCase(Locale.ROOT).replaceAll("([!%_])", "!$1") + "%";
        return store.search(of, pattern, after, Limit.of(limit));
    }

    /** All jobs in use that a caller may see. */
    @Transactional(readOnly = true)
    public List<JobRecord> all(Caller caller) {
        return store.search(caller.among(teams.all(), Deed.SEE_JOBS), "%", "", Limit.unlimited());
    }

    /** All jobs in use. */
    @Transactional(readOnly = true)
    List<JobRecord> everything() {
        return store.search(teams.all(), "%", "", Limit.unlimited());
    }

    @Transactional(readOnly = true)
    public Optional<JobRecord> named(String name) {
        return store.named(name);
    }

    /** The record of a job that is known to be there. */
    @Transactional(readOnly = true)
    public JobRecord withId(long id) {
        return store.withId(id).orElseThrow();
    }

    /** The name of the team that owns a job; asked for with every change of a run, so it is kept. */
    public String teamOf(long id) {
        return owners.of(id);
    }

    /**
     * A job that a caller may see.
     *
     * @throws Refusal where there is none; it offers the nearest name
     */
    @Transactional(readOnly = true)
    public JobRecord visible(Caller caller, String name) {
        Optional<JobRecord> job = store.named(name)
                .filter(found -> caller.may(Deed.SEE_JOBS, found.team().name()));
        return job.orElseThrow(() -> Refusal.notFound("there is no job '" + brief(name) + "'"
                + Nearest.hint(name, store.names(caller.among(teams.all(), Deed.SEE_JOBS)))));
    }

    /** What a job does as of its latest revision. */
    @Transactional(readOnly = true)
    public Job current(JobRecord job) {
        return at(job, job.revision());
    }

    /** What a job did as of one of its revisions. */
    @Transactional(readOnly = true)
    public Job at(JobRecord job, int revision) {
        return at(job.id(), revision);
    }

    /** The same by the job's id. */
    @Transactional(readOnly = true)
    public Job at(long job, int revision) {
        return read.computeIfAbsent(
                new RevisionKey(job, revision),
                key -> DefinitionReader.readOne(text(withId(job), revision)).job());
    }

    /** The definition of a revision as it was written. */
    @Transactional(readOnly = true)
    public String text(JobRecord job, int revision) {
        return revision(job, revision).definition();
    }

    @Transactional(readOnly = true)
    JobRevision revision(JobRecord job, int revision) {
        return revisions
                .findByJobIdAndRevision(job.id(), revision)
                .orElseThrow(() -> Refusal.notFound("the job " + job.name() + " has no revision " + revision
                        + "; its latest is " + job.revision()));
    }

    @Transactional(readOnly = true)
    List<JobRevision> revisions(JobRecord job) {
        return revisions.findTop100ByJobIdOrderByRevisionDesc(job.id());
    }

    /** Makes a job, or gives it a new revision. The caller must be allowed to, and the definition must be right. */
    public JobRecord save(Caller caller, Definition definition) {
        Job job = definition.job();
        Team team = teams.named(job.team()).orElseThrow();
        caller.require(Deed.DEFINE_JOBS, team.name());
        Optional<JobRecord> known = store.named(job.name());
        known.ifPresent(record -> caller.require(Deed.DEFINE_JOBS, record.team().name()));
        JobRecord record = known.orElseGet(() -> new JobRecord(job.name()));
        record.revise(job, team);
        store.save(record);
        revisions.save(new JobRevision(record, definition.text(), caller.name(), clock.instant()));
        changes.record(
                caller,
                known.isPresent() ? "changed" : "created",
                "job",
                record.name(),
                team.name(),
                "revision " + record.revision());
        followers.publishEvent(new JobSaved(record, job));
        events.tell("job.changed", team.name(), Map.of("job", record.name(), "revision", record.revision()));
        return record;
    }

    /** Takes a job out of use: it is listed and started no more, and its history stays. */
    public void retire(Caller caller, JobRecord job) {
        caller.require(Deed.RETIRE_JOBS, job.team().name());
        JobRecord record = store.findById(job.id()).orElseThrow();
        record.retire();
        changes.record(caller, "retired", "job", record.name(), job.team().name(), "");
        followers.publishEvent(new JobRetired(record));
        events.tell("job.changed", job.team().name(), Map.of("job", record.name()));
    }

    private static String brief(String name) {
        return name.length() <= Job.LONGEST_NAME ? name : name.substring(0, Job.LONGEST_NAME) + "...";
    }
}
